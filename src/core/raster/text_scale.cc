#include "raster/text_scale.h"

#include <algorithm>
#include <cmath>

namespace burnisher {
namespace {

constexpr int kSmallestLetter = 5;    // pixels; lower ones are dots, specks or unreadable
constexpr int kLargestLetter = 400;   // pixels; larger ones are no running text
constexpr int kFewestLetters = 12;    // fewer tell no height
constexpr double kBinsPerOctave = 8;  // bins a ninth apart: what differs by less is one size

// Letters are neither hairlines nor long bars, neither solid nor mostly air, and no dots: leaders
// can outnumber them.
bool letter_like(const Component& c) {
  if (c.height() < kSmallestLetter || c.height() > kLargestLetter) return false;
  const double aspect = static_cast<double>(c.width()) / c.height();
  const double fill = static_cast<double>(c.area) / (static_cast<double>(c.width()) * c.height());
  const bool dot = fill > 0.68 && aspect > 0.6 && aspect < 1.7;
  return aspect > 0.25 && aspect < 3 && fill > 0.12 && fill < 0.9 && !dot;
}

}  // namespace

double dominant_height(const std::vector<Component>& components) {
  std::vector<double> bins(static_cast<size_t>(kBinsPerOctave * 9), 0.0);
  int letters = 0;
  for (const Component& c : components) {
    if (!letter_like(c)) continue;
    ++letters;
    const double at = kBinsPerOctave * std::log2(static_cast<double>(c.height()) / kSmallestLetter);
    // Larger letters are rarer; weighing them up a little keeps specks of a noisy page from
    // winning.
    bins[static_cast<size_t>(at)] += std::sqrt(c.height());
  }
  if (letters < kFewestLetters) return 0;
  size_t best = 0;
  double most = 0;
  for (size_t i = 0; i < bins.size(); ++i) {
    const double around =
        bins[i] + (i > 0 ? bins[i - 1] : 0) + (i + 1 < bins.size() ? bins[i + 1] : 0);
    if (around > most) {
      most = around;
      best = i;
    }
  }
  double sum = 0, count = 0;
  for (const Component& c : components) {
    if (!letter_like(c)) continue;
    const double at = kBinsPerOctave * std::log2(static_cast<double>(c.height()) / kSmallestLetter);
    if (std::fabs(std::floor(at) - static_cast<double>(best)) > 1) continue;
    sum += c.height();
    count += 1;
  }
  return sum / count;
}

double height_of_few(const std::vector<Component>& components) {
  std::vector<int> heights;
  for (const Component& c : components)
    if (letter_like(c)) heights.push_back(c.height());
  if (heights.empty()) return 0;
  std::sort(heights.begin(), heights.end());
  return heights[heights.size() / 2 + heights.size() / 4];
}

double stroke_width(const std::vector<Run>& runs) {
  constexpr int kWidest = 60;  // pixels of a stroke
  std::vector<int> lengths(kWidest + 2, 0);
  for (const Run& run : runs) ++lengths[static_cast<size_t>(std::min(run.x1 - run.x0, kWidest))];
  int best = 0, most = 0;
  for (int l = 2; l < kWidest; ++l) {  // single pixels are grain
    const auto k = static_cast<size_t>(l);
    const int around = lengths[k - 1] + 2 * lengths[k] + lengths[k + 1];
    if (around > most) {
      most = around;
      best = l;
    }
  }
  return best;
}

}  // namespace burnisher
