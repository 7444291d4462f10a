// Recipes: named settings in a file, a subset of TOML: lines `key = value`, comments after #. A key
// is the long name of an option. Some recipes are built in.
#pragma once

#include <string>
#include <vector>

#include "cli/command_line.h"

namespace burnisher::cli {

struct Recipe {
  std::string name;
  std::string about;  // one line
  std::string text;   // as it would stand in a file
};

const std::vector<Recipe>& built_in_recipes();

// Adds --recipe to the command.
void add_recipe(Command& command);

// The command line with the settings of --recipe put in behind the command's name, so that what is
// said on the line itself counts more. A key that no command knows is an error that names the
// nearest one; keys of other commands are passed over. Throws SettingsError/InputError.
std::vector<std::string> with_recipe(const CommandLine& line, std::vector<std::string> arguments);

}  // namespace burnisher::cli
