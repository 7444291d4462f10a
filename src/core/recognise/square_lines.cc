#include "recognise/square_lines.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "base/statistics.h"
#include "base/unicode.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

const StripFrame kSeen{64, 16, 44};
constexpr double kAbove = 2.3,
                 kBelow = 0.8;      // x-heights as layout has them: where ink is looked for
constexpr int kDark = 110;          // strip samples from which on they are ink
constexpr double kLeastRow = 0.06;  // of the fullest row's ink: the line's own rows
constexpr int kMostWhite = 2;       // rows between parts of characters
// Of the square's side: what the ink of a line fills of it, and how far it goes below the baseline
// (the ideographs of the training faces: 0.90 to 0.95, and 0.06 to 0.09).
constexpr double kFilled = 0.93, kBelowBaseline = 0.08;
constexpr double kUnlike = 0.12;    // of the usual ratio
constexpr double kFewest = 5;       // squares: shorter lines tell nothing
constexpr double kUsualSide = 1.6;  // x-heights, where no line tells

// Of one line: the square's side, and its baseline below the place's; x-heights.
struct Square {
  double side = 0, down = 0;
};

std::optional<Square> square_of(const Gray& gray, const LinePlace& place) {
  const StripMap map(place, kSeen, 0, 0);
  const Gray strip = extract_strip(gray, map, kSeen);
  const int first = static_cast<int>(kSeen.baseline - kAbove * kSeen.x_height),
            last = static_cast<int>(kSeen.baseline + kBelow * kSeen.x_height);
  std::vector<int> ink(static_cast<size_t>(kSeen.height), 0);
  double all = 0, moment = 0;
  for (int y = first; y < last; ++y) {
    int& row = ink[static_cast<size_t>(y)];
    for (int x = 0; x < strip.width(); ++x) row += strip.row(y)[x] > kDark;
    all += row;
    moment += static_cast<double>(row) * y;
  }
  if (all == 0) return std::nullopt;
  const int fullest = *std::max_element(ink.begin(), ink.end());
  const auto own = [&](int y) {
    return y >= first && y < last && ink[static_cast<size_t>(y)] >= kLeastRow * fullest;
  };
  const auto end_of = [&](int y, int step) {
    for (int white = 0; white <= kMostWhite;) {
      if (own(y + step * (white + 1))) {
        y += step * (white + 1);
        white = 0;
      } else {
        ++white;
      }
    }
    return y;
  };
  const int middle = static_cast<int>(moment / all);
  const int top = end_of(middle, -1), bottom = end_of(middle, 1) + 1;
  Square square;
  square.side = (bottom - top) / kFilled / kSeen.x_height;
  if (strip.width() < kFewest * square.side * kSeen.x_height) return std::nullopt;
  square.down = (bottom - kSeen.baseline) / kSeen.x_height - kBelowBaseline * square.side;
  return square;
}

constexpr double kNearest = 0.55;  // of the square's side, between two characters' middles

bool fills_square(char32_t c) {
  return is_letter(c) && (is_ideographic(c) || script_of(c) == "Hang");
}

// Half of its square is white.
bool is_wide_sign(char32_t c) {
  return is_ideographic(c) && !is_letter(c) && !is_digit(c);
}

constexpr double kBlank = 1.4;  // of the usual pitch, between characters that a blank parts

// Frames between neighbouring ideographs; `square` where there are none.
double usual_pitch(const std::vector<ReadCharacter>& characters, double square) {
  std::vector<double> steps;
  for (size_t i = 1; i < characters.size(); ++i) {
    if (fills_square(characters[i - 1].character) && fills_square(characters[i].character))
      steps.push_back(characters[i].peak_frame - characters[i - 1].peak_frame);
  }
  return steps.empty() ? square : median(steps);
}

}  // namespace

std::vector<LinePlace> placed_in_squares(const Gray& gray, std::vector<LinePlace> places) {
  std::vector<std::optional<Square>> seen(places.size());
  parallel_each(static_cast<int>(places.size()), [&](int i) {
    const auto k = static_cast<size_t>(i);
    seen[k] = square_of(gray, places[k]);
  });
  std::vector<double> sides, downs;
  for (const auto& square : seen) {
    if (!square) continue;
    sides.push_back(square->side);
    downs.push_back(square->down);
  }
  const Square usual{sides.empty() ? kUsualSide : median(sides),
                     downs.empty() ? -kBelowBaseline * kUsualSide : median(downs)};
  for (size_t i = 0; i < places.size(); ++i) {
    const bool like = seen[i] && std::abs(seen[i]->side / usual.side - 1) < kUnlike;
    const Square square = like ? *seen[i] : usual;
    LinePlace& place = places[i];
    const Point run = place.baseline.back() - place.baseline.front();
    const double length = std::max(1e-6, std::hypot(run.x, run.y));
    const Point down = Point{-run.y, run.x} * (square.down * place.x_height / length);
    for (Point& p : place.baseline) p = p + down;
    place.x_height *= square.side / 2;
  }
  return places;
}

std::vector<ReadCharacter> as_squares(std::vector<ReadCharacter> characters,
                                      const StripFrame& frame) {
  const double nearest = kNearest * 2 * frame.x_height / kFrameWidth;
  std::vector<ReadCharacter> apart;
  for (const ReadCharacter& c : characters) {
    const bool doubled = !apart.empty() && fills_square(c.character) &&
                         fills_square(apart.back().character) &&
                         c.peak_frame - apart.back().peak_frame < nearest;
    if (!doubled)
      apart.push_back(c);
    else if (c.confidence > apart.back().confidence)
      apart.back() = c;
  }
  const double pitch = usual_pitch(apart, 2 * frame.x_height / kFrameWidth);
  std::vector<ReadCharacter> kept;
  for (size_t i = 0; i < apart.size(); ++i) {
    if (apart[i].character == U' ' && i > 0 && i + 1 < apart.size()) {
      const ReadCharacter &before = apart[i - 1], &after = apart[i + 1];
      const bool ideographs = is_ideographic(before.character) && is_ideographic(after.character);
      const bool sign = is_wide_sign(before.character) || is_wide_sign(after.character);
      if (ideographs && (sign || after.peak_frame - before.peak_frame < kBlank * pitch)) continue;
    }
    kept.push_back(apart[i]);
  }
  return kept;
}

}  // namespace burnisher::recognise
