#include <fmt/core.h>

#include <algorithm>

#include "base/error.h"
#include "cli/commands.h"
#include "cli/recipes.h"

using namespace burnisher;

namespace {

int exit_code_of(const Error& error) {
  return error.kind() == ErrorKind::kSettings ? cli::kUsage : cli::kNothing;
}

}  // namespace

int main(int argc, char** argv) {
  CLI::App app("Burnisher turns scanned pages into searchable documents.");
  app.name("burnisher");
  app.require_subcommand(1);
  app.set_version_flag("--version", "burnisher " BURNISHER_VERSION);
  app.footer("`burnisher COMMAND --help` tells more about a command and gives an example.");
  cli::Context context;
  cli::add_run(app, context);
  cli::add_survey(app, context);
  cli::add_clean(app, context);
  cli::add_segment(app, context);
  cli::add_stencil(app, context);
  cli::add_recognise(app, context);
  cli::add_correct(app, context);
  cli::add_proof(app, context);
  cli::add_amend(app, context);
  cli::add_lexicon(app, context);
  cli::add_export(app, context);
  cli::add_check(app, context);
  cli::add_score(app, context);
  cli::add_train(app, context);
  cli::add_recipes(app, context);
  try {
    std::vector<std::string> arguments =
        cli::with_recipe(app, std::vector<std::string>(argv + 1, argv + argc));
    std::reverse(arguments.begin(), arguments.end());  // as the parser wants them
    app.parse(arguments);
  } catch (const CLI::ParseError& wrong) {
    const bool asked = wrong.get_exit_code() == 0;  // --help, --version
    app.exit(wrong);
    return asked ? cli::kAllDone : cli::kUsage;
  } catch (const Error& cause) {
    context.console.warn(cause.what());
    return cli::kUsage;
  }
  try {
    return context.action();
  } catch (const Error& cause) {
    context.console.warn(cause.what());
    return exit_code_of(cause);
  } catch (const std::exception& cause) {
    context.console.warn(fmt::format("stopped by an unexpected error: {}", cause.what()));
    return cli::kNothing;
  }
}
