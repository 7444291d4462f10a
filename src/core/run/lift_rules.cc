#include "run/lift_rules.h"

#include <algorithm>
#include <utility>

#include "base/statistics.h"
#include "clean/rules.h"
#include "raster/components.h"

namespace burnisher::run {
namespace {

bool is_upright(const Box& rule) {
  return rule.height() > rule.width();
}

double thickness_of(const Box& rule) {
  return std::min(rule.width(), rule.height());
}

Box with_thickness(const Box& rule, double thickness) {
  const Point middle = rule.centre();
  return is_upright(rule)
             ? Box{middle.x - thickness / 2, rule.y0, middle.x + thickness / 2, rule.y1}
             : Box{rule.x0, middle.y - thickness / 2, rule.x1, middle.y + thickness / 2};
}

// Whether a piece of ink is a part of a rule, or goes on where it ends.
bool belongs_to(const Box& rule, const Box& ink, double reach) {
  constexpr double kStray = 4;  // pixels that a rule's ink strays from it
  const auto along = [&](const Box& box) {
    return is_upright(rule) ? std::pair(box.y0, box.y1) : std::pair(box.x0, box.x1);
  };
  const auto across = [&](const Box& box) {
    return is_upright(rule) ? std::pair(box.x0, box.x1) : std::pair(box.y0, box.y1);
  };
  const auto [from, to] = across(rule);
  const auto [start, end] = along(rule);
  return across(ink).first >= from - kStray && across(ink).second <= to + kStray &&
         along(ink).second >= start - reach && along(ink).first <= end + reach;
}

// One rule for pieces that lie on one line.
std::vector<Box> joined(const std::vector<Box>& pieces, double reach) {
  std::vector<Box> rules;
  for (const Box& piece : pieces) {
    const auto other = std::find_if(rules.begin(), rules.end(), [&](const Box& rule) {
      return is_upright(rule) == is_upright(piece) && belongs_to(rule, piece, reach);
    });
    if (other == rules.end()) {
      rules.push_back(piece);
      continue;
    }
    const Box& longer =
        std::max(other->width(), other->height()) >= std::max(piece.width(), piece.height())
            ? *other
            : piece;
    *other = is_upright(piece) ? Box{longer.x0, std::min(other->y0, piece.y0), longer.x1,
                                     std::max(other->y1, piece.y1)}
                               : Box{std::min(other->x0, piece.x0), longer.y0,
                                     std::max(other->x1, piece.x1), longer.y1};
  }
  return rules;
}

// Rules that are meant to be alike are.
void even_out(std::vector<Box>& rules) {
  constexpr double kAlike = 1.6;  // ratio of thicknesses within one rule
  std::vector<double> all;
  for (const Box& rule : rules) all.push_back(thickness_of(rule));
  const double usual = median(all);
  for (Box& rule : rules) {
    const double own = thickness_of(rule);
    if (own < kAlike * usual && usual < kAlike * own) rule = with_thickness(rule, usual);
  }
}

}  // namespace

std::vector<Box> lift_rules(const std::vector<Block>& blocks, double text_height, Bitonal& ink) {
  constexpr double kDrift = 3;   // pixels that a rule's box may be thicker than the rule
  constexpr double kRagged = 2;  // pixels that a rule's edge strays
  std::vector<Box> rules, bands;
  for (const Component& rule : clean::rules_of(ink, text_height).list) {
    const Box box = rule.box();
    const bool drawn = std::any_of(blocks.begin(), blocks.end(), [&](const Block& block) {
      return block.kind == BlockKind::kPicture && bounds(block.outline).contains(box.centre());
    });
    const double thickness = std::max(1.0, rule.area / std::max(box.width(), box.height()));
    if (drawn || thickness_of(box) > 2 * thickness + kDrift) continue;
    rules.push_back(with_thickness(box, thickness));
    bands.push_back({box.x0 - kRagged, box.y0 - kRagged, box.x1 + kRagged, box.y1 + kRagged});
  }
  const Components components = components_of(ink);
  std::vector<bool> gone(components.list.size());
  for (size_t c = 0; c < gone.size(); ++c) {
    const Box box = components.list[c].box();
    for (Box& rule : rules) {
      if (gone[c] || !belongs_to(rule, box, text_height)) continue;
      gone[c] = true;
      rule = is_upright(rule)
                 ? Box{rule.x0, std::min(rule.y0, box.y0), rule.x1, std::max(rule.y1, box.y1)}
                 : Box{std::min(rule.x0, box.x0), rule.y0, std::max(rule.x1, box.x1), rule.y1};
    }
  }
  // Where rules cross, or touch what stays, the band alone goes.
  for (const Run& run : components.runs) {
    if (gone[static_cast<size_t>(run.component)]) continue;
    for (const Box& band : bands) {
      if (run.y < band.y0 || run.y >= band.y1) continue;
      const int from = std::max(run.x0, static_cast<int>(band.x0));
      const int to = std::min(run.x1, static_cast<int>(band.x1));
      for (int x = from; x < to; ++x) ink.set_ink(x, run.y, false);
    }
  }
  erase(components, gone, ink);
  rules = joined(rules, text_height);
  even_out(rules);
  return rules;
}

}  // namespace burnisher::run
