#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <thread>

#include "run/job_status.h"
#include "service/busy.h"
#include "service/http_text.h"
#include "service/service_state.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;
using nlohmann::ordered_json;

constexpr size_t kMostAnswer = 64u << 20;  // bytes of a child's JSON
constexpr int kSomeLeft = 1;               // exit code: pages failed, or wait for a person

bool says(const std::vector<std::string>& arguments, const std::string& option) {
  return std::any_of(arguments.begin(), arguments.end(),
                     [&](const std::string& one) { return one.rfind(option + "=", 0) == 0; });
}

// "page 2 of a.tif: why", with the name that the file came under.
std::string of_page(const StoredDocument& one, const ordered_json& page, const ordered_json& why,
                    const std::string& folder) {
  std::string name = fs::path(page.value("file", "")).filename().string();
  const auto found = std::find(one.files.begin(), one.files.end(), name);
  if (found != one.files.end()) name = one.names[static_cast<size_t>(found - one.files.begin())];
  return fmt::format("page {} of {}: {}", page.value("page", 1), name,
                     as_seen_outside(why.get<std::string>(), folder));
}

}  // namespace

ProcessResult Service::State::program(std::vector<std::string> arguments, double seconds,
                                      const std::function<bool()>& cancelled) const {
  arguments.insert(arguments.begin(), settings.program);
  ProcessLimits limits;
  limits.most_output = kMostAnswer;
  limits.most_seconds = seconds;
  limits.cancelled = cancelled;
  return run_process(arguments, limits);
}

void Service::State::work() {
  while (const auto next = store.next([this] { return closing.load(); })) {
    StoredDocument one = *next;
    try {
      read(one);
    } catch (const std::exception& cause) {
      one.state = DocumentState::kFailed;
      one.why = as_seen_outside(cause.what(), store.folder_of(one.id));
    }
    store.sweep(one.id);
    if (one.state == DocumentState::kWorking) continue;  // taken away, or the service ends
    store.put(one);
    tell(fmt::format("{} {}, {} {} in {:.1f} s{}{}", one.id, name_of(one.state), one.pages,
                     one.pages == 1 ? "page" : "pages", one.seconds, one.why.empty() ? "" : ": ",
                     one.why));
  }
}

void Service::State::read(StoredDocument& one) {
  const std::string folder = store.folder_of(one.id), made = made_of(one.id);
  // What a service that was killed started may be at it still: it is left to end.
  while (!closing && run::at_work(job_of(one.id))) std::this_thread::sleep_for(kLook);
  fs::create_directories(made);
  std::vector<std::string> arguments = {"run"};
  for (const std::string& file : one.files) arguments.push_back(folder + "/in/" + file);
  arguments.insert(arguments.end(),
                   {"--job", job_of(one.id), "--out", made + "/result.pdf", "--json", "--quiet",
                    fmt::format("--max-pixels={:.0f}", kMegapixel * settings.most_pixels)});
  if (settings.threads > 0) arguments.push_back("--threads=" + std::to_string(settings.threads));
  arguments.insert(arguments.end(), settings.models.begin(), settings.models.end());
  arguments.insert(arguments.end(), one.settings.begin(), one.settings.end());
  if (!settings.hold_if.empty() && !says(one.settings, "--hold-if"))
    arguments.push_back("--hold-if=" + settings.hold_if);
  const auto cancelled = [&] { return closing.load() || store.gone(one.id); };
  ProcessResult result = program(arguments, settings.most_seconds, cancelled);
  while (found_busy(result) && !cancelled()) {
    std::this_thread::sleep_for(kLook);
    result = program(arguments, settings.most_seconds, cancelled);
  }
  if (closing || store.gone(one.id)) return;  // goes on at the next start, or is gone
  const auto report = ordered_json_or_discarded(result.output);
  ++counters.documents;
  if (result.exit_code > kSomeLeft || !report.is_object()) {
    ++counters.failed;
    one.state = DocumentState::kFailed;
    one.why = as_seen_outside(result.messages, folder);
    if (result.exit_code == 128 + 9)
      one.why = fmt::format("took longer than {:.0f} s", settings.most_seconds);
    return;
  }
  one.seconds = report.value("seconds", 0.0);
  one.pages = static_cast<int>(report["pages"].size());
  counters.pages += one.pages;
  counters.milliseconds += static_cast<long>(1000 * one.seconds);
  for (const auto& problem : report["problems"])
    one.problems.push_back(as_seen_outside(problem.get<std::string>(), folder));
  for (const auto& page : report["pages"]) {
    for (const auto& reason : page["look"]) one.look.push_back(of_page(one, page, reason, folder));
    for (const auto& reason : page["held"]) one.held.push_back(of_page(one, page, reason, folder));
  }
  one.state = one.held.empty() ? DocumentState::kDone : DocumentState::kHeld;
}

}  // namespace burnisher::service
