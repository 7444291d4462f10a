// The text of a PDF page: each word stretched to its box along its baseline, however that runs on
// the sheet, real spaces between words, characters numbered as they occur in the document. Words
// that have a type are seen, set in it; all others lie invisibly over the picture.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "page/page.h"
#include "type/typefaces.h"

namespace burnisher::pdf {

// Characters get codes 1, 2, 3... in the order they are first used.
class CharacterCodes {
 public:
  int code_of(char32_t character);
  const std::map<int, char32_t>& characters() const { return by_code_; }
  // The ToUnicode CMap (Adobe Technical Note 5411).
  std::string to_unicode() const;

 private:
  std::map<char32_t, int> codes_;
  std::map<int, char32_t> by_code_;
};

// How far a word extents above and below its baseline, in steps of kExtentStep of an em. Viewers
// take a word's box from its font, so that words of every extent have a font of their own; all
// share one font program.
struct FontExtent {
  int above = 0, below = 0;
  bool operator<(const FontExtent& other) const {
    return above != other.above ? above < other.above : below < other.below;
  }
};
constexpr double kExtentStep = 0.06;  // em; finer steps would make a font for nearly every word

// A typeface as a document uses it.
struct SetFace {
  int number = 0;
  const type::Typeface* face = nullptr;
  CharacterCodes codes;

  std::string name() const { return "F" + std::to_string(number); }
};

class TextFonts {
 public:
  // The resource name, as in "T3".
  std::string name_of(const FontExtent& extent);
  const std::map<FontExtent, int>& all() const { return numbers_; }
  CharacterCodes codes;  // of invisible text

  SetFace& face(const type::TypefaceName& name);
  const std::map<type::TypefaceName, SetFace>& faces() const { return faces_; }

 private:
  std::map<FontExtent, int> numbers_;
  type::Typefaces opened_;
  std::map<type::TypefaceName, SetFace> faces_;
};

// A stretch of the content that belongs to one block, or to one cell of a table.
struct TaggedPart {
  size_t block = 0;
  int cell = -1;  // of the block's cells; -1: all of the block
  int id = 0;     // MCID
};

struct TextLayer {
  std::string content;  // PDF operators
  std::vector<TaggedPart> parts;
};

// Where a page lies on its sheet of paper.
struct SheetFrame {
  PlaneMap to_sheet;     // page pixels to pixels of the sheet
  double height = 0;     // of the sheet, pixels
  double points = 0.24;  // in a pixel
  int first_id = 0;      // MCID of the first part
};

TextLayer text_layer(const Page& page, const SheetFrame& frame, TextFonts& fonts);

// The tag of a block: P, H1 ... H6, Table, Note, Caption; empty for what is not read out, running
// heads and page numbers.
std::string tag_of(const Block& block);

}  // namespace burnisher::pdf
