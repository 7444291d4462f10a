// A hit as it is shown: its lines with what was found in them, its places.
#pragma once

#include <string>
#include <vector>

#include "find/search.h"
#include "intake/pdf_programs.h"

namespace burnisher::find {

// A line that a hit, or a part of it, stands in.
struct HitLine {
  IndexedPage page;
  std::string before, found, after;  // the line's text; logical order
  Box on_page, on_scan;              // of what was found, pixels
  Box line_on_page;
  std::vector<size_t> words;  // what was found, by places on the page
  bool right_to_left = false;
};

// Takes pages from the index and keeps the last of them: hits come page by page.
class HitViews {
 public:
  explicit HitViews(const Index& index) : index_(index) {}

  std::vector<HitLine> lines(const Hit& hit);
  // Words before and behind what was found, at most so many, as they follow one another on the
  // page.
  HitLine in_context(const Hit& hit, int words);
  std::string form(FormNumber number) { return index_.form(number); }
  const PageWords& words_of(int64_t page);

 private:
  std::string text(const PageWords& words, size_t first, size_t end);

  const Index& index_;
  int64_t held_ = 0;
  IndexedPage page_;
  PageWords words_;
};

// What was found, over all its lines: "light-house".
std::string found_text(const std::vector<HitLine>& lines);

// A word of a page, with its place as a share of the page's width and height.
struct PlacedText {
  std::string text;
  Point place;
};

// Where each word of a page is on its PDF page, in points from the upper left corner, empty where
// it is not: by the order of the words that both have; of words that stand in another order there,
// the nearest.
std::vector<Box> places_in_pdf(const std::vector<PlacedText>& words, const PdfWords& pdf);

}  // namespace burnisher::find
