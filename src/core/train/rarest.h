// What a training will see least of: letters and signs that its texts hardly hold.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "recognise/alphabet.h"
#include "train/text_source.h"

namespace burnisher::train {

// How often each character of the alphabet stands in `lines` lines drawn as training draws them,
// the rarest first; of like ones the earlier class. At most `most`.
std::vector<std::pair<char32_t, int>> rarest(const TextSource& texts,
                                             const recognise::Alphabet& alphabet, int lines,
                                             int longest_line, size_t most, uint64_t seed);

// "ǿ 0, ſ 12, ...": per 10,000 lines.
std::string as_text(const std::vector<std::pair<char32_t, int>>& counts, int lines);

}  // namespace burnisher::train
