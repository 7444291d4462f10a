#include "run/pixel_budget.h"

#include <gtest/gtest.h>

#include <atomic>
#include <thread>
#include <vector>

namespace burnisher::run {
namespace {

TEST(PixelBudget, NeverHoldsMoreThanItHas) {
  PixelBudget budget(10);
  std::atomic<int> held{0}, most{0};
  std::vector<std::thread> threads;
  for (int i = 0; i < 8; ++i) {
    threads.emplace_back([&] {
      for (int round = 0; round < 50; ++round) {
        const auto hold = budget.hold(4);
        const int now = held += 4;
        for (int seen = most; now > seen && !most.compare_exchange_weak(seen, now);) {
        }
        std::this_thread::yield();
        held -= 4;
      }
    });
  }
  for (std::thread& thread : threads) thread.join();
  EXPECT_GE(most, 4);
  EXPECT_LE(most, 8);
}

TEST(PixelBudget, PagesThatFitAreWorkedOnSideBySide) {
  PixelBudget budget(10);
  const auto first = budget.hold(4);
  const auto second = budget.hold(6);  // would wait for ever if it did not fit
  EXPECT_NE(first, nullptr);
  EXPECT_NE(second, nullptr);
}

TEST(PixelBudget, APageLargerThanAllOfItIsWorkedOnAlone) {
  PixelBudget budget(10);
  auto small = budget.hold(3);
  std::atomic<bool> got{false};
  std::thread large([&] {
    const auto hold = budget.hold(400);
    got = true;
  });
  std::this_thread::sleep_for(std::chrono::milliseconds(50));
  EXPECT_FALSE(got);
  small.reset();
  large.join();
  EXPECT_TRUE(got);
  EXPECT_NE(budget.hold(10), nullptr);
}

}  // namespace
}  // namespace burnisher::run
