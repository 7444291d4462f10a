// A result's errors as one self-contained page: every page's rates, what kinds of characters and
// blocks they are in, what was read as what with pictures of the words, and whether the confidences
// mean what they say.
#pragma once

#include <string>
#include <vector>

#include "raster/image.h"
#include "score/certainty.h"
#include "score/compare.h"
#include "score/document.h"
#include "score/faults.h"

namespace burnisher::report {

struct WordPicture {
  Gray picture;
  std::string read;  // the word
  std::string page;  // the name of its page
};

struct ScoredPage {
  std::string name;
  score::Comparison comparison;
};

struct ScoreReport {
  std::vector<ScoredPage> pages;
  score::Comparison all;
  score::Certainty certainty;
  std::map<BlockKind, score::Comparison::ClassErrors> kinds;
  std::map<score::Confusion, std::vector<WordPicture>> examples;
};

// Takes up the faults of one more page, with pictures of the words from `folder` ("": without) as
// far as the report has none yet. Returns the pictures that could not be used, and why.
std::vector<std::string> add_faults(const score::Document& read, const score::Faults& faults,
                                    const std::string& folder, const std::string& name,
                                    ScoreReport& report);

// `confusions`: how many of them are shown.
std::string score_html(const ScoreReport& report, int confusions);

}  // namespace burnisher::report
