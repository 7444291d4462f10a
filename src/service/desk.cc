#include "service/desk.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"

namespace burnisher::service {

NLOHMANN_JSON_SERIALIZE_ENUM(Stage, {{Stage::kWorking, "working"},
                                     {Stage::kDelivering, "delivering"},
                                     {Stage::kWaiting, "waiting"},
                                     {Stage::kDone, "done"},
                                     {Stage::kFailed, "failed"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE(DocumentRecord, name, source, signature, stage, files, why,
                                   original_gone)

namespace {

namespace fs = std::filesystem;
}  // namespace

Desk::Desk(const std::string& folder) : folder_(folder) {
  std::error_code status;
  fs::create_directories(folder, status);
  if (status) throw OutputError(folder + ": cannot be made: " + status.message());
  const std::string lock = (fs::path(folder) / ".lock").string();
  lock_ = open(lock.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  if (lock_ < 0) throw OutputError(lock + ": cannot be written");
  if (flock(lock_, LOCK_EX | LOCK_NB) != 0)
    throw SettingsError(folder + ": another `burnisher watch` is at work there");
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (entry.path().extension() != ".json") continue;
    try {
      held_.push_back(parse_json(read_file(entry.path().string())).get<DocumentRecord>());
    } catch (const std::exception&) {
      // Cut short before it was ever acted on: its source is taken again.
      fs::remove(entry.path(), status);
    }
  }
  std::sort(held_.begin(), held_.end(),
            [](const auto& a, const auto& b) { return a.name < b.name; });
}

Desk::~Desk() {
  if (lock_ >= 0) close(lock_);
}

std::vector<DocumentRecord> Desk::records() const {
  return held_;
}

std::optional<DocumentRecord> Desk::record_of(const std::string& name) const {
  for (const DocumentRecord& one : held_)
    if (one.name == name) return one;
  return std::nullopt;
}

bool Desk::knows(const std::string& source, const std::string& signature) const {
  return std::any_of(held_.begin(), held_.end(), [&](const DocumentRecord& one) {
    return one.source == source && one.signature == signature && !one.original_gone;
  });
}

void Desk::put(const DocumentRecord& record) {
  write_file(path_of(record.name), json_text(nlohmann::json(record), 1) + "\n");
  for (DocumentRecord& one : held_) {
    if (one.name != record.name) continue;
    one = record;
    return;
  }
  held_.push_back(record);
}

void Desk::forget(const std::string& name) {
  drop_job(name);
  std::error_code status;
  fs::remove(path_of(name), status);
  held_.erase(std::remove_if(held_.begin(), held_.end(),
                             [&](const DocumentRecord& one) { return one.name == name; }),
              held_.end());
}

void Desk::drop_job(const std::string& name) const {
  std::error_code status;
  fs::remove_all(job_of(name), status);
  fs::remove_all(made_of(name), status);
}

std::string Desk::job_of(const std::string& name) const {
  return (fs::path(folder_) / (name + ".job")).string();
}
std::string Desk::made_of(const std::string& name) const {
  return (fs::path(folder_) / (name + ".made")).string();
}
std::string Desk::path_of(const std::string& name) const {
  return (fs::path(folder_) / (name + ".json")).string();
}

}  // namespace burnisher::service
