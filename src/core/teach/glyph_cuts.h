// Where the glyphs of a line are: connected ink first, then what was read decides. Ink that was
// read as several letters is parted where it is thinnest between them; ink in two parts that was
// read as one letter is joined. Where reading is unsure, ink alone counts (a person joins and parts
// what is left; Casey and Lecolinet 1996 call the two ways dissection and recognition-based).
#pragma once

#include <vector>

#include "raster/image.h"
#include "recognise/decode.h"
#include "recognise/strip.h"

namespace burnisher::teach {

// Strip columns [x0, x1) of one glyph, with what is read in them.
struct GlyphCut {
  int x0 = 0, x1 = 0;
  std::vector<recognise::ReadCharacter> characters;
};

// `characters`: of the line as read, from left to right, spaces included. `headline`: letters hang
// from one.
std::vector<GlyphCut> glyph_cuts(const Gray& strip, const recognise::StripFrame& frame,
                                 const std::vector<recognise::ReadCharacter>& characters,
                                 bool headline);

// The ink of the line itself within these columns, for what is drawn and compared: ink that reaches
// in from the lines above and below is paper there. Same size as the strip.
Gray own_ink(const Gray& strip, const recognise::StripFrame& frame);

}  // namespace burnisher::teach
