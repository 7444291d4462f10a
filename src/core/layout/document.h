// What only shows when the text has been read, on one page and from page to page: the sequence of
// page numbers, running heads by repetition, header rows of tables.
#pragma once

#include <deque>
#include <optional>
#include <string>
#include <vector>

#include "page/page.h"
#include "page/printed_number.h"

namespace burnisher::layout {

// Page numbers that turn out to be none become running heads or text; tables without a ruled-off
// head get one when their first row has words over columns of figures.
void settle_kinds(Page& page);

// Lines at the head (or foot) of `page` that stand, but for their figures, at the head (or foot) of
// `other`, too, become running heads on both.
void mark_repeated(Page& page, Page& other);

// A page of the document in its order, with the number printed on it.
struct NumberedPage {
  std::string name;  // for messages
  std::optional<PrintedNumber> number;
};

struct SequenceBreak {
  size_t page = 0;  // of the list: where the sequence goes wrong
  std::string what;
};

// Missing and doubled pages: where the difference between place and number changes and at least
// one more page confirms the new difference. A single number out of line is a misreading.
std::vector<SequenceBreak> sequence_breaks(const std::vector<NumberedPage>& pages);

}  // namespace burnisher::layout
