#include "service/inbox.h"

#include <fcntl.h>
#include <poll.h>
#include <sys/inotify.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>

#include "base/error.h"
#include "job/digest.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;

// What programs that copy, upload or edit give to files they are not done with.
const char* const kTemporaryEndings[] = {".part",     ".partial",  ".tmp", ".temp", ".crdownload",
                                         ".filepart", ".download", ".swp", ".lock", "~"};
const char* const kPartWithNumber = ".part-";
// Not for reading, and nobody put them there to be read.
const char* const kOthers[] = {"Thumbs.db", "desktop.ini", "burnisher.toml"};

// Whether some program has the file open for writing. A lease for reading is refused then (Linux);
// where leases are not known, nobody can tell.
bool being_written(const std::string& path) {
  const int file = open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC);
  if (file < 0) return errno == EACCES ? false : true;
  const bool refused = fcntl(file, F_SETLEASE, F_RDLCK) != 0 && errno == EAGAIN;
  if (!refused) fcntl(file, F_SETLEASE, F_UNLCK);
  close(file);
  return refused;
}

std::string stamp_text(const std::string& path) {
  const job::FileStamp stamp = job::stamp_of(path);
  return std::to_string(stamp.size) + " " + std::to_string(stamp.modified);
}

std::vector<std::string> files_within(const std::string& folder) {
  std::vector<std::string> files;
  std::error_code status;
  for (fs::recursive_directory_iterator at(folder, status);
       !status && at != fs::recursive_directory_iterator(); at.increment(status)) {
    std::error_code broken;
    if (at->is_regular_file(broken)) files.push_back(at->path().string());
  }
  std::sort(files.begin(), files.end());
  return files;
}

}  // namespace

bool is_temporary_name(const std::string& name) {
  if (name.empty() || name.front() == '.' || name.rfind("~$", 0) == 0) return true;
  for (const char* ending : kTemporaryEndings) {
    const size_t length = std::strlen(ending);
    if (name.size() > length && name.compare(name.size() - length, length, ending) == 0)
      return true;
  }
  // As this program's own, until they are whole.
  const size_t part = name.rfind(kPartWithNumber);
  if (part != std::string::npos && part > 0 &&
      name.find_first_not_of("0123456789-", part + std::strlen(kPartWithNumber)) ==
          std::string::npos)
    return true;
  return std::any_of(std::begin(kOthers), std::end(kOthers),
                     [&](const char* other) { return name == other; });
}

Inbox::Inbox(const std::string& folder, double settle) : folder_(folder), settle_(settle) {
  std::error_code status;
  if (!fs::is_directory(folder, status)) throw InputError(folder + ": is no folder to watch");
  events_ = inotify_init1(IN_NONBLOCK | IN_CLOEXEC);
  if (events_ >= 0)
    inotify_add_watch(events_, folder.c_str(),
                      IN_CLOSE_WRITE | IN_MOVED_TO | IN_CREATE | IN_MODIFY | IN_DELETE);
}

Inbox::~Inbox() {
  if (events_ >= 0) close(events_);
}

void Inbox::take_events() {
  alignas(inotify_event) char buffer[16384];
  for (ssize_t got = 0; events_ >= 0 && (got = read(events_, buffer, sizeof buffer)) > 0;) {
    for (ssize_t at = 0; at < got;) {
      const auto* event = reinterpret_cast<const inotify_event*>(buffer + at);
      at += static_cast<ssize_t>(sizeof(inotify_event) + event->len);
      if (event->len == 0) continue;
      if ((event->mask & (IN_CLOSE_WRITE | IN_MOVED_TO)) != 0)
        closed_.insert(event->name);
      else
        closed_.erase(event->name);
    }
  }
}

void Inbox::wait(double seconds) {
  pollfd waiting{events_, POLLIN, 0};
  poll(&waiting, events_ >= 0 ? 1 : 0, static_cast<int>(1000 * seconds));
}

std::string Inbox::signature(const std::string& name) const {
  const std::string path = (fs::path(folder_) / name).string();
  std::error_code status;
  if (!fs::is_directory(path, status)) return stamp_text(path);
  std::string all;
  for (const std::string& file : files_within(path)) all += file + " " + stamp_text(file) + "\n";
  return job::digest_of(all);
}

std::vector<std::string> Inbox::complete() {
  take_events();
  std::vector<std::string> names;
  std::error_code status;
  for (fs::directory_iterator at(folder_, status); !status && at != fs::directory_iterator();
       at.increment(status))
    names.push_back(at->path().filename().string());
  if (status) throw InputError(folder_ + ": the folder cannot be read: " + status.message());
  std::sort(names.begin(), names.end());
  std::vector<std::string> ready;
  std::map<std::string, PageMaps> now;
  unsettled_ = 0;
  for (const std::string& name : names) {
    if (is_temporary_name(name)) continue;
    const std::string path = (fs::path(folder_) / name).string();
    const bool folder = fs::is_directory(path, status);
    const std::string signature = this->signature(name);
    const auto before = seen_.find(name);
    PageMaps& maps = now[name];
    maps = before != seen_.end() && before->second.signature == signature
               ? before->second
               : PageMaps{signature, Clock::now()};
    const bool settled =
        std::chrono::duration<double>(Clock::now() - maps.since).count() >= settle_;
    const std::vector<std::string> files =
        folder ? files_within(path) : std::vector<std::string>{path};
    // What is in a folder comes file by file: only quiet tells that it is all.
    const bool told = !folder && closed_.count(name) > 0;
    if ((settled || told) && !files.empty() &&
        std::none_of(files.begin(), files.end(), being_written))
      ready.push_back(name);
    else
      ++unsettled_;
  }
  seen_ = std::move(now);
  return ready;
}

}  // namespace burnisher::service
