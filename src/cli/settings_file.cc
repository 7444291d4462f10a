#include "cli/settings_file.h"

#include <fmt/core.h>

#include <sstream>

#include "base/error.h"

namespace burnisher::cli {
namespace {

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

// All lines; those before the first [name] in a section without one.
std::vector<Section> parsed(const std::string& name, const std::string& text) {
  std::vector<Section> sections = {{"", 0, {}}};
  std::istringstream lines(text);
  int number = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    const std::string content = trimmed(without_comment(line));
    if (content.empty()) continue;
    if (content.size() > 2 && content.front() == '[' && content.back() == ']') {
      sections.push_back({trimmed(content.substr(1, content.size() - 2)), number, {}});
      continue;
    }
    const size_t equals = content.find('=');
    if (equals == std::string::npos)
      throw SettingsError(fmt::format("{}, line {}: \"{}\" is no setting; key = value is expected",
                                      name, number, content));
    std::string value = trimmed(content.substr(equals + 1));
    if (value.size() >= 2 && value.front() == '"' && value.back() == '"')
      value = value.substr(1, value.size() - 2);
    sections.back().settings.push_back({trimmed(content.substr(0, equals)), value, number});
  }
  return sections;
}

}  // namespace

std::vector<Setting> settings_in(const std::string& name, const std::string& text) {
  const std::vector<Section> sections = parsed(name, text);
  if (sections.size() > 1)
    throw SettingsError(
        fmt::format("{}, line {}: there are no sections here", name, sections[1].line));
  return sections.front().settings;
}

std::vector<Section> sections_in(const std::string& name, const std::string& text) {
  std::vector<Section> sections = parsed(name, text);
  if (!sections.front().settings.empty())
    throw SettingsError(fmt::format("{}, line {}: settings stand below a [name]", name,
                                    sections.front().settings.front().line));
  sections.erase(sections.begin());
  return sections;
}

}  // namespace burnisher::cli
