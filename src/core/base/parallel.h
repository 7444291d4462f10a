// Loops over independent items on all cores (oneTBB, compiled in parallel.cc alone).
#pragma once

#include <functional>
#include <memory>

namespace burnisher {

// body(i) for i in 0 ... count - 1, one item a task. An exception of one item ends the loop and
// reaches the caller.
void parallel_each(int count, const std::function<void(int)>& body);

// Runs `body`; a thread that waits within it takes up nothing from outside meanwhile.
void isolated(const std::function<void()>& body);

// Runs `body` with at most `threads` threads for all loops inside; 0: as many as there are cores.
void with_threads(int threads, const std::function<void()>& body);

// `give` says whether there is one more item, `make` works on it (several at a time, `at_once` at
// most; 0: twice the cores), `take` gets the results in order, one after the other.
void pipeline(size_t at_once, const std::function<bool()>& give,
              const std::function<std::shared_ptr<void>(size_t)>& make,
              const std::function<void(const std::shared_ptr<void>&)>& take);

// make(i) for i in 0 ... count - 1, a few at a time, and take(result) with the results in order.
template <typename Make, typename Take>
void in_order(int count, const Make& make, const Take& take) {
  using Result = decltype(make(0));
  int given = 0;
  pipeline(
      0, [&] { return given++ < count; },
      [&](size_t i) { return std::make_shared<Result>(make(static_cast<int>(i))); },
      [&](const std::shared_ptr<void>& result) {
        take(*std::static_pointer_cast<Result>(result));
      });
}

}  // namespace burnisher
