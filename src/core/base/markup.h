// Text inside XML and HTML.
#pragma once

#include <string>

namespace burnisher {

// `text` with the characters that mean something there replaced; what markup cannot hold (control
// characters, bytes that are no UTF-8) becomes U+FFFD.
std::string escaped(const std::string& text);

}  // namespace burnisher
