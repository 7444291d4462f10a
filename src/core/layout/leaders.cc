#include "layout/leaders.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr size_t kFewestDots = 5;
constexpr double kEven = 0.25;       // of the usual step
constexpr double kMostlyEven = 0.7;  // of the steps
constexpr double kAlike = 2;         // ratio of sizes
// In text heights.
constexpr double kLargestDot = 0.4;
constexpr double kLevel = 0.2;
constexpr double kWidestStep = 2.5;

class DotRows {
 public:
  DotRows(const std::vector<Component>& marks, double text_height)
      : marks_(marks), h_(text_height), leads_(marks.size(), false) {}

  std::vector<bool> found() {
    std::vector<size_t> dots;
    for (size_t i = 0; i < marks_.size(); ++i) {
      if (std::max(marks_[i].width(), marks_[i].height()) < kLargestDot * h_) dots.push_back(i);
    }
    std::sort(dots.begin(), dots.end(), [&](size_t a, size_t b) {
      return std::make_pair(marks_[a].x0, marks_[a].y0) <
             std::make_pair(marks_[b].x0, marks_[b].y0);
    });
    std::vector<bool> seen(dots.size(), false);
    for (size_t first = 0; first < dots.size(); ++first) {
      if (seen[first]) continue;
      std::vector<size_t> row = {dots[first]};
      for (size_t next = first + 1; next < dots.size(); ++next) {
        if (marks_[dots[next]].x0 - marks_[row.back()].x0 > kWidestStep * h_) break;
        if (seen[next] || !follows(marks_[row.back()], marks_[dots[next]])) continue;
        seen[next] = true;
        row.push_back(dots[next]);
      }
      if (even(row)) {
        for (const size_t dot : row) leads_[dot] = true;
      }
    }
    return leads_;
  }

 private:
  bool follows(const Component& a, const Component& b) const {
    const double small = std::min(a.height(), b.height()), large = std::max(a.height(), b.height());
    return std::abs(a.y1 - b.y1) < kLevel * h_ && large <= kAlike * small + 1 && b.x0 >= a.x1;
  }

  bool even(const std::vector<size_t>& row) const {
    if (row.size() < kFewestDots) return false;
    std::vector<double> steps;
    for (size_t i = 1; i < row.size(); ++i)
      steps.push_back(marks_[row[i]].box().centre().x - marks_[row[i - 1]].box().centre().x);
    const double usual = median(steps);
    const auto alike = std::count_if(steps.begin(), steps.end(), [&](double step) {
      return std::abs(step - usual) <= kEven * usual + 1;
    });
    return static_cast<double>(alike) >= kMostlyEven * static_cast<double>(steps.size());
  }

  const std::vector<Component>& marks_;
  double h_;
  std::vector<bool> leads_;
};

}  // namespace

std::vector<bool> leader_dots(const std::vector<Component>& marks, double text_height) {
  return DotRows(marks, text_height).found();
}

}  // namespace burnisher::layout
