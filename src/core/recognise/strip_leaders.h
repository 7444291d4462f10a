// Leaders in a line's strip: rows of dots that lead from a title to its page. How many dots there
// are matters to nobody, but read as letters they run into the figures after them. So they are
// taken out before a line is read, and put back as what they are.
#pragma once

#include <vector>

#include "recognise/decode.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

struct StripLeader {
  int from = 0, to = 0;  // columns of the strip
  int dots = 0;
};

// From left to right. Five dots at least, on the baseline, evenly apart, with no ink above them.
std::vector<StripLeader> leaders_in(const Gray& strip, const StripFrame& frame);

// Their columns become paper.
void take_out(const std::vector<StripLeader>& leaders, Gray& strip);

// The characters with a word of dots for each leader.
std::vector<ReadCharacter> with_leaders(std::vector<ReadCharacter> characters,
                                        const std::vector<StripLeader>& leaders);

}  // namespace burnisher::recognise
