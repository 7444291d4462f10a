#include <fmt/core.h>

#include "base/error.h"
#include "cli/commands.h"
#include "cli/recipes.h"
#include "cli/run_options.h"
#include "run/job_session.h"

namespace burnisher::cli {
namespace {

struct WorkOptions {
  std::string folder;
  int threads = 0;
};

// What the job was made with, as `run` would have it.
void take_options_of_job(const std::string& folder, RunOptions& options, Context& context) {
  CommandLine line("burnisher", "");
  Command command = line.root().command("run", "");
  options.add(command, context);
  context.arguments = {"run", "--job", folder};
  add_job(command, context.arguments);
  command.take({context.arguments.begin() + 1, context.arguments.end()});
}

int work(const WorkOptions& o, Context& context) {
  if (!job::job_file_in(o.folder))
    throw InputError(o.folder + ": is no job; `burnisher run INPUTS --job DIR` makes one");
  RunOptions options;
  take_options_of_job(o.folder, options, context);
  options.settings.threads = o.threads;
  const run::RunTools tools = options.settle(context);
  const run::RunReport report = run::work(options.settings, tools, context.console);
  context.console.say(fmt::format("{} {} read here in {:.0f} s", report.read,
                                  report.read == 1 ? "scan" : "scans", report.seconds));
  for (const Problem& problem : report.problems) context.console.warn(told(problem));
  if (report.cancelled) {
    context.console.point_out("stopped; others may go on, or `burnisher work " + o.folder +
                              "` does");
    return kStopped;
  }
  return report.problems.empty() ? kAllDone : kSomeLeft;
}

}  // namespace

void add_work(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "work", "read scans of a job beside others, here or on any machine that sees its folder");
  auto o = std::make_shared<WorkOptions>();
  command.option("job", o->folder, "the job's folder; all settings are those it was made with")
      .required()
      .type_name("DIR");
  command.option("--threads", o->threads, "scans worked on at the same time (default: all cores)")
      .between(1, 1024);
  add_quiet(command, context);
  command.examples(
      "Examples:\n"
      "  burnisher work /shared/box3.job             as often as there are machines\n"
      "  burnisher run --job /shared/box3.job        delivers when all is read");
  command.action([o, &context] { return work(*o, context); });
}

}  // namespace burnisher::cli
