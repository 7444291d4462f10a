// The list of what was changed, for people and for spreadsheets.
#pragma once

#include <string>
#include <vector>

#include "correct/correct.h"

namespace burnisher::correct {

// Tab-separated, with a heading: file, page, x, y, width, height, before, after, reason, line.
std::string changes_table(const std::vector<Change>& changes);

// `text` with what would break a table replaced by spaces.
std::string table_field(const std::string& text);

}  // namespace burnisher::correct
