// Files of settings, a subset of TOML: lines `key = value`, comments after #, and, where there may
// be several of a kind, sections that begin with [name].
#pragma once

#include <string>
#include <vector>

namespace burnisher::cli {

struct Setting {
  std::string key, value;
  int line;
};

struct Section {
  std::string name;
  int line;
  std::vector<Setting> settings;
};

// `name`: of the text, for messages. Throw SettingsError for what is neither.
std::vector<Setting> settings_in(const std::string& name, const std::string& text);
// Settings before the first section are an error.
std::vector<Section> sections_in(const std::string& name, const std::string& text);

}  // namespace burnisher::cli
