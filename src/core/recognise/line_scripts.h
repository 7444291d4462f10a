// Which script each line of a page is in.
#pragma once

#include <string>
#include <vector>

#include "recognise/reader.h"

namespace burnisher::recognise {

// `told`: the scripts that the readings' log-probabilities are of; `known`: those that can be read
// and are wanted, the first for lines that say nothing. A line's own letters decide; lines of few
// letters go with those before and after them, lines without letters with the last that has some.
std::vector<std::string> scripts_of(const std::vector<LineReading>& readings,
                                    const std::vector<std::string>& told,
                                    const std::vector<std::string>& known);

}  // namespace burnisher::recognise
