#include "run/checks.h"

#include <fmt/core.h>

namespace burnisher::run {
namespace {

constexpr double kLandscape = 1.15;  // width over height from which on a page may be a spread
constexpr int kFewestLinesASide = 6;

bool looks_like_spread(const Page& page) {
  if (page.width < kLandscape * page.height) return false;
  const double centre = page.width / 2.0, reach = 0.03 * page.width;
  int left = 0, right = 0, across = 0;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      if (line.words.empty()) continue;
      if (line.box.x1 < centre + reach)
        ++left;
      else if (line.box.x0 > centre - reach)
        ++right;
      else
        ++across;
    }
  }
  return left >= kFewestLinesASide && right >= kFewestLinesASide && across <= (left + right) / 10;
}

}  // namespace

std::vector<std::string> reasons_to_look(const Page& page, double look_below) {
  std::vector<std::string> reasons;
  if (page.has_words() && page.mean_confidence() < look_below) {
    reasons.push_back(fmt::format(
        "hardly readable ({:.0f} % sure): upside down, sideways, very faint, or in a script the "
        "model does not know",
        100 * page.mean_confidence()));
  }
  if (looks_like_spread(page)) {
    reasons.push_back("looks like two pages side by side; it was kept as one, left half first");
  }
  return reasons;
}

}  // namespace burnisher::run
