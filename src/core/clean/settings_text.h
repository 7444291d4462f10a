// How a page was cleaned, as text beside it: so that the same can be done to its scan again.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "clean/clean.h"

namespace burnisher::clean {

// Keys are the settings' names on the command line. What is as usual is left out, but for `turn`.
std::vector<std::pair<std::string, std::string>> as_text(const CleanSettings& settings);
// Throws FormatError for keys and values that are none.
CleanSettings from_text(const std::vector<std::pair<std::string, std::string>>& text);

}  // namespace burnisher::clean
