// A document cut down to what is needed of it: some of its pages, on some only a table or two
// paragraphs. What is not kept is neither in the text nor in the picture.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::run {

struct KeptPage {
  int page = 1;             // from 1, in the document
  std::vector<int> blocks;  // from 1, in the order of PAGE XML (b1, b2 ...); none: the whole page
};

// "2:3+4,6-8,10-": of page 2 blocks 3 and 4, pages 6 to 8 and from 10 on whole; pages that are not
// named are left out. Throws SettingsError for what is no such text, names a page twice, or one
// that a document of `count` pages does not have.
std::vector<KeptPage> kept_places(const std::string& text, int count);

// Takes the other blocks, and barcodes, off the page. No blocks: nothing is taken. Throws
// SettingsError for blocks that the page does not have.
void keep_blocks(const std::vector<int>& blocks, Page& page);

// Makes everything white that lies outside the page's blocks; a fiftieth of an inch round them
// stays. `picture`: of the page, at its size.
void clear_outside(const Page& page, Picture& picture);

}  // namespace burnisher::run
