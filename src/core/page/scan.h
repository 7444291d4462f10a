// A scan: one picture as it came in, an image file, one picture of many in a file, a page of a PDF.
#pragma once

#include <string>
#include <vector>

#include "raster/image.h"

namespace burnisher {

struct Scan {
  std::string file;
  int page = 1;                    // from 1, within the file
  int page_count = 1;              // of the file
  Picture picture;                 // Gray, Colour or Bitonal
  double stated_dpi = 0;           // what the file says; 0: nothing, or something absurd
  bool has_text = false;           // a PDF page that carries real text already
  std::vector<std::string> notes;  // what a person should know: cut short, text already there...
};

}  // namespace burnisher
