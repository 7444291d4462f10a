// One word for another over many pages, with whole words as the default: a short pattern also lives
// inside other words.
#pragma once

#include <string>
#include <vector>

#include "correct/correct.h"

namespace burnisher::correct {

struct ReplaceSettings {
  std::string from, to;
  bool whole_words = true;  // by Unicode's word boundaries
  bool ignore_case = false;
  bool expression = false;  // `from` is a regular expression (ICU's), `to` may name groups: $1
};

// Changes every place in the lines and lists them; with `only_look` nothing is changed. A match may
// reach over several words of a line. Throws SettingsError for an expression that is none.
std::vector<Change> replace_all(const std::vector<Page*>& pages, const ReplaceSettings& settings,
                                bool only_look);

}  // namespace burnisher::correct
