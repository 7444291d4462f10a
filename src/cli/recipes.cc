#include "cli/recipes.h"

#include <fmt/core.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "cli/given_options.h"
#include "cli/settings_file.h"
#include "run/job_session.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

const char* const kFolderRecipe = "burnisher.toml";  // beside the scans

std::string text_of(const std::string& name) {
  for (const Recipe& recipe : built_in_recipes()) {
    if (recipe.name == name) return recipe.text;
  }
  if (!std::filesystem::exists(name)) {
    std::string known;
    for (const Recipe& recipe : built_in_recipes())
      known += (known.empty() ? "" : ", ") + recipe.name;
    throw SettingsError(fmt::format(
        "--recipe {}: neither a file nor one of the recipes that are built in ({})", name, known));
  }
  const auto bytes = read_file(name);
  return std::string(bytes.begin(), bytes.end());
}

std::vector<std::string> all_option_names(const CommandLine& line) {
  std::vector<std::string> names;
  for (const Command& command : line.commands()) {
    for (const std::string& name : command.option_names()) names.push_back(name);
  }
  return names;
}

}  // namespace

const std::vector<Recipe>& built_in_recipes() {
  static const std::vector<Recipe> recipes = {
      {"archive", "keep the scan's look: nothing is cut, evened out or removed from the picture",
       "crop = off\nrules = unread\nspecks = 2px\njpeg-quality = 85\n"},
      {"draft", "quick: no search for curl, which way is up, or spreads",
       "no-dewarp = true\nno-split = true\nturn = 0\n"},
      {"faint", "pale print: darker middle greys, and only the finest specks go",
       "gamma = 0.7\nspecks = 2px\nbinarise = auto\n"},
      {"fax", "coarse bitonal pages: more specks out, broken strokes mended",
       "specks = 0.4mm\nmend = true\n"},
      {"photo", "photographed pages: even white paper, grain smoothed, cut to the sheet",
       "even = true\ncrop = sheet\nmedian = true\n"},
      {"typewriter", "ribbon type: even paper, rules and specks out",
       "even = true\nspecks = 0.25mm\nrules = unread\n"},
  };
  return recipes;
}

void add_recipe(Command& command) {
  command
      .option(
          "--recipe", [](const std::string&) {},  // taken by with_recipe, before all others
          "named settings: a file of lines `key = value`, keys as the options here, or one of "
          "archive, draft, faint, fax, photo, typewriter (`burnisher recipes` shows them)")
      .type_name("NAME|FILE");
}

namespace {

// Settings of one source that the line itself does not make, as arguments.
void add_settings(const std::string& source, const std::vector<Setting>& settings,
                  const Command& command, const std::vector<std::string>& known,
                  std::vector<std::string>& arguments) {
  std::vector<std::string> added;
  for (const Setting& setting : settings) {
    if (std::find(known.begin(), known.end(), setting.key) == known.end()) {
      const std::string instead = nearest(setting.key, known);
      throw SettingsError(
          fmt::format("recipe {}, line {}: there is no setting \"{}\"{}", source, setting.line,
                      setting.key, instead.empty() ? "" : "; the nearest is \"" + instead + "\""));
    }
    if (!command.has_option(setting.key) || setting.key == "recipe" || setting.key == "job")
      continue;
    // What the line itself says counts; a flag there can only switch the same thing on.
    const bool said = std::any_of(arguments.begin(), arguments.end(), [&](const std::string& a) {
      return a == "--" + setting.key || a.rfind("--" + setting.key + "=", 0) == 0;
    });
    if (said) continue;
    const bool flag = command.is_flag(setting.key);
    if (flag && setting.value != "true" && setting.value != "false") {
      throw SettingsError(fmt::format("recipe {}, line {}: {} is true or false, not \"{}\"", source,
                                      setting.line, setting.key, setting.value));
    }
    if (flag && setting.value == "true") added.push_back("--" + setting.key);
    if (!flag) added.push_back("--" + setting.key + "=" + setting.value);
  }
  arguments.insert(arguments.begin() + 1, added.begin(), added.end());
}

std::vector<std::string> behind_name(const std::vector<std::string>& arguments) {
  return {arguments.begin() + 1, arguments.end()};
}

std::string value_of(const Given& given, const std::string& key) {
  const std::vector<std::string>* values = given.find(key);
  return values == nullptr ? "" : values->back();
}

// Where results go is said as a whole or not at all.
bool says_where(const Given& given) {
  return given.find("out") != nullptr || given.find("out-dir") != nullptr ||
         given.find("to") != nullptr;
}

// The user's own, and one that lies beside the scans.
std::vector<std::string> standing_recipes(const Given& given) {
  std::vector<std::string> paths;
  std::error_code status;
  if (!given.inputs.empty()) {
    const fs::path input = given.inputs.front();
    const fs::path folder = fs::is_directory(input, status) ? input : input.parent_path();
    paths.push_back((folder / kFolderRecipe).string());
  }
  const std::string own = user_recipe();
  if (!own.empty()) paths.push_back(own);
  paths.erase(std::remove_if(paths.begin(), paths.end(),
                             [&](const std::string& path) { return !fs::exists(path, status); }),
              paths.end());
  return paths;
}

}  // namespace

bool add_job(const Command& command, std::vector<std::string>& arguments) {
  const Given given = given_in(command, behind_name(arguments));
  const std::string folder = value_of(given, "job");
  if (folder.empty()) return false;
  const std::optional<job::JobFile> file = job::job_file_in(folder);
  if (!file) return false;
  Given kept;
  for (const auto& one : file->settings) {
    if (given.find(one.first) != nullptr) continue;
    const bool where = one.first == "out" || one.first == "out-dir" || one.first == "to";
    if (where && says_where(given)) continue;
    kept.options.push_back(one);
  }
  if (given.inputs.empty()) kept.inputs = file->inputs;
  kept = to_here(command, std::move(kept), folder);
  const std::vector<std::string> added = as_arguments(command, kept);
  arguments.insert(arguments.begin() + 1, added.begin(), added.end());
  arguments.insert(arguments.end(), kept.inputs.begin(), kept.inputs.end());
  return true;
}

std::string user_recipe() {
  if (const char* folder = std::getenv("XDG_CONFIG_HOME"); folder != nullptr && *folder != 0)
    return (fs::path(folder) / "burnisher" / "recipe.toml").string();
  const char* home = std::getenv("HOME");
  return home == nullptr ? "" : (fs::path(home) / ".config/burnisher/recipe.toml").string();
}

std::vector<std::string> with_recipe(const CommandLine& line, std::vector<std::string> arguments,
                                     std::vector<std::string>& remarks) {
  if (arguments.empty()) return arguments;
  const std::unique_ptr<Command> command = line.named(arguments.front());
  if (command == nullptr || !command->has_option("recipe")) return arguments;
  const std::vector<std::string> known = all_option_names(line);
  const std::string name = value_of(given_in(*command, behind_name(arguments)), "recipe");
  if (!name.empty())
    add_settings(name, settings_in("recipe " + name, text_of(name)), *command, known, arguments);
  if (command->has_option("job") && add_job(*command, arguments)) return arguments;
  for (const std::string& path : standing_recipes(given_in(*command, behind_name(arguments)))) {
    add_settings(path, settings_in("recipe " + path, text_of(path)), *command, known, arguments);
    remarks.push_back("settings from " + path);
  }
  return arguments;
}

}  // namespace burnisher::cli
