// ALTO 4: text with the places and confidences of words, for libraries and archives.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher {

// All pages of one document in one file.
std::string write_alto(const std::vector<Page>& pages, Positions positions);

// The same page by page, so that a long document never stands in memory as a whole:
// alto_head, alto_page for each page, alto_tail.
std::string alto_head(const std::string& source_file);
// `sides`: one page; with positions in the scan the two pages of a spread, which are one scan.
std::string alto_page(const std::vector<const Page*>& sides, Positions positions, int number);
std::string alto_tail();

// The pages of an ALTO file of any version that counts in pixels; x-heights are guessed from the
// lines' heights. Throws InputError/FormatError naming the file.
std::vector<Page> read_alto_file(const std::string& path);

}  // namespace burnisher
