#include "train/examples.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/printed_order.h"
#include "base/unicode.h"
#include "raster/blur.h"
#include "recognise/joined_lines.h"
#include "recognise/reader.h"

namespace burnisher::train {
namespace {

constexpr double kBeside = 3, kAbove = 4, kBelow = 2.5;  // x-heights of surroundings
// Standard deviations: share of the size, x-heights of the baseline.
constexpr double kSizeSpread = 0.06, kSinkSpread = 0.05;

uint8_t clamped(double v) {
  return static_cast<uint8_t>(std::clamp(v, 0.0, 255.0));
}

}  // namespace

Example example_of(const std::string& page, const Gray& picture, recognise::LinePlace place,
                   const std::string& text) {
  Example example;
  example.page = page;
  for (char32_t c : decode_utf8(to_nfc(text))) {
    const bool space = c == U' ' || c == U'\t' || c == U'\n' || c == U'\u00a0';
    if (space && (example.text.empty() || example.text.back() == U' ')) continue;
    example.text.push_back(space ? U' ' : c);
  }
  if (!example.text.empty() && example.text.back() == U' ') example.text.pop_back();
  const auto is_arabic = [](char32_t c) { return is_letter(c) && script_of(c) == "Arab"; };
  if (2 * std::count_if(example.text.begin(), example.text.end(), is_arabic) >
      static_cast<long>(example.text.size()))
    place = recognise::placed_on_joining_stroke(picture, {place}).front();
  const Box run = bounds(place.baseline);
  const double xh = place.x_height;
  const int x0 = std::clamp(static_cast<int>(run.x0 - kBeside * xh), 0, picture.width());
  const int x1 = std::clamp(static_cast<int>(run.x1 + kBeside * xh), x0, picture.width());
  const int y0 = std::clamp(static_cast<int>(run.y0 - kAbove * xh), 0, picture.height());
  const int y1 = std::clamp(static_cast<int>(run.y1 + kBelow * xh), y0, picture.height());
  example.picture = Gray(x1 - x0, y1 - y0);
  for (int y = y0; y < y1; ++y)
    std::copy(picture.row(y) + x0, picture.row(y) + x1, example.picture.row(y - y0));
  for (Point& p : place.baseline) p = p - Point{static_cast<double>(x0), static_cast<double>(y0)};
  example.place = place;
  return example;
}

Gray strip_of(const Example& example, const recognise::StripFrame& frame) {
  const recognise::StripMap map(example.place, frame, recognise::kStripMargin,
                                recognise::kStripMargin);
  return extract_strip(example.picture, map, frame);
}

TrainingLine varied(const Example& example, const recognise::StripFrame& frame,
                    const recognise::Alphabet& alphabet, Random& random) {
  recognise::LinePlace place = example.place;
  const double sink = kSinkSpread * place.x_height * random.normal();
  for (Point& p : place.baseline) p.y += sink;
  place.x_height *= std::exp(kSizeSpread * random.normal());
  const recognise::StripMap map(place, frame, random.uniform(0.2, 1.2), random.uniform(0.2, 1.2));
  TrainingLine line;
  line.text = as_printed(example.text);
  for (char32_t c : line.text) line.classes.push_back(alphabet.class_of(c));
  line.strip = extract_strip(example.picture, map, frame);
  const double strength = random.chance(0.5) ? random.uniform(0.8, 1.1) : 1;
  const double noise = random.chance(0.4) ? random.uniform(2, 9) : 0;
  const double blur = random.chance(0.25) ? random.uniform(0.3, 0.9) : 0;
  if (blur > 0) {
    FloatImage field(line.strip.width(), line.strip.height());
    for (int y = 0; y < field.height(); ++y)
      std::copy(line.strip.row(y), line.strip.row(y) + field.width(), field.row(y));
    gaussian_blur(field, blur);
    for (int y = 0; y < field.height(); ++y) {
      for (int x = 0; x < field.width(); ++x)
        line.strip.row(y)[x] = clamped(static_cast<double>(field.row(y)[x]));
    }
  }
  for (int y = 0; y < line.strip.height(); ++y) {
    uint8_t* row = line.strip.row(y);
    for (int x = 0; x < line.strip.width(); ++x) {
      const double ink = (row[x] - recognise::kPaperLevel) * strength;
      row[x] = clamped(recognise::kPaperLevel + ink + noise * random.normal());
    }
  }
  return line;
}

std::string missing_characters(const std::vector<Example>& examples, const std::string& known) {
  std::set<char32_t> missing;
  const recognise::Alphabet alphabet(known);
  for (const Example& example : examples) {
    for (char32_t c : example.text) {
      if (alphabet.class_of(c) == 0) missing.insert(c);
    }
  }
  return encode_utf8(std::vector<char32_t>(missing.begin(), missing.end()));
}

}  // namespace burnisher::train
