// Pages composed of known blocks, for measuring the layout: books with heads, footnotes and notes
// in the margin, columns under headlines, pictures with captions, tables with and without rules.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "testing/printed_page.h"

namespace burnisher::testing {

enum class Composition { kBook, kColumns, kPictures, kRuledTable, kWhiteTable, kNotes };
constexpr Composition kCompositions[] = {Composition::kBook,       Composition::kColumns,
                                         Composition::kPictures,   Composition::kRuledTable,
                                         Composition::kWhiteTable, Composition::kNotes};
const char* name_of(Composition composition);

// A printed line or cell as it was composed, in reading order.
struct TrueLine {
  BlockKind kind = BlockKind::kText;
  double x0 = 0, x1 = 0, baseline = 0, size = 0;
  int row = -1, column = -1;  // of cells
};

struct ComposedPage {
  PrintedPage page;
  std::vector<TrueLine> lines;
  double x_height = 0;  // of the body
};

// The same seed gives the same page.
ComposedPage composed(Composition composition, uint64_t seed);

// How well a layout agrees with what was composed.
struct LayoutScore {
  int lines = 0;     // composed lines that are in no table
  int found = 0;     // of them: one result line covers it and no other
  int surplus = 0;   // result lines that are none
  int kinds = 0;     // found lines whose block has the right kind
  int in_order = 0;  // neighbours in reading order that come in this order
  int neighbours = 0;
  int cells = 0, cells_found = 0, cells_surplus = 0;  // by place in their table
  void add(const LayoutScore& more);
};
// `confused`: for wrong kinds, "wanted>got" is appended.
LayoutScore score(const ComposedPage& truth, const Page& page, std::vector<std::string>* confused);

}  // namespace burnisher::testing
