// What most shapes of a kind have in common.
#pragma once

#include <cstdint>
#include <vector>

#include "jbig2/shapes.h"

namespace burnisher::jbig2 {

// The frame is that of the kind's first shape.
class Prototype {
 public:
  explicit Prototype(const Shape& first);

  // `first` lies at (dx, dy), seen from the corner of `shape`. After some hundred shapes others
  // hardly change a pixel, and are not counted.
  void add(const Shape& shape, int dx, int dy);
  int members() const { return members_; }
  // The pixels that more than half of the shapes have; of two shapes, those of the first.
  Shape majority() const;

 private:
  Shape first_;
  int members_ = 0;
  int lanes_;                     // in a row
  std::vector<uint64_t> counts_;  // of eight pixels each, a byte for every pixel
};

}  // namespace burnisher::jbig2
