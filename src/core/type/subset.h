// The part of a typeface that a document uses, to embed.
#pragma once

#include <cstdint>
#include <vector>

#include "type/typefaces.h"

namespace burnisher::type {

struct Subset {
  std::vector<uint8_t> font;  // OpenType with outlines in `glyf`
  std::vector<int> glyphs;    // for each glyph asked for, its number in it
};

// Throws OutputError.
Subset subset_of(const TypefaceName& name, const std::vector<int>& glyphs);

}  // namespace burnisher::type
