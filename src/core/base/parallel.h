// Loops over independent items on all cores.
#pragma once

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <memory>
#include <thread>

namespace burnisher {

// body(i) for i in 0 ... count - 1, one item a task. An exception of one item ends the loop and
// reaches the caller.
template <typename Body>
void parallel_each(int count, const Body& body) {
  tbb::parallel_for(
      tbb::blocked_range<int>(0, count, 1),
      [&](const tbb::blocked_range<int>& range) {
        for (int i = range.begin(); i < range.end(); ++i) body(i);
      },
      tbb::simple_partitioner());
}

// make(i) for i in 0 ... count - 1, a few at a time, and take(result) with the results in order,
// one after the other.
template <typename Make, typename Take>
void in_order(int count, const Make& make, const Take& take) {
  using Result = decltype(make(0));
  int next = 0;
  const size_t at_once = 2 * std::max(1u, std::thread::hardware_concurrency());
  tbb::parallel_pipeline(at_once,
                         tbb::make_filter<void, int>(tbb::filter_mode::serial_in_order,
                                                     [&](tbb::flow_control& flow) {
                                                       if (next < count) return next++;
                                                       flow.stop();
                                                       return 0;
                                                     }) &
                             tbb::make_filter<int, std::shared_ptr<Result>>(
                                 tbb::filter_mode::parallel,
                                 [&](int i) { return std::make_shared<Result>(make(i)); }) &
                             tbb::make_filter<std::shared_ptr<Result>, void>(
                                 tbb::filter_mode::serial_in_order,
                                 [&](const std::shared_ptr<Result>& result) { take(*result); }));
}

// Runs `body` with at most `threads` threads for all loops inside; 0: as many as there are cores.
template <typename Body>
void with_threads(int threads, const Body& body) {
  if (threads <= 0) {
    body();
    return;
  }
  tbb::task_arena arena(threads);
  arena.execute(body);
}

}  // namespace burnisher
