#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <mutex>
#include <sstream>
#include <thread>
#include "base/json.h"

#include "base/clock.h"
#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "cli/commands.h"
#include "cli/given_options.h"
#include "cli/run_options.h"
#include "cli/settings_file.h"
#include "service/flow.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

constexpr double kPause = 1;  // seconds between two looks where nothing happens

struct WatchOptions {
  RunOptions run;  // described, so that they are checked and told by --help
  std::vector<std::string> inputs;
  std::string originals = "keep";
  double settle = 3, time_limit = 0;
  bool once = false, log_json = false;
};

// What a flow is made of, by option name.
struct Described {
  std::string name, in;
  Given given;
  std::string place;  // in messages
};

std::string taken(Given& given, const std::string& key, const std::string& otherwise) {
  const std::vector<std::string>* found = given.find(key);
  const std::string value = found == nullptr ? otherwise : found->back();
  given.options.erase(std::remove_if(given.options.begin(), given.options.end(),
                                     [&](const auto& one) { return one.first == key; }),
                      given.options.end());
  return value;
}

double seconds_in(const std::string& place, const std::string& key, const std::string& value) {
  const auto number = number_in(value);
  if (!number || *number < 0)
    throw SettingsError(
        fmt::format("{}: {} is a number of seconds, not \"{}\"", place, key, value));
  return *number;
}

service::Originals originals_named(const std::string& place, const std::string& name) {
  if (name == "keep") return service::Originals::kKeep;
  if (name == "move") return service::Originals::kMove;
  if (name == "delete") return service::Originals::kDelete;
  throw SettingsError(
      place + ": originals are kept, moved or deleted: keep, move or delete, not \"" + name + "\"");
}

service::FlowSettings settings_of(const Command& command, Described flow, int threads) {
  service::FlowSettings s;
  s.name = flow.name;
  if (flow.in.empty()) throw SettingsError(flow.place + ": says no folder to watch (in = ...)");
  s.in = fs::absolute(flow.in).lexically_normal().string();
  const std::string out = taken(flow.given, "out-dir", "");
  if (out.empty()) throw SettingsError(flow.place + ": says no place of delivery (out-dir)");
  s.out = fs::absolute(out).lexically_normal().string();
  s.kinds_named = taken(flow.given, "to", "pdf");
  s.splits = flow.given.find("split-at") != nullptr;
  for (const std::string& kind : split(s.kinds_named))
    s.kinds.push_back(run::ending_of(run::output_kind_named(kind)));
  s.originals = originals_named(flow.place, taken(flow.given, "originals", "keep"));
  s.settle = seconds_in(flow.place, "settle", taken(flow.given, "settle", "3"));
  s.most_seconds = seconds_in(flow.place, "time-limit", taken(flow.given, "time-limit", "0"));
  for (const char* key : {"once", "log-json"}) taken(flow.given, key, "");
  taken(flow.given, "quiet", "");
  if (flow.given.find("report") != nullptr)
    throw SettingsError(flow.place +
                        ": there is no report of a watched folder; the log says it all");
  if (flow.given.find("threads") == nullptr)
    flow.given.options.push_back({"threads", {std::to_string(threads)}});
  s.options = as_arguments(command, flow.given);
  return s;
}

// The flows of a file: sections with `in` and options of this command.
std::vector<Described> flows_in(const Command& command, const std::string& path) {
  const auto bytes = read_file(path);
  std::vector<Described> flows;
  for (const Section& section : sections_in(path, std::string(bytes.begin(), bytes.end()))) {
    Described flow{section.name, "", {}, path + ", [" + section.name + "]"};
    for (const Setting& one : section.settings) {
      if (one.key == "in") {
        flow.in = one.value;
        continue;
      }
      if (!command.has_option(one.key)) {
        const std::string instead = nearest(one.key, command.option_names());
        throw SettingsError(
            fmt::format("{}, line {}: there is no setting \"{}\"{}", path, one.line, one.key,
                        instead.empty() ? "" : "; the nearest is \"" + instead + "\""));
      }
      if (command.is_flag(one.key) && one.value == "false") continue;
      auto found = std::find_if(flow.given.options.begin(), flow.given.options.end(),
                                [&](const auto& have) { return have.first == one.key; });
      if (found == flow.given.options.end())
        flow.given.options.push_back({one.key, {one.value}});
      else
        found->second.push_back(one.value);
    }
    // Paths are meant as seen from the file.
    const std::string folder = fs::absolute(path).parent_path().string();
    flow.given = to_here(command, std::move(flow.given), folder);
    if (!flow.in.empty() && flow.in.front() != '/') flow.in = (fs::path(folder) / flow.in).string();
    flows.push_back(std::move(flow));
  }
  if (flows.empty()) throw SettingsError(path + ": no flow in it; one begins with [name]");
  return flows;
}

class Log {
 public:
  Log(bool json, bool named, Console& console) : json_(json), named_(named), console_(console) {}
  void operator()(const service::Event& event) {
    const std::lock_guard<std::mutex> lock(guard_);
    if (json_) {
      const nlohmann::ordered_json line = {
          {"time", utc_now()},    {"flow", event.flow},      {"document", event.document},
          {"event", event.what},  {"files", event.files},    {"why", event.why},
          {"pages", event.pages}, {"seconds", event.seconds}};
      fmt::print("{}\n", json_text(line));
      std::fflush(stdout);
      return;
    }
    std::string text = (named_ ? event.flow + ": " : "") + event.document + ": " + event.what;
    if (event.pages > 0)
      text += fmt::format(", {} {} in {:.1f} s", event.pages, event.pages == 1 ? "page" : "pages",
                          event.seconds);
    if (event.what == "delivered" || event.what == "decided")
      for (const std::string& file : event.files) text += " " + file;
    if (!event.why.empty()) text += ": " + event.why;
    if (event.what == "failed")
      console_.warn(text);
    else
      console_.say(text);
  }

 private:
  std::mutex guard_;
  bool json_, named_;
  Console& console_;
};

// Until it is told to end; with `once`, until nothing is left to do.
void go_round(service::Flow& flow, bool once, Console& console) {
  while (!console.cancelled()) {
    const int done = flow.round();
    if (once && done == 0 && !flow.unsettled()) return;
    if (done == 0) flow.wait(kPause);
  }
}

int watch(const WatchOptions& o, const Command& command, Context& context) {
  const std::vector<std::string> behind(context.arguments.begin() + 1, context.arguments.end());
  Given given = given_in(command, behind);
  if (given.inputs.size() != 1)
    throw SettingsError("name one folder to watch, or one file of flows");
  const std::string input = given.inputs.front();
  given.inputs.clear();
  std::vector<Described> described;
  const bool many = !fs::is_directory(input);
  if (many)
    described = flows_in(command, input);
  else
    described.push_back({"watch", input, std::move(given), "watch"});
  const int cores = static_cast<int>(std::max(1u, std::thread::hardware_concurrency()));
  const int share = std::max(1, cores / static_cast<int>(described.size()));
  Log log(o.log_json, many, context.console);
  const std::string program = fs::read_symlink("/proc/self/exe").string();
  std::vector<std::unique_ptr<service::Flow>> flows;
  for (const Described& one : described)
    flows.push_back(std::make_unique<service::Flow>(
        settings_of(command, one, share), program, [&](const service::Event& e) { log(e); },
        [&] { return context.console.cancelled(); }));
  std::vector<std::thread> threads;
  std::vector<std::string> stopped(flows.size());
  for (size_t i = 0; i < flows.size(); ++i)
    threads.emplace_back([&, i] {
      try {
        go_round(*flows[i], o.once, context.console);
      } catch (const std::exception& cause) {
        stopped[i] = cause.what();
        log({described[i].name, "", "stopped", {}, cause.what(), 0, 0});
      }
    });
  for (std::thread& thread : threads) thread.join();
  int left = 0;
  for (size_t i = 0; i < flows.size(); ++i)
    left += flows[i]->failed() + flows[i]->waiting() + !stopped[i].empty();
  return left > 0 ? kSomeLeft : kAllDone;
}

}  // namespace

void add_watch(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "watch", "folders that are watched: what is dropped in is read and delivered");
  auto o = std::make_shared<WatchOptions>();
  command.option("input", o->inputs, "one folder to watch, or one file of flows");
  o->run.add_unattended(command, context);
  command
      .option("--originals", o->originals,
              "what becomes of files that were delivered: keep (where they are), move (into "
              "originals/ of the place of delivery), delete")
      .one_of({"keep", "move", "delete"})
      .default_shown();
  command
      .option("--settle", o->settle,
              "seconds for which a file must stay as it is before it is taken, where nothing tells "
              "that it is complete")
      .between(0, 86400)
      .default_shown();
  command.option("--time-limit", o->time_limit, "seconds that one document may take (0: any)")
      .between(0, 1e7)
      .default_shown();
  command.flag("--once", o->once, "do what is there, then end");
  command.flag("--log-json", o->log_json, "say what happens as one JSON object a line, on stdout");
  command.group("Watching", {"--originals", "--settle", "--time-limit", "--once", "--log-json"});
  command.examples(
      "Examples:\n  burnisher watch in/ --out-dir done --to pdf,text --hold-if 'suspects>5%'\n"
      "  burnisher watch flows.toml\n"
      "A file of flows has a section for each:\n"
      "  [letters]\n  in = \"letters\"\n  out-dir = \"done/letters\"\n  to = \"pdf,text\"\n"
      "  recipe = \"typewriter\"\n  originals = \"move\"\n"
      "Every option of `run` that concerns reading and delivery may stand there.");
  command.action([o, command, &context] { return watch(*o, command, context); });
}

}  // namespace burnisher::cli
