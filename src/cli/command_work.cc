#include <fmt/core.h>

#include <algorithm>

#include "base/error.h"
#include "cli/commands.h"
#include "cli/given_options.h"
#include "cli/run_options.h"
#include "run/job_session.h"

namespace burnisher::cli {
namespace {

int work(RunOptions& options, Context& context) {
  if (options.settings.job_folder.empty()) throw SettingsError("say which job: burnisher work DIR");
  if (!run::job_file_in(options.settings.job_folder))
    throw InputError(options.settings.job_folder +
                     ": is no job; `burnisher run INPUTS --job DIR` makes one");
  const run::RunTools tools = options.settle(context);
  const run::RunReport report = run::work(options.settings, tools, context.console);
  context.console.say(fmt::format("{} {} read here in {:.0f} s", report.read,
                                  report.read == 1 ? "scan" : "scans", report.seconds));
  for (const Problem& problem : report.problems) context.console.warn(told(problem));
  if (report.cancelled) {
    context.console.point_out("stopped; others may go on, or `burnisher work " +
                              options.settings.job_folder + "` does");
    return kStopped;
  }
  return report.problems.empty() ? kAllDone : kSomeLeft;
}

}  // namespace

std::vector<std::string> as_run(const CommandLine& line, std::vector<std::string> arguments) {
  if (arguments.size() < 2 || arguments[0] != "work") return arguments;
  const Given given = given_in(*line.named("work"), {arguments.begin() + 1, arguments.end()});
  if (given.inputs.empty() || given.find("job") != nullptr) return arguments;
  const auto folder = std::find(arguments.begin() + 1, arguments.end(), given.inputs.front());
  arguments.insert(folder, "--job");
  return arguments;
}

void add_work(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "work", "read scans of a job beside others, here or on any machine that sees its folder");
  auto options = std::make_shared<RunOptions>();
  options->add(command, context);
  command.examples(
      "Examples:\n"
      "  burnisher work /shared/box3.job             as often as there are machines\n"
      "  burnisher run --job /shared/box3.job        delivers when all is read");
  command.action([options, &context] { return work(*options, context); });
}

}  // namespace burnisher::cli
