#include "service/flow.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <thread>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "run/job_status.h"
#include "service/busy.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr size_t kMostAnswer = 256u << 20;  // bytes of a run's JSON
constexpr auto kPatience = std::chrono::milliseconds(200);
enum RunCode { kAllDone = 0, kSomeLeft = 1, kStopped = 130 };

const char* const kWorkFolder = "in-work";
const char* const kWaitingFolder = "waiting";
const char* const kFailedFolder = "failed";
const char* const kOriginalsFolder = "originals";

// Into its place in one step where both are on one file system; otherwise copied there under
// another name first.
void move(const std::string& from, const std::string& to) {
  std::error_code status;
  fs::create_directories(fs::path(to).parent_path(), status);
  fs::rename(from, to, status);
  if (!status) return;
  const std::string beside = to + ".part";
  fs::remove_all(beside, status);
  fs::copy(from, beside, fs::copy_options::recursive, status);
  if (!status) fs::rename(beside, to, status);
  if (status) throw OutputError(to + ": cannot be put there: " + status.message());
  fs::remove_all(from, status);
}

// A name that is free in the folder: NAME, NAME-2, ...
std::string free_path(const std::string& folder, const std::string& name) {
  const fs::path path = fs::path(folder) / name;
  std::error_code status;
  if (!fs::exists(path, status)) return path.string();
  for (int i = 2;; ++i) {
    const fs::path next = fs::path(folder) / (path.stem().string() + "-" + std::to_string(i) +
                                              path.extension().string());
    if (!fs::exists(next, status)) return next.string();
  }
}

// The documents that a batch became; those that wait stand in a folder of their own, and the whole
// batch waits with them.
void gather(const std::string& made, std::vector<std::string>& files) {
  std::error_code status;
  const fs::path waiting = fs::path(made) / kWaitingFolder;
  if (fs::exists(waiting, status)) {
    for (const auto& entry : fs::directory_iterator(waiting))
      fs::rename(entry.path(), fs::path(made) / entry.path().filename());
    fs::remove(waiting, status);
  }
  for (const auto& entry : fs::directory_iterator(made))
    if (entry.is_regular_file()) files.push_back(entry.path().filename().string());
  std::sort(files.begin(), files.end());
}

// What a program said, without its name before every line.
std::string said(const std::string& messages) {
  constexpr std::string_view kName = "burnisher: ";
  std::string text = messages;
  while (!text.empty() && text.back() == '\n') text.pop_back();
  for (size_t at = text.find(kName); at != std::string::npos; at = text.find(kName, at))
    text.erase(at, kName.size());
  return text;
}

}  // namespace

Flow::Flow(const FlowSettings& settings, const std::string& program,
           std::function<void(const Event&)> tell, std::function<bool()> cancelled)
    : settings_(settings),
      program_(program),
      tell_(std::move(tell)),
      cancelled_(std::move(cancelled)),
      desk_((fs::path(settings.out) / kWorkFolder).string()),
      inbox_(settings.in, settings.settle) {}

std::string Flow::place(const std::string& folder, const std::string& file) const {
  return (fs::path(settings_.out) / folder / file).string();
}

void Flow::tell(const DocumentRecord& record, const std::string& what, const std::string& why,
                int pages, double seconds) const {
  tell_({settings_.name, record.name, what, record.files, why, pages, seconds});
}

ProcessResult Flow::program(const std::vector<std::string>& arguments) const {
  std::vector<std::string> all = {program_};
  all.insert(all.end(), arguments.begin(), arguments.end());
  ProcessLimits limits;
  limits.most_output = kMostAnswer;
  limits.most_seconds = settings_.most_seconds;
  limits.cancelled = cancelled_;
  return run_process(all, limits);
}

int Flow::waiting() const {
  const auto records = desk_.records();
  return static_cast<int>(std::count_if(records.begin(), records.end(), [](const auto& one) {
    return one.stage == Stage::kWaiting;
  }));
}

// The stem, with a number where another document has it already.
std::string Flow::free_name(const std::string& source) const {
  const std::string stem =
      sound_utf8(fs::is_directory(source) ? fs::path(source).filename().string() : stem_of(source));
  for (int i = 1;; ++i) {
    const std::string name = i == 1 ? stem : stem + "-" + std::to_string(i);
    std::error_code status;
    const bool taken =
        desk_.record_of(name).has_value() ||
        std::any_of(settings_.kinds.begin(), settings_.kinds.end(), [&](const std::string& kind) {
          return fs::exists(place("", name + kind), status);
        });
    if (!taken) return name;
  }
}

int Flow::round() {
  int done = 0;
  for (const DocumentRecord& record : desk_.records()) {
    if (cancelled_()) return done;
    DocumentRecord one = record;
    if (one.stage == Stage::kWaiting) {
      try {
        done += look_for_decisions(one);
      } catch (const std::exception& cause) {
        // It waits on; the others are not to wait for it.
        tell(one, "cannot be delivered", cause.what());
      }
    } else if (one.stage == Stage::kWorking || one.stage == Stage::kDelivering ||
               (one.stage == Stage::kDone && settings_.originals != Originals::kKeep)) {
      go_on(one);
      ++done;
    }
  }
  for (const std::string& name : inbox_.complete()) {
    if (cancelled_()) return done;
    const std::string source = (fs::path(settings_.in) / name).string();
    std::error_code status;
    if (fs::equivalent(source, settings_.out, status)) continue;
    const std::string signature = inbox_.signature(name);
    if (desk_.knows(source, signature)) continue;
    DocumentRecord record;
    record.name = free_name(source);
    record.source = source;
    record.signature = signature;
    desk_.put(record);
    tell(record, "taken");
    go_on(record);
    ++done;
  }
  return done;
}

void Flow::go_on(DocumentRecord record) {
  try {
    if (record.stage == Stage::kWorking) read(record);
    if (record.stage == Stage::kDelivering) deliver(record);
    if (record.stage == Stage::kDone) put_original_away(record);
  } catch (const std::exception& cause) {
    fail(record, cause.what());
  }
}

void Flow::read(DocumentRecord& record) {
  std::error_code status;
  if (!fs::exists(record.source, status)) {
    be_gone(record);
    return;
  }
  // What a watch that was killed started may be at it still: it is left to end.
  if (run::at_work(desk_.job_of(record.name))) {
    std::this_thread::sleep_for(kPatience);
    return;
  }
  const std::string made = desk_.made_of(record.name);
  fs::create_directories(made);
  std::vector<std::string> arguments = {"run",    record.source, "--job", desk_.job_of(record.name),
                                        "--json", "--quiet"};
  record.files.clear();
  if (!settings_.splits)
    for (const std::string& kind : settings_.kinds) record.files.push_back(record.name + kind);
  const std::vector<std::string> where = targets(record);
  arguments.insert(arguments.end(), where.begin(), where.end());
  arguments.insert(arguments.end(), settings_.options.begin(), settings_.options.end());
  const ProcessResult result = program(arguments);
  if (result.exit_code == kStopped || found_busy(result) || cancelled_())
    return;  // goes on the next time
  const json report = json_or_discarded(result.output);
  if (result.exit_code > kSomeLeft && !fs::exists(record.source, status)) {
    be_gone(record);
    return;
  }
  if (result.exit_code > kSomeLeft || !report.is_object()) {
    std::string why = said(result.messages);
    if (why.empty())
      why = settings_.most_seconds > 0 && result.exit_code == 128 + 9
                ? "took longer than it may"
                : "the program ended with code " + std::to_string(result.exit_code);
    fail(record, why);
    return;
  }
  const auto pages = static_cast<int>(report.value("pages", json::array()).size());
  const double seconds = report.value("seconds", 0.0);
  if (settings_.splits) gather(made, record.files);
  std::string why;
  for (const auto& problem : report.value("problems", json::array()))
    why += (why.empty() ? "" : "; ") + problem.get<std::string>();
  for (const auto& page : report.value("pages", json::array()))
    if (page.value("failed", false) && !page["look"].empty())
      why += (why.empty() ? "" : "; ") + page["look"][0].get<std::string>();
  if (!report.value("waiting", json::array()).empty()) {
    for (const auto& page : report["pages"])
      for (const auto& reason : page.value("held", json::array()))
        why += (why.empty() ? "" : "; ") + reason.get<std::string>();
    record.why = why;
    set_waiting(record);
    tell(record, "waits for a person", why, pages, seconds);
    return;
  }
  record.why = why;
  record.stage = Stage::kDelivering;
  desk_.put(record);
  tell(record, "read", why, pages, seconds);
}

std::vector<std::string> Flow::targets(const DocumentRecord& record) const {
  const std::string made = desk_.made_of(record.name);
  if (settings_.splits) return {"--out-dir", made, "--to", settings_.kinds_named};
  std::vector<std::string> arguments;
  for (const std::string& file : record.files)
    arguments.insert(arguments.end(), {"--out", (fs::path(made) / file).string()});
  return arguments;
}

void Flow::set_waiting(DocumentRecord& record) {
  for (const std::string& file : record.files) {
    const std::string from = (fs::path(desk_.made_of(record.name)) / file).string();
    if (fs::exists(from)) move(from, place(kWaitingFolder, file));
  }
  program({"proof", desk_.job_of(record.name), "--out",
           place(kWaitingFolder, record.name + "-proof.html"), "--overwrite", "--quiet"});
  record.stage = Stage::kWaiting;
  desk_.put(record);
}

// NAME.tsv or NAME-decisions.tsv beside the proof sheet: the person is done.
bool Flow::look_for_decisions(DocumentRecord& record) {
  for (const char* ending : {".tsv", "-decisions.tsv"}) {
    const std::string path = place(kWaitingFolder, record.name + ending);
    std::error_code status;
    if (!fs::exists(path, status) || std::find(record.files.begin(), record.files.end(),
                                               record.name + ending) != record.files.end())
      continue;
    const std::string job = desk_.job_of(record.name);
    const ProcessResult amended = program({"amend", job, path, "--quiet"});
    if (amended.exit_code > kSomeLeft) {
      const std::string why = said(amended.messages);
      move(path, free_path(place("", kWaitingFolder), record.name + "-refused.txt"));
      tell(record, "decisions refused", why);
      continue;
    }
    // Delivered as it is now, whatever the rules that held it say.
    std::vector<std::string> arguments = {"run",     "--job",     job, "--json",
                                          "--quiet", "--hold-if", ""};
    const std::vector<std::string> where = targets(record);
    arguments.insert(arguments.end(), where.begin(), where.end());
    fs::create_directories(desk_.made_of(record.name));
    const ProcessResult made = program(arguments);
    if (made.exit_code == kStopped || found_busy(made) || cancelled_()) return false;
    if (made.exit_code > kSomeLeft) {
      tell(record, "cannot be delivered", said(made.messages));
      return false;
    }
    record.stage = Stage::kDelivering;
    record.why = said(amended.messages);
    desk_.put(record);
    tell(record, "decided", record.why);
    go_on(record);
    return true;
  }
  return false;
}

void Flow::deliver(DocumentRecord& record) {
  for (const std::string& file : record.files) {
    const std::string from = (fs::path(desk_.made_of(record.name)) / file).string();
    if (fs::exists(from)) move(from, free_path(place("", ""), file));
  }
  std::error_code status;
  for (const std::string& file : record.files) fs::remove(place(kWaitingFolder, file), status);
  for (const char* ending : {"-proof.html", ".tsv", "-decisions.tsv"})
    fs::remove(place(kWaitingFolder, record.name + ending), status);
  record.stage = Stage::kDone;
  desk_.put(record);
  tell(record, "delivered", record.why);
}

void Flow::put_original_away(DocumentRecord& record) {
  desk_.drop_job(record.name);
  if (settings_.originals == Originals::kKeep) return;
  std::error_code status;
  // One that was changed or replaced meanwhile is another document.
  const bool same = fs::exists(record.source, status) &&
                    inbox_.signature(fs::path(record.source).filename()) == record.signature;
  if (same && settings_.originals == Originals::kMove)
    move(record.source,
         free_path(place("", kOriginalsFolder), fs::path(record.source).filename().string()));
  if (same && settings_.originals == Originals::kDelete) fs::remove_all(record.source, status);
  desk_.forget(record.name);
}

// It was taken back, or it has another name now, under which it is taken: programs write under one
// that they change when all is there.
void Flow::be_gone(DocumentRecord& record) {
  tell(record, "gone", record.source + " went away before it was read");
  desk_.forget(record.name);
}

void Flow::fail(DocumentRecord& record, const std::string& why) {
  ++failed_;
  record.why = why;
  std::error_code status;
  try {
    const std::string folder = place("", kFailedFolder);
    std::string kept = record.source;
    if (settings_.originals != Originals::kKeep && fs::exists(record.source, status)) {
      kept = free_path(folder, fs::path(record.source).filename().string());
      move(record.source, kept);
      record.original_gone = true;
    }
    fs::create_directories(folder, status);
    write_file((fs::path(folder) / (record.name + ".txt")).string(),
               record.source + "\n" + why + "\n" +
                   (kept == record.source ? "" : "kept as " + kept + "\n"));
  } catch (const std::exception& cause) {
    record.why += "; and " + std::string(cause.what());
  }
  record.stage = Stage::kFailed;
  record.files.clear();
  desk_.drop_job(record.name);
  if (record.original_gone)
    desk_.forget(record.name);
  else
    desk_.put(record);
  tell(record, "failed", record.why);
}

}  // namespace burnisher::service
