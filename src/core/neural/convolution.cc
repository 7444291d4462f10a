#include "neural/convolution.h"

#include <omp.h>

namespace burnisher::neural {

using dnnl::memory;

namespace {
constexpr int kCachedPrimitives = 32;  // about one network's
}

const dnnl::engine& cpu() {
  static const dnnl::engine engine = [] {
    // The library's own cache would keep a thousand kernels for ever; those in use are kept by
    // whoever prepared them.
    dnnl::set_primitive_cache_capacity(kCachedPrimitives);
    return dnnl::engine(dnnl::engine::kind::cpu, 0);
  }();
  return engine;
}

SingleThread::SingleThread() : before_(omp_get_max_threads()) {
  omp_set_num_threads(1);
}
SingleThread::~SingleThread() {
  omp_set_num_threads(before_);
}

std::recursive_mutex& preparing() {
  static std::recursive_mutex mutex;
  return mutex;
}

dnnl::primitive_attr own_scratch() {
  dnnl::primitive_attr attributes;
  attributes.set_scratchpad_mode(dnnl::scratchpad_mode::user);
  return attributes;
}

void reorder(memory& from, memory& to, dnnl::stream& stream) {
  const std::lock_guard<std::recursive_mutex> alone(preparing());
  const dnnl::reorder::primitive_desc plan(from, to, own_scratch());
  memory scratch(plan.scratchpad_desc(), cpu());
  dnnl::reorder(plan).execute(
      stream, {{DNNL_ARG_FROM, from}, {DNNL_ARG_TO, to}, {DNNL_ARG_SCRATCHPAD, scratch}});
  stream.wait();
}

TensorShape output_of(const ConvShape& layer, const TensorShape& input) {
  const auto size = [](int in, int pad, int kernel, int dilation, int stride) {
    return (in + 2 * pad - (dilation * (kernel - 1) + 1)) / stride + 1;
  };
  return {input.n, layer.out,
          size(input.h, layer.pad_h, layer.kernel_h, layer.dilation_h, layer.stride_h),
          size(input.w, layer.pad_w(), layer.kernel_w, layer.dilation_w, layer.stride_w)};
}

memory::desc channels_last(const TensorShape& shape, Numbers numbers) {
  return memory::desc({shape.n, shape.c, shape.h, shape.w}, numbers, memory::format_tag::nhwc);
}

memory::desc weights_desc(const ConvShape& layer, memory::format_tag tag, Numbers numbers) {
  return memory::desc({layer.out, layer.in, layer.kernel_h, layer.kernel_w}, numbers, tag);
}

ConvGeometry geometry_of(const ConvShape& layer) {
  return {{layer.stride_h, layer.stride_w},
          {layer.dilation_h - 1, layer.dilation_w - 1},
          {layer.pad_h, layer.pad_w()},
          {layer.pad_h, layer.pad_w()}};
}

}  // namespace burnisher::neural
