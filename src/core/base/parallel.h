// Loops over independent items on all cores.
#pragma once

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

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
