// What can be done about an error, in the words of the command line.
#pragma once

#include <string>

#include "base/error.h"

namespace burnisher::cli {

// The message with what helps, as in "a.pdf: is there already and was left alone (--overwrite
// replaces it)".
std::string told(const Problem& problem);
// The same of any exception; settings are named as options.
std::string told(const std::exception& cause);

}  // namespace burnisher::cli
