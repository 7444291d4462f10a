// Sets a line of text as ink on an empty field: shaping by HarfBuzz, outlines by FreeType, with the
// variations of metal type, typewriters and typesetting programs applied to the outlines.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"
#include "base/random.h"
#include "compose/typefaces.h"
#include "raster/image.h"

namespace burnisher::compose {

// Lengths in em unless said otherwise.
struct TypeStyle {
  double x_height = 20;     // pixels
  double condense = 1;      // horizontal scale
  double slant = 0;         // shear, x per y
  double embolden = 0;      // change of stroke width
  double tracking = 0;      // extra space after every character
  double word_space = 1;    // factor on the width of a space
  double leader_space = 0;  // extra space between the dots of a leader
  double wander = 0;        // standard deviation of each glyph's height on the line
  double ink_spread = 0;    // spread of ink strength between glyphs, 0-1
  double strength = 1;      // of the ink, 0-1: small print of forms is often pale
  bool ligatures = true;
  bool kerning = true;
  bool vertical_forms = false;  // the glyphs of lines that run downwards, as they stand in these
};

// Where a character of the text came to stand: the middle of its advance, from the line's left.
struct SetCharacter {
  double centre = 0;
};

struct SetGlyph {
  const Typeface* face = nullptr;
  unsigned id = 0;
  double x = 0, y = 0;  // origin from the line's left, pixels, y up
  double strength = 1;
};

struct SetLine {
  std::vector<SetGlyph> glyphs;
  std::vector<SetCharacter> characters;  // as many as the text has
  double width = 0;                      // pixels
  double em = 0;                         // pixels
};

// Sets `text`, which is in logical order; `right_to_left`: the line's direction. The style's
// x-height is that of the script most of its letters are of.
SetLine set_line(const TypefacePair& faces, const std::vector<char32_t>& text, bool right_to_left,
                 const TypeStyle& style, Random& random);
SetLine set_line(const Typeface& face, const std::vector<char32_t>& text, const TypeStyle& style,
                 Random& random);

// ISO 15924 code of the script that most letters of `text` are of; "Latn" when it has none.
std::string main_script(const std::vector<char32_t>& text);

// Puts the line's ink on `ink` (0 none ... 1 full) with its left at (x, baseline); `mirrored`: as
// its own mirror image, in the same place. Returns the ink's bounds.
Box print_line(const SetLine& line, const TypeStyle& style, double x, double baseline,
               FloatImage& ink, bool mirrored = false);

}  // namespace burnisher::compose
