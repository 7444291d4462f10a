#include <fmt/core.h>
#ifdef __GLIBC__
#include <malloc.h>
#endif

#include <cstdio>
#include <cstdlib>

#include "base/error.h"
#include "cli/commands.h"
#include "cli/recipes.h"
#include "cli/remedies.h"

using namespace burnisher;

namespace {

int exit_code_of(const Error& error) {
  return error.kind() == ErrorKind::kSettings ? cli::kUsage : cli::kNothing;
}

// Pictures go straight back to the system when they are done with. Left to itself the allocator
// soon keeps them in its heaps, whose holes add up over many pages: 557 MB instead of 485 on two
// threads and 29 newspapers and tables.
void return_large_memory() {
#ifdef __GLIBC__
  constexpr int kLarge = 1 << 20;  // bytes
  mallopt(M_MMAP_THRESHOLD, kLarge);
  mallopt(M_TRIM_THRESHOLD, kLarge);
#endif
}

// Ends the program at once: taking dictionaries and models apart piece by piece would take longer
// than reading a line of text does.
[[noreturn]] void leave(int code) {
  std::fflush(stdout);
  std::fflush(stderr);
  std::_Exit(code);
}

}  // namespace

int main(int argc, char** argv) {
  return_large_memory();
  cli::catch_interruptions();
  cli::CommandLine line("burnisher", "Burnisher turns scanned pages into searchable documents.");
  line.root().needs_command();
  line.version("burnisher " BURNISHER_VERSION);
  line.foot("`burnisher COMMAND --help` tells more about a command and gives an example.");
  cli::Context context;
  for (const auto& add :
       {cli::add_run,     cli::add_survey,    cli::add_clean,        cli::add_segment,
        cli::add_stencil, cli::add_recognise, cli::add_correct,      cli::add_proof,
        cli::add_amend,   cli::add_lexicon,   cli::add_export,       cli::add_check,
        cli::add_score,   cli::add_train,     cli::add_models,       cli::add_recipes,
        cli::add_work,    cli::add_status,    cli::add_layout_sheet, cli::add_find,
        cli::add_index,   cli::add_watch,     cli::add_sheet,        cli::add_serve,
        cli::add_teach})
    add(line, context);
  try {
    std::vector<std::string> remarks;
    context.arguments =
        cli::with_recipe(line, std::vector<std::string>(argv + 1, argv + argc), remarks);
    switch (line.parse(context.arguments)) {
      case cli::CommandLine::Outcome::kAnswered:
        return cli::kAllDone;
      case cli::CommandLine::Outcome::kWrong:
        return cli::kUsage;
      case cli::CommandLine::Outcome::kRun:
        break;
    }
    for (const std::string& remark : remarks) context.console.say(remark);
  } catch (const Error& cause) {
    context.console.warn(cli::told(cause));
    return cli::kUsage;
  }
  try {
    leave(line.chosen()());
  } catch (const Error& cause) {
    context.console.warn(cli::told(cause));
    return exit_code_of(cause);
  } catch (const std::exception& cause) {
    context.console.warn(fmt::format("stopped by an unexpected error: {}", cause.what()));
    return cli::kNothing;
  }
}
