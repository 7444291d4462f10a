// A TrueType font whose glyphs are all empty and equally wide: it carries the invisible text layer
// of a PDF. (OpenType specification, tables head, hhea, maxp, hmtx, loca, glyf, cmap, post, name,
// OS/2.)
#pragma once

#include <cstdint>
#include <vector>

namespace burnisher::pdf {

constexpr int kBlankUnits = 1000;    // font units in an em
constexpr int kBlankAdvance = 500;   // width of every glyph
constexpr int kBlankAscent = 750;    // thousandths of an em
constexpr int kBlankDescent = -250;  // thousandths of an em

// `glyphs`: how many beside glyph 0.
std::vector<uint8_t> blank_font(int glyphs);

}  // namespace burnisher::pdf
