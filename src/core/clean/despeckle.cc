#include "clean/despeckle.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "base/statistics.h"
#include "raster/text_scale.h"

namespace burnisher::clean {
namespace {

constexpr double kAutomaticShare = 1.0 / 3;  // of the text height
constexpr double kNear = 4;            // text heights within which letters tell where the line runs
constexpr double kTouching = 0.12;     // text heights; nearer parts are of a broken letter
constexpr double kBroken = 2.3;        // pixels: what the coarsest scans part
constexpr double kBesideLetter = 0.6;  // text heights from a letter to its full stop or quote
constexpr double kBesideQuote = 0.8;   // the first of two marks has the second between
constexpr double kLeastDot = 0.7, kLeastArea = 0.5;  // strokes' widths, and their square
constexpr double kMiddle =
    0.25;  // of a letter's width, that a dot below may stand beside its middle
constexpr double kBelowShare = 0.15;  // of all specks, of those that would stand below letters
// Scripts whose letters hang together (Arabic, Devanagari): so many components are that much wider
// than high. Arabic, Urdu, Hindi print has 0.11 to 0.8, Latin up to 0.03, where letters touch 0.09.
constexpr double kJoinedShare = 0.1, kJoinedWidth = 1.5;
constexpr double kBesideJoined = 0.6;  // text heights from such a letter to its dots
constexpr double kRowReach = 2.5;      // text heights to the next dot of a leader
constexpr double kRowDrift = 0.15;  // text heights between the feet of neighbours in a row of dots
constexpr double kAmong = 1;        // text heights from a letter
constexpr double kTooMany = 2;      // times as many specks among letters as elsewhere
constexpr double kTooFewToTell = 10;  // specks
constexpr int kGrain = 2;             // pixels that no letter claims on a fine scan
constexpr double kFineScan = 12;      // text height from which on that holds

// Components by coarse cells, to find neighbours quickly.
class Grid {
 public:
  Grid(const std::vector<Component>& list, double cell) : list_(list), cell_(cell) {}

  void add(int index) {
    const Component& c = list_[static_cast<size_t>(index)];
    for (int gy = at(c.y0); gy <= at(c.y1); ++gy) {
      for (int gx = at(c.x0); gx <= at(c.x1); ++gx) cells_[key(gx, gy)].push_back(index);
    }
  }

  template <typename Test>
  bool any(const Component& c, double reach, const Test& test) const {
    for (int gy = at(c.y0 - reach); gy <= at(c.y1 + reach); ++gy) {
      for (int gx = at(c.x0 - reach); gx <= at(c.x1 + reach); ++gx) {
        const auto found = cells_.find(key(gx, gy));
        if (found == cells_.end()) continue;
        for (int i : found->second) {
          if (test(list_[static_cast<size_t>(i)])) return true;
        }
      }
    }
    return false;
  }

 private:
  int at(double v) const { return static_cast<int>(std::floor(v / cell_)); }
  static int64_t key(int x, int y) {
    return (static_cast<int64_t>(y) << 32) ^ static_cast<uint32_t>(x);
  }

  const std::vector<Component>& list_;
  double cell_;
  std::unordered_map<int64_t, std::vector<int>> cells_;
};

double gap(const Component& a, const Component& b) {
  const double dx = std::max({0, a.x0 - b.x1, b.x0 - a.x1});
  const double dy = std::max({0, a.y0 - b.y1, b.y0 - a.y1});
  return std::hypot(dx, dy);
}

bool in_row(const Component& a, const Component& b, double text_height) {
  const double dy = (a.y0 + a.y1 - b.y0 - b.y1) / 2.0, dx = (a.x0 + a.x1 - b.x0 - b.x1) / 2.0;
  return std::fabs(dy) < kRowDrift * text_height && std::fabs(dx) > 1 &&
         std::fabs(dx) < kRowReach * text_height && a.area < 1.8 * b.area && b.area < 1.8 * a.area;
}

// The line that letters near a dot stand on: heights of its feet and of its small letters' tops.
struct LocalLine {
  double feet = 0, tops = 0;
};

// The middle length of each component's runs: the width of its upright strokes.
std::vector<double> strokes_of(const Components& found) {
  std::vector<std::vector<int>> runs(found.list.size());
  for (const Run& run : found.runs)
    runs[static_cast<size_t>(run.component)].push_back(run.x1 - run.x0);
  std::vector<double> strokes;
  for (std::vector<int>& lengths : runs) {
    const auto middle = lengths.begin() + static_cast<long>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    strokes.push_back(*middle);
  }
  return strokes;
}

class Judge {
 public:
  Judge(const Components& found, double limit, double text_height)
      : list_(found.list),
        limit_(limit),
        h_(text_height),
        strokes_(strokes_of(found)),
        letters_(list_, 2 * text_height),
        marks_(list_, 2 * text_height),
        dots_(list_, 2 * text_height) {
    int letters = 0, wide = 0;
    for (size_t i = 0; i < list_.size(); ++i) {
      const Component& c = list_[i];
      const bool letter = c.height() > 0.6 * h_ && c.height() < 6 * h_ && !small(c);
      letters += letter;
      wide += letter && c.width() > kJoinedWidth * c.height();
      if (letter)
        letters_.add(static_cast<int>(i));
      else if (!small(c))
        marks_.add(static_cast<int>(i));
      if (small(c)) dots_.add(static_cast<int>(i));
    }
    joined_ = wide > kJoinedShare * letters;
  }

  bool is_speck(const Component& c) const {
    if (!small(c)) return false;
    if (h_ >= kFineScan && c.area <= kGrain) return true;
    return !part_of_letter(c) && !in_leader(c) && !where_marks_stand(c) && !dot_of_joined(c);
  }

  // Dots below letters, of Vietnamese and of romanised scripts: more of what looks like a speck
  // stands under the middle of letters than specks do that fall everywhere alike.
  void spare_dots_below(std::vector<bool>& gone) const {
    std::vector<size_t> below;
    for (size_t i = 0; i < list_.size(); ++i)
      if (gone[i] && dot_below(list_[i])) below.push_back(i);
    const auto all = std::count(gone.begin(), gone.end(), true);
    if (static_cast<double>(below.size()) < kBelowShare * static_cast<double>(all)) return;
    for (const size_t i : below) gone[i] = false;
  }

  // Specks fall everywhere alike. Where far more of them seem to lie among the letters than the
  // rest of the page leads one to expect, they are the print itself: thin strokes that broke.
  void spare_broken_type(double page_area, std::vector<bool>& gone) const {
    double among_area = 0;
    int among = 0, apart = 0;
    std::vector<size_t> parts;
    for (size_t i = 0; i < list_.size(); ++i) {
      const Component& c = list_[i];
      if (!small(c)) among_area += (c.width() + kAmong * h_) * (c.height() + 2 * kAmong * h_);
      if (!gone[i] || c.area <= kGrain) continue;
      const bool near =
          letters_.any(c, kAmong * h_, [&](const Component& l) { return gap(c, l) < kAmong * h_; });
      ++(near ? among : apart);
      if (near) parts.push_back(i);
    }
    const double apart_area = std::max(0.2 * page_area, page_area - among_area);
    among_area = std::min(among_area, 0.8 * page_area);
    if (among < kTooMany * (apart * among_area / apart_area + kTooFewToTell)) return;
    for (size_t i : parts) gone[i] = false;
  }

 private:
  bool small(const Component& c) const { return c.width() <= limit_ && c.height() <= limit_; }

  // Nearly touching a letter; or beside it, within its height, where thin strokes broke away.
  bool part_of_letter(const Component& c) const {
    const double near = std::max(1.0, kTouching * h_), beside = std::max(kBroken, kTouching * h_);
    return letters_.any(c, beside, [&](const Component& l) {
      const bool within = c.y0 >= l.y0 && c.y1 <= l.y1 && c.area > kGrain;
      return gap(c, l) <= (within ? beside : near);
    });
  }

  // Joined letters have dots above, below and within, and a zero that is one.
  bool dot_of_joined(const Component& c) const {
    return joined_ && letters_.any(c, kBesideJoined * h_, [&](const Component& l) {
      return gap(c, l) < kBesideJoined * h_ && as_large_as_dots(c, l);
    });
  }

  bool dot_below(const Component& c) const {
    const double x = (c.x0 + c.x1) / 2.0;
    return letters_.any(c, 0.4 * h_, [&](const Component& l) {
      return as_large_as_dots(c, l) && std::fabs(x - (l.x0 + l.x1) / 2.0) < kMiddle * l.width() &&
             c.y0 >= l.y1 && c.y0 - l.y1 < 0.4 * h_ &&
             std::fabs(l.y1 - line_at(l).feet) < 0.15 * h_;
    });
  }

  // In the letters' lines: on the feet beside a letter, above or beside its top, above another dot.
  bool where_marks_stand(const Component& c) const {
    const double x = (c.x0 + c.x1) / 2.0, y = (c.y0 + c.y1) / 2.0;
    return letters_.any(c, kNear * h_, [&](const Component& l) {
      if (std::max({0, c.x0 - l.x1, l.x0 - c.x1}) > kBesideQuote * h_ || !as_large_as_dots(c, l))
        return false;
      const LocalLine line = line_at(l);
      const double beside =
          std::max({0.0, c.x0 - static_cast<double>(l.x1), static_cast<double>(l.x0) - c.x1});
      const bool full_stop =
          std::fabs(c.y1 - line.feet) < 0.15 * h_ || (c.y0 < line.feet && c.y1 > line.feet);
      if (full_stop && beside < kBesideLetter * h_ && l.y1 > line.feet - 0.4 * h_) return true;
      // Dots of i and j, accents: over the letter, not far.
      const bool over = x > l.x0 - 0.2 * h_ && x < l.x1 + 0.2 * h_ && c.y1 <= l.y0 + 0.15 * h_ &&
                        l.y0 - c.y1 < 0.48 * h_ && y > line.tops - 1.1 * h_;
      if (over) return true;
      // Under the hovering body of an exclamation or question mark.
      const bool under = x > l.x0 && x < l.x1 && l.height() > 0.85 * h_ &&
                         l.y1 < line.feet - 0.15 * h_ && c.y0 >= l.y1 && c.y0 - l.y1 < 0.5 * h_;
      if (under) return true;
      const bool at_tops = c.y1 < line.tops + 0.35 * h_ && c.y0 > line.tops - 0.9 * h_;
      const bool apostrophe = beside < 0.5 * h_ && c.height() > 1.3 * c.width();
      const bool quote =
          beside > 0 && at_tops && (apostrophe || (beside < kBesideQuote * h_ && has_twin(c)));
      return quote || has_partner(c, line);
    });
  }

  // Dots are about as wide as the strokes of the letter they belong to.
  bool as_large_as_dots(const Component& c, const Component& letter) const {
    const double stroke = strokes_[static_cast<size_t>(&letter - list_.data())];
    return std::max(c.width(), c.height()) >= kLeastDot * stroke &&
           c.area >= kLeastArea * stroke * stroke;
  }

  // The other half of a double quotation mark.
  bool has_twin(const Component& c) const {
    return dots_.any(c, 0.6 * h_, [&](const Component& d) {
      const double apart = std::fabs((c.x0 + c.x1 - d.x0 - d.x1) / 2.0);
      return &d != &c && apart > 0.15 * h_ && apart < 0.65 * h_ &&
             std::abs(c.y0 - d.y0) < 0.1 * h_ && c.height() > 0.9 * c.width() &&
             c.area < 1.4 * d.area && d.area < 1.4 * c.area;
    });
  }

  // The upper dot of a colon or semicolon: right above another dot or a comma at the feet.
  bool has_partner(const Component& c, const LocalLine& line) const {
    if (std::fabs(c.y0 - line.tops) > 0.35 * h_) return false;
    const auto below = [&](const Component& d) {
      return d.y0 > c.y1 && std::fabs((c.x0 + c.x1 - d.x0 - d.x1) / 2.0) < 0.2 * h_ &&
             d.width() < 2 * c.width() && d.height() < 0.9 * h_ && d.height() > 0.6 * c.height() &&
             d.y1 > line.feet - 0.25 * h_ && d.y0 < line.feet;
    };
    return dots_.any(c, 1.2 * h_, below) || marks_.any(c, 1.2 * h_, below) ||
           letters_.any(c, 1.2 * h_, below);
  }

  // The place of the next dot of a leader beyond `c` as seen from `from`; 0: there is none.
  double next_in_row(const Component& c, int direction, const Component** found) const {
    double nearest = 0;
    dots_.any(c, kRowReach * h_, [&](const Component& d) {
      const double dx = direction * (d.x0 + d.x1 - c.x0 - c.x1) / 2.0;
      if (dx > 0 && in_row(c, d, h_) && (nearest == 0 || dx < nearest)) {
        nearest = dx;
        *found = &d;
      }
      return false;
    });
    return nearest;
  }

  // Dots of like size, evenly spaced on one level: at least two others.
  bool in_leader(const Component& c) const {
    if (h_ >= kFineScan && c.height() < 0.08 * h_) return false;
    const auto even = [](double a, double b) {
      return a > 0 && b > 0 && std::fabs(a - b) < 0.2 * std::max(a, b) + 1;
    };
    const Component *before = nullptr, *after = nullptr, *beyond = nullptr;
    const double back = next_in_row(c, -1, &before), on = next_in_row(c, 1, &after);
    if (even(back, on)) return true;
    return (before != nullptr && even(back, next_in_row(*before, -1, &beyond))) ||
           (after != nullptr && even(on, next_in_row(*after, 1, &beyond)));
  }

  // From the letters around one: the medians of their feet and tops.
  LocalLine line_at(const Component& letter) const {
    std::vector<int> feet, tops;
    letters_.any(letter, kNear * h_, [&](const Component& l) {
      if (overlap(l.y0, l.y1, letter.y0, letter.y1) > 0.4 * std::min(l.height(), letter.height()) &&
          std::max(l.x0 - letter.x1, letter.x0 - l.x1) < kNear * h_) {
        feet.push_back(l.y1);
        tops.push_back(l.y0);
      }
      return false;
    });
    // Descenders hang below: a little less than the middle one.
    const auto lower = feet.begin() + static_cast<long>(feet.size() * 2 / 5);
    std::nth_element(feet.begin(), lower, feet.end());
    const double foot = *lower;
    // Ascenders are as many as small letters in some words: tops from the feet's own distance.
    return {foot, std::max(median(tops), foot - 1.15 * h_)};
  }

  const std::vector<Component>& list_;
  double limit_, h_;
  const std::vector<double> strokes_;  // of every component
  bool joined_ = false;
  Grid letters_, marks_, dots_;  // marks: commas, hyphens, accents larger than a speck
};

}  // namespace

int despeckle(const DespeckleSettings& settings, double text_height, Bitonal& ink) {
  const double limit = settings.size >= 0 ? settings.size : kAutomaticShare * text_height;
  if (limit <= 0 || text_height <= 0) return 0;
  const Components found = components_of(ink);
  const Judge judge(found, limit, text_height);
  std::vector<bool> gone(found.list.size(), false);
  for (size_t i = 0; i < found.list.size(); ++i) gone[i] = judge.is_speck(found.list[i]);
  const double page_area = static_cast<double>(ink.width()) * ink.height();
  judge.spare_dots_below(gone);
  judge.spare_broken_type(page_area, gone);
  erase(found, gone, ink);
  return static_cast<int>(std::count(gone.begin(), gone.end(), true));
}

}  // namespace burnisher::clean
