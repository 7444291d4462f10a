// Whether a read page wants a person's eye, and why.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::run {

// `look_below`: mean confidence, 0-1. Reasons are whole sentences without file and page.
std::vector<std::string> reasons_to_look(const Page& page, double look_below);

}  // namespace burnisher::run
