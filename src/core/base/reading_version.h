// Which program read a page: two with the same version read the same.
#pragma once

#include <string>

namespace burnisher {

// A digest of what is read on the pages of tests/judged, and of the shipped models. Twelve
// hexadecimal digits.
const std::string& reading_version();

}  // namespace burnisher
