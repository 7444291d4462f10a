#include "run/job_status.h"

#include <algorithm>
#include <ctime>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "correct/decisions.h"
#include "job/record.h"
#include "page/page.h"
#include "run/job_session.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

constexpr double kPatience = 60;  // seconds, as Worker has it
constexpr double kMinute = 60;    // seconds

void add(const std::string& folder, const std::string& name, const job::ScanRecord& record,
         JobStatus& status) {
  if (!record.failure.empty()) {
    status.failed.push_back({name, record.failure});
    return;
  }
  ++status.read;
  for (const job::PageRecord& page : record.pages) {
    const std::string page_name = name + side_suffix(page.part);
    std::error_code code;
    ++status.pages;
    status.delivered += fs::exists(fs::path(folder) / (page_name + ".xml"), code);
    status.blank += page.blank;
    status.by_person += page.person;
    status.words += page.words;
    status.suspects += page.suspects;
    if (!page.held.empty()) status.waiting.push_back({page_name, page.held});
    if (!page.look.empty()) status.look.push_back({page_name, page.look});
  }
}

void add_pace(JobStatus& status) {
  const auto now = static_cast<double>(std::time(nullptr));
  for (const job::WorkerState& worker : status.workers) {
    const double minutes = (now - static_cast<double>(worker.since)) / kMinute;
    if (minutes > 0) status.scans_per_minute += static_cast<double>(worker.done) / minutes;
  }
  long left = status.scans - status.read - static_cast<long>(status.failed.size());
  // A run may do again what was read before.
  for (const job::WorkerState& worker : status.workers)
    if (worker.doing == "run") left = std::max(left, worker.total - worker.done);
  if (status.scans_per_minute > 0)
    status.minutes_left = static_cast<double>(left) / status.scans_per_minute;
}

}  // namespace

JobStatus status_of(const std::string& folder) {
  const auto file = job::job_file_in(folder);
  if (!file) throw InputError(folder + ": is no job; `burnisher run INPUTS --job DIR` makes one");
  JobStatus status;
  status.scans = static_cast<int>(file->order.size());
  for (const std::string& name : file->order) {
    const std::string path = (fs::path(folder) / "read" / (name + ".json")).string();
    std::error_code code;
    if (!fs::exists(path, code)) continue;
    try {
      const auto bytes = read_file(path);
      add(folder, name, job::read_record(std::string(bytes.begin(), bytes.end())), status);
    } catch (const Error&) {
      // Half written: it counts as not read, as it does for a run.
    }
  }
  for (const job::MadeDocument& document : file->documents) {
    const job::FileStamp stamp = job::stamp_of((fs::path(folder) / document.file).string());
    status.documents.push_back({document.file, stamp.there(), stamp == document.stamp});
  }
  const std::string decisions = (fs::path(folder) / "decisions.tsv").string();
  std::error_code code;
  if (fs::exists(decisions, code)) {
    for (const correct::Decision& one : correct::read_decisions(decisions))
      status.decided += one.verdict != correct::Verdict::kOpen;
  }
  for (const job::WorkerState& worker : job::workers_of(folder, kPatience))
    if (worker.alive) status.workers.push_back(worker);
  add_pace(status);
  return status;
}

bool at_work(const std::string& folder) {
  try {
    return !status_of(folder).workers.empty();
  } catch (const Error&) {
    return false;
  }
}

}  // namespace burnisher::run
