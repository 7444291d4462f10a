#include "recognise/network.h"

#include <gtest/gtest.h>

#include <atomic>
#include <thread>

#include "base/random.h"

namespace burnisher::recognise {
namespace {

// Two networks of one shape, as those of two scripts, that prepare for new widths at the same time.
TEST(Network, ReadsTheSameHoweverManyPrepareAtOnce) {
  const Model models[] = {read_model(BURNISHER_MODELS_FOLDER "/latin.safetensors"),
                          read_model(BURNISHER_MODELS_FOLDER "/cyrillic.safetensors")};
  std::vector<Gray> strips;
  Random random(4);
  for (int k = 0; k < 8; ++k) {
    strips.emplace_back(200 + 150 * k, 48);
    for (uint8_t& v : strips.back().samples()) v = static_cast<uint8_t>(30 + random.index(200));
  }
  std::vector<std::vector<float>> alone[2];
  for (const int m : {0, 1}) {
    const Network network(models[m]);
    for (const Gray& strip : strips)
      alone[m].push_back(network.read({&strip}).front().log_probability);
  }
  std::atomic<int> different{0};
  std::vector<std::thread> threads;
  for (const int m : {0, 1}) {
    threads.emplace_back([&, m] {
      for (int round = 0; round < 6; ++round) {
        const Network network(models[m], precision_of_processor(), 3);
        for (size_t i = 0; i < 8; ++i) {
          const size_t k = (7 * i + static_cast<size_t>(round)) % strips.size();
          different += network.read({&strips[k]}).front().log_probability != alone[m][k];
        }
      }
    });
  }
  for (std::thread& thread : threads) thread.join();
  EXPECT_EQ(different, 0);
}

}  // namespace
}  // namespace burnisher::recognise
