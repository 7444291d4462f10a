#include "layout/letters.h"

#include <algorithm>

namespace burnisher::layout {
namespace {

// All in text heights.
constexpr double kLowestLetter = 0.45;
constexpr double kHighestLetter = 7;    // headlines
constexpr double kWidestTouching = 25;  // a line of touching letters
constexpr double kHighestTouching = 3.5;
constexpr double kLongRule = 6, kThickRule = 0.5;
constexpr double kHighRule = 5;
constexpr double kHighestQuote = 0.78, kWidestQuote = 0.52;
constexpr double kTrack = 0.25;  // beside a rule: where its scraps lie
constexpr double kLowestBlot = 1.5;
constexpr double kPictureFill = 0.12;  // less ink in its box: a frame, which may hold text

bool is_rule(const Component& c, double h) {
  const double fill = static_cast<double>(c.area) / (static_cast<double>(c.width()) * c.height());
  const bool level = c.width() > kLongRule * h && c.height() < kThickRule * h;
  const bool upright = c.height() > kHighRule * h && c.width() < kThickRule * h;
  // A rule that is a little bent or crooked fills its box badly but stays thin.
  const bool bent = c.width() > 3 * kLongRule * h && c.height() < 1.2 * h && fill < 0.35;
  const bool leaning = c.height() > 3 * kHighRule * h && c.width() < 1.2 * h && fill < 0.35;
  return level || upright || bent || leaning;
}

// Punch holes and blots: solid, round, larger than any full stop and unlike a letter.
bool is_blot(const Component& c, double h) {
  const double fill = static_cast<double>(c.area) / (static_cast<double>(c.width()) * c.height());
  const double aspect = static_cast<double>(c.width()) / c.height();
  return fill > 0.7 && aspect > 0.6 && aspect < 1.7 && c.height() > kLowestBlot * h;
}

// Halves of quotation marks are as high as small letters, but far narrower.
bool is_quote(const Component& c, double h) {
  return c.height() < kHighestQuote * h && c.width() < kWidestQuote * h;
}

bool is_frame(const Component& c) {
  const double fill = static_cast<double>(c.area) / (static_cast<double>(c.width()) * c.height());
  return fill < kPictureFill;
}

bool inside(const Component& c, const Component& of) {
  return c.x0 >= of.x0 && c.x1 <= of.x1 && c.y0 >= of.y0 && c.y1 <= of.y1;
}

}  // namespace

Sorted sort_components(const std::vector<Component>& components, double h) {
  Sorted sorted;
  std::vector<Component> large;
  for (const Component& c : components) {
    if (is_rule(c, h)) {
      sorted.rules.push_back(c);
    } else if (is_blot(c, h)) {
      sorted.pictures.push_back(c);
    } else if (c.height() > kHighestLetter * h ||
               (c.width() > kHighestLetter * h && c.height() > kHighestTouching * h) ||
               c.width() > kWidestTouching * h) {
      large.push_back(c);
    } else if (c.height() < kLowestLetter * h || is_quote(c, h)) {
      sorted.marks.push_back(c);
    } else {
      sorted.letters.push_back(c);
    }
  }
  for (const Component& c : large) (is_frame(c) ? sorted.rules : sorted.pictures).push_back(c);
  const std::vector<Component> pictures = sorted.pictures;
  const auto covered = [&](const Component& c) {
    return std::any_of(pictures.begin(), pictures.end(),
                       [&](const Component& p) { return inside(c, p); });
  };
  for (auto* group : {&sorted.letters, &sorted.marks}) {
    const auto first = std::stable_partition(group->begin(), group->end(),
                                             [&](const Component& c) { return !covered(c); });
    sorted.pictures.insert(sorted.pictures.end(), first, group->end());
    group->erase(first, group->end());
  }
  return sorted;
}

void drop_rule_bits(const std::vector<Component>& rules, double text_height, Sorted& sorted) {
  const double reach = kTrack * text_height;
  const auto scrap = [&](const Component& c) {
    return std::any_of(rules.begin(), rules.end(), [&](const Component& rule) {
      return rule.height() > rule.width() && c.x0 > rule.x0 - reach && c.x1 < rule.x1 + reach &&
             c.y0 > rule.y0 - reach && c.y1 < rule.y1 + reach;
    });
  };
  for (auto* group : {&sorted.letters, &sorted.marks})
    group->erase(std::remove_if(group->begin(), group->end(), scrap), group->end());
}

}  // namespace burnisher::layout
