// What a job knows of the documents that were made of it.

#include <algorithm>
#include <filesystem>

#include "base/files.h"
#include "run/job_session.h"
#include "run/left_behind.h"

namespace burnisher::run {

namespace fs = std::filesystem;

// Everything that the documents of this job are made of.
std::string JobSession::made_of(const std::string& scan) const {
  std::string all = delivery_ + decisions_digest_;
  for (const auto& [name, wish] : file_.wishes)
    if (wish.leave_out) all += name;
  for (const ScanTask& task : scans_.tasks) {
    if (!scan.empty() && task.document != scan) continue;
    all += scan_name_of(task);
    const ScanStanding standing = standing_of(task);
    if (!standing.record) continue;
    for (const job::PageRecord& page : standing.record->pages) {
      all += page.reading;
      if (!page.written.empty()) all += page.written.front();
    }
  }
  return job::digest_of(all);
}

bool JobSession::up_to_date(const std::vector<std::string>& documents,
                            const std::string& scan) const {
  for (const ScanTask& task : scans_.tasks) {
    if (!scan.empty() && task.document != scan) continue;
    const ScanStanding standing = standing_of(task);
    if (standing.standing == Standing::kUpToDate) continue;
    if (standing.standing != Standing::kPerson) return false;
    // What a person changed before is taken up; what was touched since is not.
    for (const job::PageRecord& page : standing.record->pages) {
      const job::FileStamp stamp = job::stamp_of(path_of(name_with_part(task, page.part) + ".xml"));
      if (!(stamp == page.stamp)) return false;
    }
  }
  const std::string made = made_of(scan);
  return std::all_of(documents.begin(), documents.end(), [&](const std::string& path) {
    const std::string file = relative_path(path, folder_);
    return std::any_of(file_.documents.begin(), file_.documents.end(), [&](const auto& one) {
      return one.file == file && one.made == made && one.stamp == job::stamp_of(path);
    });
  });
}

bool JobSession::wrote(const std::string& path) const {
  const std::string file = relative_path(path, folder_);
  return std::any_of(file_.documents.begin(), file_.documents.end(), [&](const auto& one) {
    return one.file == file && (!one.stamp.there() || one.stamp == job::stamp_of(path));
  });
}

job::MadeDocument& JobSession::note_document(const std::string& path, const job::FileStamp& stamp,
                                             const std::string& made) {
  const std::string file = relative_path(path, folder_);
  file_.documents.erase(std::remove_if(file_.documents.begin(), file_.documents.end(),
                                       [&](const auto& one) { return one.file == file; }),
                        file_.documents.end());
  file_.documents.push_back({file, stamp, made});
  return file_.documents.back();
}

void JobSession::sweep_beside(const std::string& document) const {
  const fs::path path = fs::absolute(document);
  sweep_left_behind(path.parent_path().string(), path.filename().string() + ".part-");
}

void JobSession::announce(const std::vector<std::string>& documents) {
  for (const std::string& path : documents) note_document(path, {}, "");
  write_job();
}

void JobSession::remember(const std::vector<DocumentSet::Written>& documents,
                          const std::string& scan, bool whole) {
  const std::string made = whole ? made_of(scan) : "";
  for (const DocumentSet::Written& one : documents)
    note_document(one.path, job::stamp_of(one.path), made).sheets = one.sheets;
  write_job();
}

}  // namespace burnisher::run
