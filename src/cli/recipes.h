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

// Adds the inputs and options that the job of a line's --job was made with, where the line does not
// say them. False: there is no such job yet. Throws FormatError.
bool add_job(const Command& command, std::vector<std::string>& arguments);

// Where the user's own recipe lies, which counts wherever nothing else says otherwise; "": nowhere.
std::string user_recipe();

// The command line with settings put in behind the command's name that the line does not make
// itself: those of --recipe; then those that the job of --job was made with, its inputs included,
// or, where there is no such job yet, those of burnisher.toml beside the first input and of the
// user's own recipe. A key that no command knows is an error that names the nearest one; keys of
// other commands are passed over. `remarks`: recipes that were found, for the user to know. Throws
// SettingsError/InputError/FormatError.
std::vector<std::string> with_recipe(const CommandLine& line, std::vector<std::string> arguments,
                                     std::vector<std::string>& remarks);

}  // namespace burnisher::cli
