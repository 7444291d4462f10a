#include "base/parallel.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <thread>

namespace burnisher {

void parallel_each(int count, const std::function<void(int)>& body) {
  tbb::parallel_for(
      tbb::blocked_range<int>(0, count, 1),
      [&](const tbb::blocked_range<int>& range) {
        for (int i = range.begin(); i < range.end(); ++i) body(i);
      },
      tbb::simple_partitioner());
}

void with_threads(int threads, const std::function<void()>& body) {
  if (threads <= 0) {
    body();
    return;
  }
  tbb::task_arena arena(threads);
  arena.execute(body);
}

void isolated(const std::function<void()>& body) {
  tbb::this_task_arena::isolate(body);
}

void pipeline(size_t at_once, const std::function<bool()>& give,
              const std::function<std::shared_ptr<void>(size_t)>& make,
              const std::function<void(const std::shared_ptr<void>&)>& take) {
  using tbb::filter_mode;
  size_t next = 0;
  if (at_once == 0) at_once = 2 * std::max(1u, std::thread::hardware_concurrency());
  tbb::parallel_pipeline(
      at_once,
      tbb::make_filter<void, size_t>(filter_mode::serial_in_order,
                                     [&](tbb::flow_control& flow) -> size_t {
                                       if (give()) return next++;
                                       flow.stop();
                                       return 0;
                                     }) &
          tbb::make_filter<size_t, std::shared_ptr<void>>(filter_mode::parallel, make) &
          tbb::make_filter<std::shared_ptr<void>, void>(filter_mode::serial_in_order, take));
}

}  // namespace burnisher
