#include "run/amend_layout.h"

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "job/job_file.h"
#include "job/record.h"
#include "page/as_stored.h"
#include "pagefile/page_xml.h"
#include "run/job_session.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

// How the scan was turned when it was read.
int turn_of(const std::string& folder, const std::string& scan) {
  try {
    const auto bytes = read_file((fs::path(folder) / "read" / (scan + ".json")).string());
    return job::read_record(std::string(bytes.begin(), bytes.end())).turn;
  } catch (const Error&) {
    return 0;
  }
}

// False: it was so before.
bool wish(const std::string& folder, const layout::PageMarks& marks, job::JobFile& file) {
  bool changed = false;
  if (marks.turn && *marks.turn % 360 != 0) {
    const std::string scan = scan_and_part(marks.page).first;
    job::PageWish& own = file.wishes[scan];
    // Said once: the turn is counted from how the page stood when the marks were made.
    if (!own.turn) {
      own.turn = ((turn_of(folder, scan) + *marks.turn) % 360 + 360) % 360;
      changed = true;
    }
  }
  if (marks.leave_out && *marks.leave_out != file.wishes[marks.page].leave_out) {
    file.wishes[marks.page].leave_out = *marks.leave_out;
    changed = true;
  }
  return changed;
}

}  // namespace

LayoutOutcome amend_layout(const std::string& folder, const std::vector<layout::PageMarks>& marks) {
  std::optional<job::JobFile> file = job::job_file_in(folder);
  if (!file) throw InputError(folder + ": is no job; `burnisher run INPUTS --job DIR` makes one");
  LayoutOutcome outcome;
  bool wishes = false;
  for (const layout::PageMarks& one : marks) {
    const std::string path = (fs::path(folder) / (one.page + ".xml")).string();
    std::error_code status;
    if (one.page.find('/') != std::string::npos || !fs::exists(path, status)) {
      outcome.problems.push_back(one.page + ": the job has no such page");
      continue;
    }
    bool changed = wish(folder, one, *file);
    wishes = wishes || changed;
    if (one.blocks) {
      PageXml page = read_page_xml_file(path);
      const std::string before = layout::layout_digest(page.page);
      Page after = page.page;
      layout::lay_over(*one.blocks, after);
      round_as_stored(after);
      if (layout::layout_digest(after) != before) {
        if (!one.seen.empty() && one.seen != before) {
          outcome.problems.push_back(one.page +
                                     ": its layout is another since the marks were made; left as "
                                     "it is");
          continue;
        }
        write_file(path, write_page_xml(after, page.image_name));
        changed = true;
      }
    }
    ++(changed ? outcome.applied : outcome.already);
  }
  for (auto it = file->wishes.begin(); it != file->wishes.end();)
    it = !it->second.turn && !it->second.leave_out ? file->wishes.erase(it) : std::next(it);
  if (wishes) write_file((fs::path(folder) / "job.json").string(), job::written_job(*file));
  return outcome;
}

}  // namespace burnisher::run
