// Words of another script inside a line: a Russian title in an English sentence.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "recognise/reader.h"

namespace burnisher::recognise {

// Which of the told scripts (but `own`) some word of the line looks as if it were in: by the frames
// where it stands, if its letters were not clearly read. In the order of `told`, each once.
std::vector<size_t> foreign_scripts(const LineReading& reading, size_t told,
                                    const std::vector<size_t>& own);

// Puts words of `other`, the same line as another reader reads it, in place of those that stand
// where they do, where `gain` (of the other's likelihood over the own) is more than enough. Both
// lines in logical order. Returns whether any was taken.
bool take_words(const Line& other,
                const std::function<double(const std::vector<Word>& own,
                                           const std::vector<Word>& others)>& gain,
                Line& line);

}  // namespace burnisher::recognise
