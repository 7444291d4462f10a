// A sheet of paper that a page is set on: text, rules, pictures and marks go on as ink, and where
// they stand is kept as truth. Lengths are pixels of the sheet, which is as fine as the scan.
//
// A page that runs from right to left is set like any other, with each word as its own mirror
// image; when it is done, the sheet as a whole is mirrored. So every family has it without knowing.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/random.h"
#include "compose/composed_page.h"
#include "compose/degrade.h"
#include "compose/typefaces.h"
#include "compose/typeset.h"

namespace burnisher::compose {

using Text = std::vector<char32_t>;
// A piece of running text of at most so many characters.
using TextSupply = std::function<Text(int longest, Random&)>;

// What a page is set in: a language, say.
struct PageText {
  TextSupply words;
  std::string script = "Latn";  // ISO 15924
  bool right_to_left = false;
};

struct Font {
  const Typeface* face = nullptr;
  TypeStyle style;
  double pitch = 0;  // from baseline to baseline

  Font sized(double factor) const;  // the same face larger or smaller
};

enum class Align { kJustified, kLeft, kRight, kCentred };

struct ParagraphStyle {
  Align align = Align::kJustified;
  double indent = 0;  // of the first line; below zero: it hangs out to the left
  int words = 60;
  Box hole;  // text flows past it, on the side where it leaves more room
};

class Sheet {
 public:
  Sheet(int width, int height, const PageText& text, Random& random);

  double width() const { return ink_.width(); }
  double height() const { return ink_.height(); }
  Random& random() { return random_; }

  // What is set from now on belongs to a new block.
  void begin(BlockKind kind, int level = 0);
  Block& block() { return page_.truth.blocks.back(); }
  // The lines of the block from `first_line` on make a cell of its table, one column wide.
  Cell& cell(int row, int column, size_t first_line, const Box& box);

  std::vector<Text> words(int count);
  // Sets words in one line, their first at `x` (right and centred: that place of the line), and
  // returns the ink's box. `justified_to` above 0 spreads them to that width.
  Box line(const Font& font, const std::vector<Text>& words, double x, double baseline,
           Align align = Align::kLeft, double justified_to = 0);
  // Breaks words into lines between column.x0 and column.x1 from `column.y0` down, as far as
  // column.y1; words that find no place are left out. Returns the height below the last line.
  double paragraph(const Font& font, const ParagraphStyle& style, const Box& column);
  double paragraph(const Font& font, const ParagraphStyle& style, const Box& column,
                   const std::vector<Text>& words);
  double width_of(const Font& font, const std::vector<Text>& words);

  // Upright or level; `gaps`: share of its length that is missing.
  void rule(Point from, Point to, double thickness, double gaps = 0);
  void frame(const Box& box, double thickness, double gaps = 0);
  void dots(Point from, double to_x, double pitch, double radius);  // a leader, or a dotted line
  void picture(const Box& box);                                     // a block of its own
  void scribble(const Box& box, double thickness);
  void stamp(const Box& box, double thickness);
  void tint(const Box& box, double strength);
  void reverse(const Box& box, double strength);  // what is set inside comes out as paper
  // Sets a line that runs up (or down) the sheet at `x`.
  void upright_line(const Font& font, const std::vector<Text>& words, double x, double y, bool up);

  // What was set, in the frame of the sheet (before it is printed: as if it ran from left to
  // right); the picture is for the camera to take.
  ComposedPage& page() { return page_; }
  // Where a part of the sheet comes to lie when it is printed.
  Box printed_place(const Box& box) const;
  // The ink, 0 none ... 1 full, when the press gives it its edge as `damage` says. Nothing may be
  // set afterwards.
  FloatImage printed(double x_height, const ScanDamage& damage);

 private:
  struct ReversedBox {
    Box box;
    float strength;
  };

  void stroke(FloatImage& on, Point a, Point b, double radius, float strength) const;
  void engraving(const Box& box);
  void frame_of_strokes(const Box& box, double radius);
  Text cleaned(const Font& font, const Text& word) const;
  SetLine set(const Font& font, const Text& text);
  void mirror();

  Random& random_;
  PageText text_;
  std::vector<Text> spare_;  // words drawn and not yet set
  FloatImage ink_;           // print
  FloatImage tone_;          // pictures, tints and marks: no press sharpens them
  std::vector<ReversedBox> reversed_;
  ComposedPage page_;
  double pale_words_ = 0, pale_ = 1;  // share of words that are pale, and what their ink is
};

}  // namespace burnisher::compose
