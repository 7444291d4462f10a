#include <fmt/core.h>

#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "cli/remedies.h"
#include "cli/run_options.h"
#include "report/barcodes_json.h"
#include "report/delivery_report.h"

namespace burnisher::cli {
namespace {

nlohmann::json changes_json(const std::vector<correct::Change>& changes) {
  nlohmann::json list = nlohmann::json::array();
  for (const correct::Change& c : changes)
    list.push_back({{"before", c.before}, {"after", c.after}, {"line", c.line}});
  return list;
}

nlohmann::json json_of(const run::RunReport& report) {
  nlohmann::json pages = nlohmann::json::array();
  for (const run::PageReport& p : report.pages) {
    pages.push_back({{"file", p.file},
                     {"page", p.number},
                     {"part", p.part},
                     {"failed", p.failed},
                     {"blank", p.blank},
                     {"unread", p.unread},
                     {"set_aside", p.set_aside},
                     {"languages", p.languages},
                     {"words", p.words},
                     {"suspects", p.suspects},
                     {"repairs", changes_json(p.changes)},
                     {"held", p.held},
                     {"confidence", p.confidence},
                     {"printed_number", p.printed_number},
                     {"dpi", p.dpi},
                     {"skew", p.skew},
                     {"perspective", p.perspective},
                     {"curl", p.curl},
                     {"turn", p.turn},
                     {"turn_confidence", p.turn_confidence},
                     {"seconds", p.seconds},
                     {"barcodes", report::barcodes_json(p.barcodes)},
                     {"notes", p.notes},
                     {"look", p.look}});
  }
  nlohmann::json problems = nlohmann::json::array();
  for (const Problem& problem : report.problems) problems.push_back(told(problem));
  return {{"pages", pages},
          {"written", report.written},
          {"up_to_date", report.up_to_date},
          {"waiting", report.waiting},
          {"problems", problems},
          {"cancelled", report.cancelled},
          {"source_bytes", run::source_bytes_of(report.pages)},
          {"seconds", report.seconds}};
}

void print_summary(const run::RunReport& report, Console& console) {
  int failed = 0, blank = 0, unread = 0, look = 0, suspects = 0, repairs = 0, marks = 0, marked = 0;
  for (const run::PageReport& p : report.pages) {
    failed += p.failed;
    blank += p.blank;
    unread += !p.unread.empty();
    marks += p.set_aside;
    marked += p.set_aside > 0;
    suspects += p.suspects;
    repairs += static_cast<int>(p.changes.size());
    look += !p.failed && !p.look.empty();
  }
  if (!report.pages.empty())
    console.say(fmt::format("{} {} in {:.1f} s{}{}{}", report.pages.size(),
                            report.pages.size() == 1 ? "page" : "pages", report.seconds,
                            (blank ? fmt::format(", {} blank", blank) : "") +
                                (unread ? fmt::format(", {} unread", unread) : ""),
                            look ? fmt::format(", {} to look at", look) : "",
                            failed ? fmt::format(", {} failed", failed) : ""));
  if (suspects + repairs > 0)
    console.say(fmt::format("{} suspect {}, {} mended", suspects, suspects == 1 ? "word" : "words",
                            repairs));
  std::set<std::string> missing;
  for (const run::PageReport& p : report.pages)
    missing.insert(p.without_dictionary.begin(), p.without_dictionary.end());
  for (const std::string& language : missing) console.say(missing_dictionary(language));
  if (marks > 0)
    console.say(fmt::format("{} {} set aside as no text on {} {}: --report shows them", marks,
                            marks == 1 ? "mark" : "marks", marked, marked == 1 ? "page" : "pages"));
  for (const std::string& path : report.written) console.say("written: " + path);
  for (const std::string& path : report.up_to_date) console.say("up to date: " + path);
  for (const std::string& path : report.waiting) console.point_out("waits for a person: " + path);
  for (const run::PageReport& p : report.pages) {
    for (const std::string& reason : p.held)
      console.point_out(fmt::format("held because of {}: {}", place_of(p), reason));
    for (const std::string& reason : p.look) {
      if (p.failed)
        console.warn(told({reason, p.failure}));
      else
        console.point_out(fmt::format("look at {}: {}", place_of(p), reason));
    }
  }
  for (const Problem& problem : report.problems) console.warn(told(problem));
}

// How a job is gone on with.
std::string go_on(const run::RunSettings& settings) {
  return settings.job_folder.empty() ? "with --job DIR the next run would go on from here"
                                     : "`burnisher run --job " + settings.job_folder + "` goes on";
}

int explain(RunOptions& options, Context& context) {
  if (options.settings.job_folder.empty())
    throw SettingsError("explain", "needs --job DIR: only a job knows what was done before");
  const run::RunTools tools = options.settle(context);
  for (const std::string& text : run::explain(options.settings, tools)) fmt::print("{}\n", text);
  return kAllDone;
}

int hand_over(RunOptions& options, Context& context) {
  const run::RunTools tools = options.settle(context);
  const std::string& job = options.settings.job_folder;
  if (job.empty()) throw SettingsError("on", "needs --job DIR, a folder that all machines see");
  run::prepare(options.settings, tools);
  const Submitted submitted = submit(job, options.slurm);
  context.console.say(
      fmt::format("submitted: {} workers ({}), delivery after them ({}); "
                  "`burnisher status {}` tells how it goes, {}/log what they say",
                  options.slurm.nodes, submitted.workers, submitted.delivery, job, job));
  return kAllDone;
}

int run_all(RunOptions& options, Context& context) {
  if (!options.on.empty()) return hand_over(options, context);
  if (options.explain) return explain(options, context);
  const run::RunTools tools = options.settle(context);
  run::RunSettings& s = options.settings;
  const run::RunReport report = run::run(s, tools, context.console);
  if (!options.delivery.report.empty())
    write_file(options.delivery.report, report::delivery_report(report), s.delivery.overwrite);
  print_summary(report, context.console);
  if (options.json) fmt::print("{}\n", json_text(json_of(report), 2));
  if (report.cancelled) {
    context.console.point_out("stopped; " + go_on(s));
    return kStopped;
  }
  if (report.nothing_done()) return kNothing;
  return report.all_well() ? kAllDone : kSomeLeft;
}

}  // namespace

void add_run(CommandLine& line, Context& context) {
  Command command = line.root().command("run", "scans in, finished documents out");
  auto options = std::make_shared<RunOptions>();
  options->add(command, context);
  command.examples(
      "Examples:\n"
      "  burnisher run box3.tif --out box3.pdf --out box3.txt\n"
      "  burnisher run letters/ --out-dir done --to pdf,text,alto --lang en,de\n"
      "  burnisher run letters/ --out letters.pdf --job letters.job\n"
      "  burnisher run --job letters.job            goes on, or does what changed");
  command.action([options, &context] { return run_all(*options, context); });
}

}  // namespace burnisher::cli
