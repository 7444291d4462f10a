// A PDF with places marked on its pages, as one does with a text marker: annotations of the kind
// Highlight, everything else as it was.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"

namespace burnisher::pdf {

struct Highlight {
  int page = 1;            // from 1
  std::vector<Box> boxes;  // points from the upper left corner of the page as it is seen
  std::string note;        // that viewers show; may be empty
};

// Throws InputError/FormatError for a PDF that cannot be changed, OutputError.
void write_highlighted(const std::string& pdf, const std::vector<Highlight>& highlights,
                       const std::string& path, bool overwrite);

}  // namespace burnisher::pdf
