// The dark ground that a sheet lies on crookedly: what of the picture is it, and what the sheet.
#pragma once

#include "base/plane_map.h"
#include "clean/sheet_outline.h"
#include "raster/reduced.h"

namespace burnisher::clean {

// `outline` (pixels of `small`'s picture) without edges beyond which it is not dark throughout: a
// picture that runs to the edge of its page is no ground.
SheetOutline dark_ground(const SheetOutline& outline, const Gray& small);

// Paints what lies beyond the outline, and the ragged rim of the sheet, in the colour of paper.
// `picture`: in full what `small` is reduced from.
void paint_ground(const SheetOutline& outline, const Reduced& small, Picture& picture);

// Where the sheet lies on the page, in whole pixels of a page of `width` x `height`.
Box sheet_on_page(const SheetOutline& outline, const Reduced& small, const Projective& page_to_part,
                  int width, int height);

}  // namespace burnisher::clean
