#include <fmt/core.h>

#include <cmath>
#include "base/json.h"

#include "cli/commands.h"
#include "run/job_status.h"

namespace burnisher::cli {
namespace {

constexpr size_t kMostShown = 20;  // pages of one list; --json has them all

nlohmann::json json_of(const run::JobStatus& s) {
  using nlohmann::json;
  json failed = json::array(), waiting = json::array(), look = json::array(),
       documents = json::array(), workers = json::array();
  for (const auto& one : s.failed) failed.push_back({{"scan", one.scan}, {"why", one.why}});
  for (const auto& one : s.waiting) waiting.push_back({{"page", one.page}, {"why", one.why}});
  for (const auto& one : s.look) look.push_back({{"page", one.page}, {"why", one.why}});
  for (const auto& one : s.documents)
    documents.push_back({{"file", one.file}, {"there", one.there}, {"as_written", one.as_written}});
  for (const auto& one : s.workers)
    workers.push_back({{"host", one.host},
                       {"pid", one.pid},
                       {"doing", one.doing},
                       {"since", one.since},
                       {"done", one.done}});
  return {{"scans", s.scans},
          {"read", s.read},
          {"failed", failed},
          {"pages", s.pages},
          {"delivered", s.delivered},
          {"blank", s.blank},
          {"by_person", s.by_person},
          {"waiting", waiting},
          {"look", look},
          {"words", s.words},
          {"suspects", s.suspects},
          {"decided", s.decided},
          {"documents", documents},
          {"workers", workers},
          {"scans_per_minute", s.scans_per_minute},
          {"minutes_left", s.minutes_left}};
}

template <typename List, typename Show>
void list(const char* heading, const List& items, const Show& show) {
  if (items.empty()) return;
  fmt::print("{}\n", heading);
  for (size_t i = 0; i < items.size() && i < kMostShown; ++i) fmt::print("  {}\n", show(items[i]));
  if (items.size() > kMostShown) fmt::print("  and {} more (--json)\n", items.size() - kMostShown);
}

std::string joined(const std::vector<std::string>& parts) {
  std::string text;
  for (const std::string& part : parts) text += (text.empty() ? "" : "; ") + part;
  return text;
}

void print(const run::JobStatus& s) {
  fmt::print("scans      {} of {} read{}\n", s.read, s.scans,
             s.failed.empty() ? "" : fmt::format(", {} failed", s.failed.size()));
  fmt::print("pages      {}, {} delivered, {} blank, {} changed by a person\n", s.pages,
             s.delivered, s.blank, s.by_person);
  fmt::print("words      {}, {} suspect, {} decided\n", s.words, s.suspects, s.decided);
  for (const auto& one : s.documents) {
    fmt::print("document   {}{}\n", one.file,
               !one.there        ? " (gone)"
               : !one.as_written ? " (changed by another)"
                                 : "");
  }
  for (const auto& one : s.workers)
    fmt::print("at work    {} on {} (process {}), {} scans done\n", one.doing, one.host, one.pid,
               one.done);
  if (s.scans_per_minute > 0)
    fmt::print("pace       {:.0f} scans a minute, about {:.0f} min left\n", s.scans_per_minute,
               std::ceil(s.minutes_left));
  list("failed", s.failed, [](const auto& one) { return one.scan + ": " + one.why; });
  list("waits for a person", s.waiting,
       [](const auto& one) { return one.page + ": " + joined(one.why); });
  list("worth a look", s.look, [](const auto& one) { return one.page + ": " + joined(one.why); });
}

}  // namespace

void add_status(CommandLine& line, Context&) {
  Command command = line.root().command("status", "where a job stands");
  struct Options {
    std::string folder;
    bool json = false;
  };
  auto o = std::make_shared<Options>();
  command.option("job", o->folder, "the job's folder").required().type_name("DIR");
  command.flag("--json", o->json, "all of it as JSON");
  command.examples("Example:\n  burnisher status box3.job");
  command.action([o] {
    const run::JobStatus status = run::status_of(o->folder);
    if (o->json)
      fmt::print("{}\n", json_text(json_of(status), 2));
    else
      print(status);
    return status.failed.empty() && status.waiting.empty() && status.read == status.scans
               ? kAllDone
               : kSomeLeft;
  });
}

}  // namespace burnisher::cli
