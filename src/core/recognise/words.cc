#include "recognise/words.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

constexpr int kInkThreshold = 110;     // strip sample from which on there is ink
constexpr double kLargestReach = 2.0;  // x-heights above the baseline that ink is looked for
constexpr double kLowestReach = 0.75;  // below

double centre_of(const ReadCharacter& c) {
  return (c.peak_frame + 0.5) * kFrameWidth;
}

// Strip columns [x0, x1) that hold ink within the line's own rows, trimmed; false without any.
bool trim_columns(const Gray& strip, int top, int bottom, double& x0, double& x1) {
  const auto inked = [&](int x) {
    for (int y = top; y < bottom; ++y) {
      if (strip.row(y)[x] >= kInkThreshold) return true;
    }
    return false;
  };
  int first = std::clamp(static_cast<int>(x0), 0, strip.width());
  int last = std::clamp(static_cast<int>(std::ceil(x1)), 0, strip.width());
  while (first < last && !inked(first)) ++first;
  while (last > first && !inked(last - 1)) --last;
  if (first == last) return false;
  x0 = first;
  x1 = last;
  return true;
}

// Rows of ink around the x-height band: outward from it until an empty row, so that the lines above
// and below stay out.
void trim_rows(const Gray& strip, const StripFrame& frame, double x0, double x1, double& top,
               double& bottom) {
  const auto inked = [&](int y) {
    for (int x = static_cast<int>(x0); x < static_cast<int>(x1); ++x) {
      if (strip.row(y)[x] >= kInkThreshold) return true;
    }
    return false;
  };
  const int base = std::min(strip.height() - 1, static_cast<int>(frame.baseline));
  const int highest =
      std::max(0, static_cast<int>(frame.baseline - kLargestReach * frame.x_height));
  const int lowest = std::min(strip.height() - 1,
                              static_cast<int>(frame.baseline + kLowestReach * frame.x_height));
  int first = base - static_cast<int>(frame.x_height), last = base - 1;
  int empty = 0;
  for (int y = first; y >= highest && empty < 3; --y) {
    if (inked(y)) {
      first = y;
      empty = 0;
    } else {
      ++empty;  // the gap under a dot or an accent
    }
  }
  while (first < last && !inked(first)) ++first;
  while (last > first && !inked(last)) --last;
  for (int y = last + 1; y <= lowest && inked(y); ++y) last = y;
  top = first;
  bottom = last + 1;
}

Box page_box(const StripMap& map, const PlaneMap& page_to_gray, double x0, double y0, double x1,
             double y1) {
  std::vector<Point> corners;
  for (const Point& p : {Point{x0, y0}, Point{x1, y0}, Point{x1, y1}, Point{x0, y1}}) {
    corners.push_back(page_to_gray.back(map.to_page(p)));
  }
  return bounds(corners);
}

}  // namespace

std::vector<Word> words_of(const std::vector<ReadCharacter>& characters, const Gray& strip,
                           const StripMap& map, const StripFrame& frame,
                           const PlaneMap& page_to_gray) {
  std::vector<Word> words;
  const int band_top = std::max(0, static_cast<int>(frame.baseline - 1.6 * frame.x_height));
  const int band_bottom =
      std::min(strip.height(), static_cast<int>(frame.baseline + 0.4 * frame.x_height));
  for (size_t i = 0; i < characters.size();) {
    if (characters[i].character == U' ') {
      ++i;
      continue;
    }
    size_t end = i;
    while (end < characters.size() && characters[end].character != U' ') ++end;
    // From the middle of the space before to the middle of the space after.
    double x0 =
        i == 0 ? centre_of(characters[i]) - 1.2 * frame.x_height : centre_of(characters[i - 1]);
    double x1 = end == characters.size() ? centre_of(characters[end - 1]) + 1.2 * frame.x_height
                                         : centre_of(characters[end]);
    x0 = std::min(x0, centre_of(characters[i]));
    x1 = std::max(x1, centre_of(characters[end - 1]));
    double top = frame.baseline - frame.x_height, bottom = frame.baseline;
    if (trim_columns(strip, band_top, band_bottom, x0, x1))
      trim_rows(strip, frame, x0, x1, top, bottom);
    Word word;
    std::vector<char32_t> text;
    word.confidence = word.network_confidence = 1;
    for (size_t k = i; k < end; ++k) {
      const double left =
          k == i ? x0 : (centre_of(characters[k - 1]) + centre_of(characters[k])) / 2;
      const double right =
          k + 1 == end ? x1 : (centre_of(characters[k]) + centre_of(characters[k + 1])) / 2;
      Glyph glyph;
      glyph.character = characters[k].character;
      glyph.confidence = characters[k].confidence;
      glyph.box = page_box(map, page_to_gray, std::max(x0, left), top,
                           std::min(std::max(left + 1, right), std::max(x1, left + 1)), bottom);
      word.confidence = std::min(word.confidence, glyph.confidence);
      word.network_confidence = std::min(word.network_confidence, characters[k].network_confidence);
      word.small_capitals = word.small_capitals || characters[k].small_capital;
      word.glyphs.push_back(glyph);
      text.push_back(glyph.character);
    }
    word.text = to_nfc(encode_utf8(text));
    word.box = page_box(map, page_to_gray, x0, top, x1, bottom);
    words.push_back(word);
    i = end;
  }
  return words;
}

}  // namespace burnisher::recognise
