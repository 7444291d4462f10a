// Rows or columns: where lines stand level side by side, either is plausible to the eye. Once they
// are read, the text says which: what goes on from one line to the next (by the language's habits
// of spelling), labels and figures that want their row, lists in alphabetical order.
#pragma once

#include "page/page.h"
#include "recognise/languages.h"

namespace burnisher::recognise {

// Two columns of lines, their texts. `pairs`: places in both of lines that stand level.
struct SideBySide {
  std::vector<std::string> left, right;
  std::vector<std::pair<size_t, size_t>> pairs;
};

// Above 0: rows are likelier, below: columns; in nats a character, more or less. `language`: null
// when none is known.
double speaks_for_rows(const SideBySide& text, const LanguageModel* language);

// Columns of a page become rows of one block where the text clearly says so, and tables of two
// columns, or of a few lines without figures, text in columns, labels over entries, too. Lines that
// run from the right stay as they are.
void settle_rows(const Languages& languages, Page& page);

}  // namespace burnisher::recognise
