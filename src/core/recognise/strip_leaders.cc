#include "recognise/strip_leaders.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

constexpr size_t kFewestDots = 5;
constexpr double kMostlyEven = 0.75;  // of the steps between dots
constexpr double kEven = 0.3;         // of the usual step
constexpr double kInk = 0.3;          // of the darkest dot, above paper: from which on it is ink
constexpr int kFaintest = 25;         // that a dot must be above paper
// And where there are few: grain between two words of a typescript makes five of 37 above paper,
// printed dots of however dense leaders are as dark as letters.
constexpr size_t kFew = 10;
constexpr int kFaintestOfFew = 60;
// In x-heights.
constexpr double kAbove = 0.5, kBelow = 0.3;  // of the baseline: where dots are
constexpr double kHighest = 2.1;              // above the baseline: up to where letters reach
constexpr double kWidestDot = 0.45;
constexpr double kWidestStep = 2.5;

struct Dot {
  int from, to, darkest;
  double centre() const { return (from + to) / 2.0; }
};

class Columns {
 public:
  Columns(const Gray& strip, const StripFrame& frame) : strip_(strip) {
    const auto row = [&](double up) {
      return std::clamp(static_cast<int>(std::lround(frame.baseline - up * frame.x_height)), 0,
                        strip.height());
    };
    const int high = row(kHighest), above = row(kAbove), below = row(-kBelow);
    for (int x = 0; x < strip.width(); ++x) {
      dots_.push_back(darkest(x, above, below));
      letters_.push_back(std::max(darkest(x, high, above), darkest(x, below, below + 2)));
    }
  }

  // Runs of dark columns with nothing above them, between `from` and the next letter.
  std::vector<Dot> dots_from(int& from) const {
    const int width = strip_.width();
    const auto letter = [&](int x) { return letters_[static_cast<size_t>(x)] > kPaperLevel + 60; };
    while (from < width && letter(from)) ++from;
    int end = from;
    while (end < width && !letter(end)) ++end;
    int most = 0;
    for (int x = from; x < end; ++x) most = std::max(most, dots_[static_cast<size_t>(x)]);
    std::vector<Dot> dots;
    const double ink = kPaperLevel + kInk * (most - kPaperLevel);
    if (most > kPaperLevel + kFaintest) {
      for (int x = from; x < end; ++x) {
        if (dots_[static_cast<size_t>(x)] <= ink) continue;
        if (dots.empty() || dots.back().to < x) dots.push_back({x, x, 0});
        dots.back().to = x + 1;
        dots.back().darkest = std::max(dots.back().darkest, dots_[static_cast<size_t>(x)]);
      }
    }
    from = end;
    return dots;
  }

 private:
  int darkest(int x, int top, int bottom) const {
    int most = 0;
    for (int y = top; y < std::min(bottom, strip_.height()); ++y)
      most = std::max<int>(most, strip_.row(y)[x]);
    return most;
  }

  const Gray& strip_;
  std::vector<int> dots_, letters_;
};

// The longest row of even dots among them.
std::vector<Dot> even_row(const std::vector<Dot>& dots, double x_height) {
  std::vector<double> steps;
  for (size_t i = 1; i < dots.size(); ++i) steps.push_back(dots[i].centre() - dots[i - 1].centre());
  if (steps.empty()) return {};
  const double usual = median(steps);
  if (usual > kWidestStep * x_height) return {};
  const auto even = [&](double step) { return std::abs(step - usual) <= kEven * usual + 1; };
  const auto first = std::find_if(steps.begin(), steps.end(), even);
  const auto last = std::find_if(steps.rbegin(), steps.rend(), even);
  if (first == steps.end()) return {};
  const std::vector<Dot> row(dots.begin() + (first - steps.begin()),
                             dots.end() - (last - steps.rbegin()));
  const auto count = std::count_if(first, last.base(), even);
  const bool small = std::all_of(row.begin(), row.end(), [&](const Dot& dot) {
    return dot.to - dot.from < kWidestDot * x_height;
  });
  const bool mostly =
      static_cast<double>(count) >= kMostlyEven * static_cast<double>(row.size() - 1);
  const bool dark = row.size() >= kFew || std::any_of(row.begin(), row.end(), [](const Dot& dot) {
                      return dot.darkest > kPaperLevel + kFaintestOfFew;
                    });
  return small && mostly && dark && row.size() >= kFewestDots ? row : std::vector<Dot>();
}

ReadCharacter certain(char32_t character, int column) {
  ReadCharacter c;
  c.character = character;
  c.confidence = c.network_confidence = 1;
  c.first_frame = c.last_frame = c.peak_frame = column / kFrameWidth;
  return c;
}

}  // namespace

std::vector<StripLeader> leaders_in(const Gray& strip, const StripFrame& frame) {
  std::vector<StripLeader> leaders;
  const Columns columns(strip, frame);
  for (int from = 0; from < strip.width();) {
    const std::vector<Dot> row = even_row(columns.dots_from(from), frame.x_height);
    if (!row.empty())
      leaders.push_back({row.front().from, row.back().to, static_cast<int>(row.size())});
  }
  return leaders;
}

void take_out(const std::vector<StripLeader>& leaders, Gray& strip) {
  for (const StripLeader& leader : leaders) {
    for (int y = 0; y < strip.height(); ++y)
      std::fill(strip.row(y) + std::max(0, leader.from - 1),
                strip.row(y) + std::min(strip.width(), leader.to + 1), kPaperLevel);
  }
}

std::vector<ReadCharacter> with_leaders(std::vector<ReadCharacter> characters,
                                        const std::vector<StripLeader>& leaders) {
  for (const StripLeader& leader : leaders) {
    const int from = leader.from / kFrameWidth, to = leader.to / kFrameWidth;
    // What was read between the dots is the space that they leave.
    characters.erase(std::remove_if(characters.begin(), characters.end(),
                                    [&](const ReadCharacter& c) {
                                      return c.peak_frame >= from && c.peak_frame <= to;
                                    }),
                     characters.end());
    auto at = std::find_if(characters.begin(), characters.end(),
                           [&](const ReadCharacter& c) { return c.peak_frame > to; });
    std::vector<ReadCharacter> word;
    if (at != characters.begin() && std::prev(at)->character != U' ')
      word.push_back(certain(U' ', std::max(0, leader.from - kFrameWidth)));
    const double step = static_cast<double>(leader.to - leader.from) / leader.dots;
    for (int i = 0; i < leader.dots; ++i)
      word.push_back(certain(U'.', static_cast<int>(leader.from + (i + 0.5) * step)));
    if (at != characters.end() && at->character != U' ') word.push_back(certain(U' ', leader.to));
    characters.insert(at, word.begin(), word.end());
  }
  return characters;
}

}  // namespace burnisher::recognise
