// All words of a document for spreadsheets, and its text in a form that is compared by ear.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::report {

// Tab-separated with a heading: file, page, block, kind, line, word, x, y, width, height (of the
// scan), text, confidence, error_probability, reason, before.
std::string words_table(const std::vector<const Page*>& pages);

// Line by line: figures one by one, capitals and punctuation named, so that a voice that reads it
// out tells them all.
std::string read_aloud(const std::vector<const Page*>& pages);

}  // namespace burnisher::report
