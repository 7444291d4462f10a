#include "cli/recipes.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <sstream>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::cli {
namespace {

struct Setting {
  std::string key, value;
  int line;
};

std::string trimmed(const std::string& text) {
  const auto first = text.find_first_not_of(" \t\r"), last = text.find_last_not_of(" \t\r");
  return first == std::string::npos ? "" : text.substr(first, last - first + 1);
}

// Up to a # that is not inside quotation marks.
std::string without_comment(const std::string& line) {
  bool quoted = false;
  for (size_t i = 0; i < line.size(); ++i) {
    if (line[i] == '"') quoted = !quoted;
    if (line[i] == '#' && !quoted) return line.substr(0, i);
  }
  return line;
}

std::vector<Setting> parsed(const std::string& name, const std::string& text) {
  std::vector<Setting> settings;
  std::istringstream lines(text);
  int number = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    const std::string content = trimmed(without_comment(line));
    if (content.empty()) continue;
    const size_t equals = content.find('=');
    if (equals == std::string::npos) {
      throw SettingsError(
          fmt::format("recipe {}, line {}: \"{}\" is no setting; key = value is expected", name,
                      number, content));
    }
    std::string value = trimmed(content.substr(equals + 1));
    if (value.size() >= 2 && value.front() == '"' && value.back() == '"')
      value = value.substr(1, value.size() - 2);
    settings.push_back({trimmed(content.substr(0, equals)), value, number});
  }
  return settings;
}

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

std::vector<std::string> with_recipe(const CommandLine& line, std::vector<std::string> arguments) {
  if (arguments.empty()) return arguments;
  const std::unique_ptr<Command> command = line.named(arguments.front());
  if (command == nullptr || !command->has_option("recipe")) return arguments;
  std::string name;
  for (size_t i = 1; i < arguments.size(); ++i) {
    if (arguments[i] == "--recipe" && i + 1 < arguments.size()) name = arguments[i + 1];
    if (arguments[i].rfind("--recipe=", 0) == 0) name = arguments[i].substr(9);
  }
  if (name.empty()) return arguments;
  const std::vector<std::string> known = all_option_names(line);
  std::vector<std::string> added;
  for (const Setting& setting : parsed(name, text_of(name))) {
    if (std::find(known.begin(), known.end(), setting.key) == known.end()) {
      const std::string instead = nearest(setting.key, known);
      throw SettingsError(
          fmt::format("recipe {}, line {}: there is no setting \"{}\"{}", name, setting.line,
                      setting.key, instead.empty() ? "" : "; the nearest is \"" + instead + "\""));
    }
    if (!command->has_option(setting.key) || setting.key == "recipe") continue;
    // What the line itself says counts; a flag there can only switch the same thing on.
    const bool said = std::any_of(arguments.begin(), arguments.end(), [&](const std::string& a) {
      return a == "--" + setting.key || a.rfind("--" + setting.key + "=", 0) == 0;
    });
    if (said) continue;
    const bool flag = command->is_flag(setting.key);
    if (flag && setting.value != "true" && setting.value != "false") {
      throw SettingsError(fmt::format("recipe {}, line {}: {} is true or false, not \"{}\"", name,
                                      setting.line, setting.key, setting.value));
    }
    if (flag && setting.value == "true") added.push_back("--" + setting.key);
    if (!flag) added.push_back("--" + setting.key + "=" + setting.value);
  }
  arguments.insert(arguments.begin() + 1, added.begin(), added.end());
  return arguments;
}

}  // namespace burnisher::cli
