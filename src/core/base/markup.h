// Text inside XML and HTML.
#pragma once

#include <string>

namespace burnisher {

// `text` with the characters that mean something there replaced, and without control characters,
// which are not allowed.
std::string escaped(const std::string& text);

}  // namespace burnisher
