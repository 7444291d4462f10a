// Where the errors of a result lie: in which kinds of blocks, and in which words.
#pragma once

#include <map>
#include <vector>

#include "score/compare.h"
#include "score/document.h"

namespace burnisher::score {

struct Faults {
  // By the truth's kinds where it has some, else by the result's.
  std::map<BlockKind, Comparison::ClassErrors> kinds;
  // For every confusion the words of the result it happened in, in reading order.
  std::map<Confusion, std::vector<size_t>> words;
};

// Empty unless `read` or `truth` has words.
Faults faults_in(const Document& read, const Document& truth);

}  // namespace burnisher::score
