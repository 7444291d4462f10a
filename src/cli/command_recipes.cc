#include <fmt/core.h>

#include "base/error.h"
#include "cli/commands.h"
#include "cli/recipes.h"

namespace burnisher::cli {
namespace {

int print_recipes(const std::string& name) {
  if (name.empty()) {
    for (const Recipe& recipe : built_in_recipes())
      fmt::print("{:<12} {}\n", recipe.name, recipe.about);
    return kAllDone;
  }
  for (const Recipe& recipe : built_in_recipes()) {
    if (recipe.name != name) continue;
    fmt::print("# {}: {}\n{}", recipe.name, recipe.about, recipe.text);
    return kAllDone;
  }
  throw SettingsError("there is no recipe " + name + " built in; `burnisher recipes` lists them");
}

}  // namespace

void add_recipes(CommandLine& line, Context&) {
  Command command =
      line.root().command("recipes", "lists the recipes that are built in, or prints one");
  auto name = std::make_shared<std::string>();
  command.option("name", *name, "the recipe to print; into a file, it is a start of your own");
  command.examples(
      "Example:\n  burnisher recipes fax > mine.toml && burnisher run box3.tif --recipe "
      "mine.toml --out box3.pdf");
  command.action([name] { return print_recipes(*name); });
}

}  // namespace burnisher::cli
