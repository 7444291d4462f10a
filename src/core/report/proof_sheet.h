// The proof sheet: one self-contained page for going through the suspects of a document, each with
// its magnified picture, its line and suggestions, by mouse or by keyboard alone, without a
// network. It saves the table of decisions that `burnisher amend` applies (correct/decisions.h).
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "correct/correct.h"
#include "raster/image.h"

namespace burnisher::report {

struct ProofItem {
  const Line* line = nullptr;
  const Word* word = nullptr;
  size_t page = 0;  // place in the pages
  std::vector<std::string> suggestions;
};

struct ProofSheet {
  std::string title;
  std::vector<const Page*> pages;
  std::vector<ProofItem> items;  // in reading order
  // The picture of a page, asked for once and let go, so that memory does not grow with the pages;
  // an empty one: its suspects are shown without pictures.
  std::function<Gray(size_t page)> picture;
};

std::string proof_html(const ProofSheet& sheet, bool most_doubtful_first);

// "not clearly seen, not in the lexicon"
std::string reasons_in_words(unsigned reasons);

// The part of the picture that holds the line round this word, and where the word lies in it.
struct LineCut {
  Gray picture;
  Box word;
};
LineCut line_cut(const Gray& page, const Line& line, const Word& word);

}  // namespace burnisher::report
