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

// By how much the other reader's words are likelier than the own ones in the same place.
using WordGain =
    std::function<double(const std::vector<Word>& own, const std::vector<Word>& others)>;

// Puts words of `other`, the same line as another reader reads it, in place of those that stand
// where they do, where they are of its script and the gain is enough. Both lines in logical order.
// Returns whether some word was taken that leaves no doubt.
bool take_words(const Line& other, const WordGain& gain, Line& line);

}  // namespace burnisher::recognise
