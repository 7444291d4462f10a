#include "pdf/word_extents.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "base/unicode.h"

namespace burnisher::pdf {
namespace {

constexpr double kSteep = 0.3;      // sine of the angle
constexpr double kLeastGap = 0.17;  // of an em; words nearer to each other run together in readers
constexpr double kWavering = 0.15;  // of an x-height: baselines that leave the straight by less
constexpr double kUneven = 1.05;    // words wider beside their natural width than their line's
constexpr double kLeastSetGap = 0.25;  // of an em, that a word grows up to

bool has_type(const Line& line) {
  return std::any_of(line.words.begin(), line.words.end(),
                     [](const Word& word) { return word.type.em > 0; });
}

// The straight line through a polyline by least squares, if it stays near.
Polyline straightened(const Polyline& line, double tolerance) {
  double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0;
  const double x0 = line.front().x, x1 = line.back().x;
  constexpr int kSteps = 32;  // along a baseline, enough for a letter each
  for (int i = 0; i <= kSteps; ++i) {
    const double x = x0 + (x1 - x0) * i / kSteps, y = height_at(line, x);
    n += 1, sx += x, sy += y, sxx += x * x, sxy += x * y;
  }
  const double slope = (n * sxy - sx * sy) / std::max(1e-9, n * sxx - sx * sx);
  const double start = (sy - slope * sx) / n;
  const Polyline straight = {{x0, start + slope * x0}, {x1, start + slope * x1}};
  for (const Point& p : line) {
    if (std::fabs(p.y - height_at(straight, p.x)) > tolerance) return line;
  }
  return straight;
}

// Figures are narrow in one typeface and wide in the next; letters say how wide type runs.
bool is_of_letters(const Word& word) {
  const auto text = decode_utf8(word.text);
  const auto letters =
      std::count_if(text.begin(), text.end(), [](char32_t c) { return is_letter(c); });
  return letters >= 3;
}

// Leaders and dashes are as long as they are.
bool has_letters_or_figures(const Word& word) {
  const auto text = decode_utf8(word.text);
  return std::any_of(text.begin(), text.end(),
                     [](char32_t c) { return is_letter(c) || is_digit(c); });
}

double em_of(const Line& line, size_t word) {
  return std::max(line.words[word].type.em, line.x_height / kXHeightOfEm);
}

// Each word of type as much wider or narrower than its letters are by themselves as its line is, as
// far as the gaps beside it allow; the line keeps its ends.
void even_out(const Line& line, const std::vector<SetWidth>& widths, std::vector<Extent>& extents) {
  std::vector<double> of_letters, of_all;
  for (size_t i = 0; i < extents.size(); ++i) {
    if (widths[i].ink <= 0) continue;
    of_all.push_back(extents[i].width() / widths[i].ink);
    if (is_of_letters(line.words[i])) of_letters.push_back(of_all.back());
  }
  if (of_all.size() < 2) return;
  const double usual = median(of_letters.empty() ? of_all : of_letters);
  const std::vector<Extent> were = extents;
  for (size_t i = 0; i < extents.size(); ++i) {
    if (widths[i].ink <= 0 || !has_letters_or_figures(line.words[i])) continue;
    const double wanted = widths[i].ink * std::clamp(were[i].width() / widths[i].ink,
                                                     usual / kUneven, usual * kUneven);
    const double more = wanted - were[i].width();
    const bool first = i == 0, last = i + 1 == extents.size();
    double left = first ? 0 : last ? more : more / 2;
    double right = more - left;
    const double least = kLeastSetGap * em_of(line, i);
    if (!first) left = std::min(left, std::max(0.0, (were[i].from - were[i - 1].to - least) / 2));
    if (!last) right = std::min(right, std::max(0.0, (were[i + 1].from - were[i].to - least) / 2));
    extents[i] = {were[i].from - left, were[i].to + right};
  }
}

}  // namespace

BaselinePath::BaselinePath(const Line& line) : line_(line), baseline_(line.baseline) {
  const Point whole = line.baseline.back() - line.baseline.front();
  const double length = std::max(1e-6, std::hypot(whole.x, whole.y));
  along_ = whole * (1 / length);
  steep_ = std::fabs(along_.y) > kSteep || along_.x <= 0;
  if (!steep_ && has_type(line)) baseline_ = straightened(baseline_, kWavering * line.x_height);
}

Extent BaselinePath::extent(const Word& word) const {
  if (!steep_) return {word.box.x0, word.box.x1};
  const Box& first = word.glyphs.empty() ? word.box : word.glyphs.front().box;
  const Box& last = word.glyphs.empty() ? word.box : word.glyphs.back().box;
  return {at(first.centre()) - 0.5 * line_.x_height, at(last.centre()) + 0.5 * line_.x_height};
}

Point BaselinePath::point(double place) const {
  if (!steep_) return {place, height_at(baseline_, place)};
  return baseline_.front() + along_ * place;
}

double BaselinePath::at(Point p) const {
  const Point from = p - baseline_.front();
  return from.x * along_.x + from.y * along_.y;
}

std::vector<Extent> extents_of(const Line& line, const BaselinePath& way,
                               const std::vector<SetWidth>& widths) {
  std::vector<Extent> extents;
  for (const Word& word : line.words) extents.push_back(way.extent(word));
  if (!way.steep()) even_out(line, widths, extents);
  for (size_t i = 0; i + 1 < extents.size(); ++i) {
    Extent &left = extents[i], &right = extents[i + 1];
    const double after = widths[i].ink > 0 ? widths[i].after * left.width() : 0;
    const double before = widths[i + 1].ink > 0 ? widths[i + 1].before * right.width() : 0;
    const double em = std::max(em_of(line, i), em_of(line, i + 1));
    const double lack = kLeastGap * em + after + before - (right.from - left.to);
    const double most = 0.4 * std::min(left.width(), right.width());
    if (lack <= 0 || right.from < left.from) continue;
    left.to -= std::min(lack / 2, most);
    right.from += std::min(lack / 2, most);
  }
  return extents;
}

}  // namespace burnisher::pdf
