// Stencils: the blocks of one page laid over others that look alike. A stencil is a page whose
// blocks have no lines; its file is PAGE XML.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::layout {

// The page's blocks without their lines. Separators and noise are left out.
Page stencil_of(const Page& page);

struct StencilFit {
  int lines = 0;    // of the page
  int outside = 0;  // those in none of the stencil's blocks; they are left out
  bool fits() const;
};

// Replaces the page's blocks by the stencil's, moved and scaled so that the stencil's text frame
// lies on the page's own: left, top and width decide, for the last line may stand anywhere. Lines
// go into the block that covers them; where the stencil has a table, cells found there stay.
StencilFit lay_over(const Page& stencil, Page& page);

}  // namespace burnisher::layout
