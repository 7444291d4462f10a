// Files that a run left half written when it was killed.
#pragma once

#include <string>

namespace burnisher::run {

// Takes away those of a folder whose names begin so and whose process is gone (see PendingFile).
void sweep_left_behind(const std::string& folder, const std::string& beginning = "");

}  // namespace burnisher::run
