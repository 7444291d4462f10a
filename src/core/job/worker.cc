#include "job/worker.h"

#include <fmt/core.h>
#include <sys/stat.h>
#include <unistd.h>

#include <chrono>
#include <ctime>
#include <filesystem>
#include <fstream>
#include <set>
#include <sstream>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "job/digest.h"

namespace burnisher::job {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr int kMostClaims = 1000;  // of one name, one after the other

std::string workers_folder(const std::string& folder) {
  return (fs::path(folder) / "workers").string();
}
std::string claims_folder(const std::string& folder) {
  return (fs::path(folder) / "claims").string();
}

std::string host_name() {
  char name[256] = {};
  gethostname(name, sizeof name - 1);
  return name;
}

// When the process began, in the kernel's ticks since it started; "" for one that is not there.
std::string start_of(long pid) {
  std::ifstream file("/proc/" + std::to_string(pid) + "/stat");
  std::string text;
  if (!std::getline(file, text)) return "";
  const size_t name_end = text.rfind(')');
  if (name_end == std::string::npos) return "";
  std::istringstream fields(text.substr(name_end + 2));
  std::string field;
  for (int i = 3; i <= 22 && fields >> field; ++i) {
  }
  return field;
}

std::string text_of(const WorkerState& state) {
  return json_text(json{{"host", state.host},
                        {"pid", state.pid},
                        {"started", state.started},
                        {"doing", state.doing},
                        {"since", state.since},
                        {"done", state.done},
                        {"total", state.total}}) +
         "\n";
}

std::optional<std::string> content_of(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  if (!file) return std::nullopt;
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

std::optional<WorkerState> worker_in(const std::string& path) {
  const auto text = content_of(path);
  if (!text) return std::nullopt;
  WorkerState state;
  state.name = stem_of(path);
  try {
    const json from = parse_json(*text);
    from.at("host").get_to(state.host);
    from.at("pid").get_to(state.pid);
    from.at("started").get_to(state.started);
    from.at("doing").get_to(state.doing);
    from.at("since").get_to(state.since);
    from.at("done").get_to(state.done);
    from.at("total").get_to(state.total);
  } catch (const json::exception&) {
    return std::nullopt;  // cut short by a power loss: whoever it was is gone
  }
  return state;
}

// The file system's own clock, which may differ from the machine's: that of a file written now.
int64_t now_in(const std::string& folder, const std::string& name) {
  const std::string path = (fs::path(folder) / (name + ".now")).string();
  { std::ofstream(path) << "."; }
  const FileStamp stamp = stamp_of(path);
  unlink(path.c_str());
  return stamp.there() ? stamp.modified : static_cast<int64_t>(std::time(nullptr)) * 1'000'000'000;
}

void judge(WorkerState& state, const std::string& path, int64_t now, double patience) {
  state.age = static_cast<double>(now - stamp_of(path).modified) / 1e9;
  state.alive = state.age < patience;
  if (state.host == host_name() && start_of(state.pid) != state.started) state.alive = false;
}

}  // namespace

std::vector<WorkerState> workers_of(const std::string& folder, double patience) {
  std::vector<WorkerState> workers;
  std::error_code status;
  // Looking must do without writing: the folder may be read-only for who looks.
  const auto now = static_cast<int64_t>(std::time(nullptr)) * 1'000'000'000;
  for (const auto& entry : fs::directory_iterator(workers_folder(folder), status)) {
    if (entry.path().extension() != ".json") continue;
    auto state = worker_in(entry.path().string());
    if (!state) continue;
    judge(*state, entry.path().string(), now, patience);
    workers.push_back(std::move(*state));
  }
  std::sort(workers.begin(), workers.end(),
            [](const auto& a, const auto& b) { return a.name < b.name; });
  return workers;
}

void sweep_workers(const std::string& folder, double patience) {
  std::error_code status;
  std::set<std::string> living;
  for (const WorkerState& worker : workers_of(folder, patience))
    if (worker.alive) living.insert(worker.name);
  std::vector<fs::path> gone;
  for (const auto& entry : fs::directory_iterator(workers_folder(folder), status)) {
    // NAME.json, or NAME.json.new and NAME.now of one that was about to write.
    const std::string file = entry.path().filename().string();
    if (living.count(file.substr(0, file.find('.'))) == 0) gone.push_back(entry.path());
  }
  for (const auto& entry : fs::directory_iterator(claims_folder(folder), status)) {
    const auto held = content_of(entry.path().string());
    if (held && living.count(*held) == 0) gone.push_back(entry.path());
  }
  for (const fs::path& path : gone) unlink(path.c_str());
}

Worker::Worker(std::string folder, std::string doing, double beat, double patience)
    : folder_(std::move(folder)), beat_(beat), patience_(patience) {
  std::error_code status;
  for (const std::string& path : {workers_folder(folder_), claims_folder(folder_)}) {
    fs::create_directories(path, status);
    if (status) throw OutputError(path + ": the folder cannot be made: " + status.message());
  }
  static std::atomic<int> count{0};
  state_.host = host_name();
  state_.pid = getpid();
  state_.started = start_of(state_.pid);
  state_.doing = std::move(doing);
  state_.since = std::time(nullptr);
  state_.name = fmt::format("{}-{}-{}-{}", state_.host, state_.pid, state_.started, count++);
  // A dot ends a worker's name in the names of files.
  std::replace(state_.name.begin(), state_.name.end(), '.', '_');
  write();
  heart_ = std::thread([this] {
    const auto pause = std::chrono::milliseconds(100);
    for (double waited = 0; !ending_; waited += 0.1) {
      if (waited >= beat_) {
        waited = 0;
        try {
          write();
        } catch (const Error&) {
          // A folder that is full or gone for a while: the next sign may come through.
        }
      }
      std::this_thread::sleep_for(pause);
    }
  });
}

Worker::~Worker() {
  ending_ = true;
  heart_.join();
  unlink((fs::path(workers_folder(folder_)) / (state_.name + ".json")).c_str());
}

void Worker::progress(long done, long total) {
  const std::lock_guard<std::mutex> lock(guard_);
  state_.done = done;
  state_.total = total;
}

void Worker::write() {
  std::string text;
  {
    const std::lock_guard<std::mutex> lock(guard_);
    text = text_of(state_);
  }
  const std::string path = (fs::path(workers_folder(folder_)) / (state_.name + ".json")).string();
  const std::string fresh = path + ".new";
  {
    std::ofstream file(fresh, std::ios::binary);
    file << text;
    file.close();
    if (!file) throw OutputError(path + ": cannot be written");
  }
  if (std::rename(fresh.c_str(), path.c_str()) != 0)
    throw OutputError(path + ": cannot be put in place");
}

bool Worker::gone(const std::string& worker) {
  const std::string path = (fs::path(workers_folder(folder_)) / (worker + ".json")).string();
  auto state = worker_in(path);
  if (!state) return true;
  judge(*state, path, now_in(workers_folder(folder_), state_.name), patience_);
  return !state->alive;
}

Worker::Claim::~Claim() {
  if (!path_.empty()) unlink(path_.c_str());
}

std::optional<Worker::Claim> Worker::claim(const std::string& name, std::string* holder) {
  const fs::path base = fs::path(claims_folder(folder_)) / name;
  int next = 0;
  for (; next < kMostClaims; ++next) {
    const auto held = content_of(fmt::format("{}.{}", base.string(), next));
    if (!held) break;
    if (*held == state_.name || !gone(*held)) {
      if (holder != nullptr) *holder = *held;
      return std::nullopt;
    }
  }
  const std::string path = fmt::format("{}.{}", base.string(), next),
                    mine = fmt::format("{}.{}.new", base.string(), state_.name);
  {
    std::ofstream file(mine, std::ios::binary);
    file << state_.name;
    file.close();
    if (!file) throw OutputError(mine + ": cannot be written");
  }
  const bool got = link(mine.c_str(), path.c_str()) == 0;
  unlink(mine.c_str());
  if (!got) {
    if (holder != nullptr) *holder = content_of(path).value_or("");
    return std::nullopt;
  }
  return Claim(path);
}

}  // namespace burnisher::job
