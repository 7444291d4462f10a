// What was said on a command line, in a form that can be kept in a job and said again.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "cli/command_line.h"

namespace burnisher::cli {

struct Given {
  // By long names, in the order in which they were first said; flags have the value "true".
  std::vector<std::pair<std::string, std::vector<std::string>>> options;
  std::vector<std::string> inputs;

  const std::vector<std::string>* find(const std::string& key) const;
};

// `arguments`: behind the command's name. Unknown options are left for the parser to complain
// about.
Given given_in(const Command& command, const std::vector<std::string>& arguments);

// Options whose values are paths, as their type in --help tells, as seen from `folder`; and back.
Given from_folder(const Command& command, Given given, const std::string& folder);
Given to_here(const Command& command, Given given, const std::string& folder);

// As arguments of a command line, without the inputs.
std::vector<std::string> as_arguments(const Command& command, const Given& given);

}  // namespace burnisher::cli
