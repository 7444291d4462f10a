#include "layout/letters.h"

#include <algorithm>

namespace burnisher::layout {
namespace {

// All in text heights.
constexpr double kLowestLetter = 0.45;
constexpr double kLargest = 7;  // larger things are letters only where text was seen
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

// Of the maps' 0-1.
constexpr double kTextSeen = 0.35;  // the core of a line, at its highest over a letter
constexpr double kNoPrint = 0.5;    // a picture, a mark, the bed
constexpr double kTextNear = 0.3;   // within a text height of a speck
constexpr size_t kGrainy = 25000;   // components: pages with more are grainy, or newspapers
constexpr double kLargeText = 0.3;  // of a headline's letters, on the mean of their box

enum class Matter { kText, kPicture, kOther };

Matter matter_of(const Component& c, const PageMaps& maps, double h) {
  if (maps.empty()) return Matter::kText;
  const Box box = c.box();
  const double large = std::max(box.width(), box.height()) > kLargest * h;
  const double text = maps.most(kBandMap, box);
  if (large ? maps.mean(kBandMap, box) > kLargeText : text > kTextSeen) return Matter::kText;
  if (maps.mean(kPictureMap, box) > kNoPrint) return Matter::kPicture;
  if (maps.mean(kMarkMap, box) > kNoPrint || maps.mean(kPaperMap, box) < 1 - kNoPrint)
    return Matter::kOther;
  return large ? Matter::kPicture : Matter::kText;
}

// On a page of grain, specks that no text was seen near.
bool is_grain(const Component& c, const PageMaps& maps, double h) {
  const Box round{c.x0 - h, c.y0 - h, c.x1 + h, c.y1 + h};
  return maps.most(kBandMap, round) < kTextNear;
}

}  // namespace

Sorted sort_components(const std::vector<Component>& components, const PageMaps& maps, double h) {
  Sorted sorted;
  const bool grainy = components.size() > kGrainy && !maps.empty();
  for (const Component& c : components) {
    if (grainy && c.height() < h && is_grain(c, maps, h)) {
      sorted.others.push_back(c);
      continue;
    }
    const bool large = std::max(c.width(), c.height()) > kLargest * h;
    if (is_rule(c, h) || (large && is_frame(c))) {
      sorted.rules.push_back(c);
      continue;
    }
    switch (matter_of(c, maps, h)) {
      case Matter::kPicture:
        sorted.pictures.push_back(c);
        break;
      case Matter::kOther:
        sorted.others.push_back(c);
        break;
      case Matter::kText:
        if (is_blot(c, h) && maps.most(kBandMap, c.box()) < kTextSeen)
          sorted.others.push_back(c);
        else if (c.height() < kLowestLetter * h || is_quote(c, h))
          sorted.marks.push_back(c);
        else
          sorted.letters.push_back(c);
    }
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
