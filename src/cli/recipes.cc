#include "cli/recipes.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <sstream>

#include "base/edit_distance.h"
#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"

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
          fmt::format("recipe {}, line {}: \"{}\" is no setting; wanted is key = value", name,
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

const CLI::Option* option_named(const CLI::App& command, const std::string& key) {
  return command.get_option_no_throw("--" + key);
}

[[noreturn]] void refuse(const CLI::App& app, const std::string& recipe, const Setting& setting) {
  std::string nearest;
  int least = 4;
  for (const CLI::App* command : app.get_subcommands({})) {
    for (const CLI::Option* option : command->get_options()) {
      for (const std::string& name : option->get_lnames()) {
        const int distance = edit_distance(decode_utf8(name), decode_utf8(setting.key));
        if (distance < least) {
          least = distance;
          nearest = name;
        }
      }
    }
  }
  throw SettingsError(fmt::format("recipe {}, line {}: there is no setting \"{}\"{}", recipe,
                                  setting.line, setting.key,
                                  nearest.empty() ? "" : "; the nearest is \"" + nearest + "\""));
}

bool known_anywhere(const CLI::App& app, const std::string& key) {
  for (const CLI::App* command : app.get_subcommands({})) {
    if (option_named(*command, key) != nullptr) return true;
  }
  return false;
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
      {"photo", "photographed pages: even white paper, curl taken out, cut to the print",
       "even = true\ncrop = text\nmargin = 8\nmedian = true\n"},
      {"typewriter", "ribbon type: even paper, rules and specks out",
       "even = true\nspecks = 0.25mm\nrules = unread\n"},
  };
  return recipes;
}

void add_recipe(CLI::App& command) {
  command
      .add_option(
          "--recipe",
          "named settings: a file of lines `key = value`, keys as the options here, or one of "
          "archive, draft, faint, fax, photo, typewriter (`burnisher recipes` shows them)")
      ->type_name("NAME|FILE");
}

std::vector<std::string> with_recipe(const CLI::App& app, std::vector<std::string> arguments) {
  if (arguments.empty()) return arguments;
  const auto commands = app.get_subcommands(
      [&](const CLI::App* candidate) { return candidate->check_name(arguments.front()); });
  const CLI::App* command = commands.empty() ? nullptr : commands.front();
  if (command == nullptr || option_named(*command, "recipe") == nullptr) return arguments;
  std::string name;
  for (size_t i = 1; i < arguments.size(); ++i) {
    if (arguments[i] == "--recipe" && i + 1 < arguments.size()) name = arguments[i + 1];
    if (arguments[i].rfind("--recipe=", 0) == 0) name = arguments[i].substr(9);
  }
  if (name.empty()) return arguments;
  std::vector<std::string> added;
  for (const Setting& setting : parsed(name, text_of(name))) {
    const CLI::Option* option = option_named(*command, setting.key);
    if (option == nullptr && !known_anywhere(app, setting.key)) refuse(app, name, setting);
    if (option == nullptr || setting.key == "recipe") continue;
    // What the line itself says counts; a flag there can only switch the same thing on.
    const bool said = std::any_of(arguments.begin(), arguments.end(), [&](const std::string& a) {
      return a == "--" + setting.key || a.rfind("--" + setting.key + "=", 0) == 0;
    });
    if (said) continue;
    const bool flag = option->get_expected_min() == 0;
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
