// A result or a truth to score: its text and, where the file knows them, its words with place,
// block kind and confidence.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::score {

struct PlacedWord {
  std::string text;
  double confidence = 0;
  BlockKind kind = BlockKind::kText;
  size_t page = 0;  // place in `pages`
  Box box;
};

// The picture that the places of one page belong to.
struct PagePicture {
  std::string name;  // of the file, as the result has it; may be empty
  int number = 1;    // within that file
  int width = 0, height = 0;
};

struct Document {
  std::string text;
  std::vector<PlacedWord> words;  // in reading order; none for plain text
  std::vector<PagePicture> pages;
};

// Plain text, PAGE XML or ALTO. Throws InputError/FormatError naming the file.
Document read_document(const std::string& path);

}  // namespace burnisher::score
