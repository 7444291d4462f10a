// Where the words of a line begin and end in a PDF: invisible ones where their ink does; those set
// in type so that the line looks set, as wide as their neighbours and no nearer to them than they
// were.
#pragma once

#include <vector>

#include "base/plane.h"
#include "page/page.h"

namespace burnisher::pdf {

// The font's size beside the x-height: small enough that words are told apart by their gaps, which
// readers hold against it, large enough for the extent of accented capitals.
constexpr double kXHeightOfEm = 0.55;

// From where to where along its line, in pixels.
struct Extent {
  double from = 0, to = 0;
  double width() const { return to - from; }
};

// A line's way over the page: level lines by the sides of their words' boxes, steep ones by the
// middles of their glyphs, whose boxes are too wide to say more. A baseline that only wavers is
// straightened where words are set in type.
class BaselinePath {
 public:
  explicit BaselinePath(const Line& line);

  Extent extent(const Word& word) const;
  // The point of the baseline that `place` of a extent means.
  Point point(double place) const;
  bool steep() const { return steep_; }

 private:
  double at(Point p) const;

  const Line& line_;
  Polyline baseline_;
  Point along_;
  bool steep_ = false;
};

// How wide the ink of a word is by itself in its type, pixels (0: it has none), and the room its
// first and last letters have beside them, of that width.
struct SetWidth {
  double ink = 0, before = 0, after = 0;
};

// By word. Words so near to each other that readers would join them give way on both sides.
std::vector<Extent> extents_of(const Line& line, const BaselinePath& way,
                               const std::vector<SetWidth>& widths);

}  // namespace burnisher::pdf
