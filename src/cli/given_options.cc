#include "cli/given_options.h"

#include <algorithm>
#include <filesystem>

#include "base/files.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

template <typename Change>
void each_path(const Command& command, Given& given, const Change& change) {
  for (auto& [key, values] : given.options) {
    if (!command.has_option(key)) continue;
    const std::string type = command.type_of(key);
    for (std::string& value : values) {
      if (type == "FILE" || type == "DIR") {
        value = change(value);
      } else if (type == "PAGE=FILE") {
        const size_t behind = value.find('=') + 1;
        if (behind > 0) value = value.substr(0, behind) + change(value.substr(behind));
      }
    }
  }
  for (std::string& input : given.inputs) input = change(input);
}

}  // namespace

const std::vector<std::string>* Given::find(const std::string& key) const {
  for (const auto& [name, values] : options)
    if (name == key) return &values;
  return nullptr;
}

Given given_in(const Command& command, const std::vector<std::string>& arguments) {
  Given given;
  const auto add = [&](const std::string& key, const std::string& value) {
    for (auto& [name, values] : given.options) {
      if (name != key) continue;
      values.push_back(value);
      return;
    }
    given.options.push_back({key, {value}});
  };
  for (size_t i = 0; i < arguments.size(); ++i) {
    const std::string& argument = arguments[i];
    if (argument.compare(0, 2, "--") != 0 || argument.size() == 2) {
      if (argument != "--") given.inputs.push_back(argument);
      continue;
    }
    const size_t equals = argument.find('=');
    const std::string key = argument.substr(2, equals == std::string::npos ? equals : equals - 2);
    if (!command.has_option(key)) continue;
    if (command.is_flag(key)) {
      add(key, "true");
    } else if (equals != std::string::npos) {
      add(key, argument.substr(equals + 1));
    } else {
      for (int n = 0; n < command.most_values(key) && i + 1 < arguments.size(); ++n) {
        if (n > 0 && arguments[i + 1].compare(0, 2, "--") == 0) break;
        add(key, arguments[++i]);
      }
    }
  }
  return given;
}

Given from_folder(const Command& command, Given given, const std::string& folder) {
  each_path(command, given, [&](const std::string& path) {
    const std::string seen = relative_path(path, folder);
    return seen.empty() ? path : seen;
  });
  return given;
}

Given to_here(const Command& command, Given given, const std::string& folder) {
  each_path(command, given, [&](const std::string& path) {
    return (fs::path(folder) / path).lexically_normal().string();
  });
  return given;
}

std::vector<std::string> as_arguments(const Command& command, const Given& given) {
  std::vector<std::string> arguments;
  for (const auto& [key, values] : given.options) {
    if (!command.has_option(key)) continue;
    if (command.is_flag(key)) {
      arguments.push_back("--" + key);
    } else if (command.most_values(key) > 1) {
      arguments.push_back("--" + key);
      arguments.insert(arguments.end(), values.begin(), values.end());
    } else {
      for (const std::string& value : values) arguments.push_back("--" + key + "=" + value);
    }
  }
  return arguments;
}

}  // namespace burnisher::cli
