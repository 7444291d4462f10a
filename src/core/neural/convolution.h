// The few lines that every user of oneDNN in the core shares: one CPU engine, tensors kept
// channels-last, one thread a call (parallelism comes from lines and pages, see base/parallel.h).
#pragma once

#include <dnnl.hpp>
#include <mutex>

#include "neural/conv_shape.h"

namespace burnisher::neural {

const dnnl::engine& cpu();

// Makes the calling thread's oneDNN calls use one thread, for as long as the object lives.
class SingleThread {
 public:
  SingleThread();
  ~SingleThread();
  SingleThread(const SingleThread&) = delete;
  SingleThread& operator=(const SingleThread&) = delete;

 private:
  int before_;
};

// Held while primitives are made: made by two threads at once, some give garbage (oneDNN 2.6; two
// networks that prepared shapes side by side read one line in some hundreds as nonsense).
std::recursive_mutex& preparing();

// Attributes that every primitive is made with: the library's own scratch memory belongs to the
// thread that made the primitive, and is wrong or gone when another one runs or destroys it.
dnnl::primitive_attr own_scratch();
// Copies into the other layout, at once.
void reorder(dnnl::memory& from, dnnl::memory& to, dnnl::stream& stream);

// Batch of pictures: n x c x h x w, channels last.
struct TensorShape {
  int n = 1, c = 1, h = 1, w = 1;
  size_t count() const {
    return static_cast<size_t>(n) * static_cast<size_t>(c) * static_cast<size_t>(h) *
           static_cast<size_t>(w);
  }
};

TensorShape output_of(const ConvShape& layer, const TensorShape& input);
using Numbers = dnnl::memory::data_type;
dnnl::memory::desc channels_last(const TensorShape& shape, Numbers numbers = Numbers::f32);
dnnl::memory::desc weights_desc(const ConvShape& layer, dnnl::memory::format_tag tag,
                                Numbers numbers = Numbers::f32);

struct ConvGeometry {
  dnnl::memory::dims strides, dilates, pad_before, pad_after;
};
ConvGeometry geometry_of(const ConvShape& layer);

}  // namespace burnisher::neural
