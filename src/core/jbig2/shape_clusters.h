// Shapes gathered by likeness: each kind has one that stands for it.
#pragma once

#include <map>
#include <utility>
#include <vector>

#include "jbig2/shapes.h"

namespace burnisher::jbig2 {

// A kind that a shape is like, and where its corner lies, seen from the shape's.
struct ClusterMatch {
  int kind = -1;
  int dx = 0, dy = 0;
  int difference = 0;  // pixels
};

class ShapeClusters {
 public:
  // `share`: shapes that differ in more than this share of their outline's length (estimated from
  // their size) are not alike.
  explicit ShapeClusters(double share) : share_(share) {}

  // The kinds that are most like `shape`, the nearest first, at most `most` of them.
  std::vector<ClusterMatch> near(const Shape& shape, size_t most) const;
  // The number of the new kind that `shape` stands for; it has to stay where it is.
  int add(const Shape& shape);

  const Shape& at(int kind) const { return *kinds_[static_cast<size_t>(kind)]; }

 private:
  ClusterMatch laid_over(const Shape& shape, int kind, int limit) const;

  double share_;
  std::vector<const Shape*> kinds_;
  std::map<std::pair<int, int>, std::vector<int>> by_size_;  // by width and height
};

}  // namespace burnisher::jbig2
