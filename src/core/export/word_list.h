// The words of a document as a table, one row a word: TSV, or JSON with one object a word.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::exporting {

std::string word_list_head();  // of the TSV
// `number` from 1, in the document.
std::string word_list_tsv(const Page& page, Positions positions, int number);
// Objects, each on its line with a comma behind it; "" for a page without words.
std::string word_list_json(const Page& page, Positions positions, int number);

}  // namespace burnisher::exporting
