#include "base/process.h"

#include <gtest/gtest.h>

#include <atomic>
#include <chrono>

#include "base/error.h"

namespace burnisher {
namespace {

std::string text_of(const ProcessResult& result) {
  return {result.output.begin(), result.output.end()};
}

TEST(Processes, GiveTheirOutputMessagesAndCode) {
  const ProcessResult result = run_process({"sh", "-c", "echo out; echo said >&2; exit 7"}, 1000);
  EXPECT_EQ(text_of(result), "out\n");
  EXPECT_EQ(result.messages, "said\n");
  EXPECT_EQ(result.exit_code, 7);
  EXPECT_EQ(run_process({"sh", "-c", "kill -9 $$"}, 1000).exit_code, 128 + 9);
  EXPECT_EQ(text_of(run_process({"cat"}, 1000)), "");  // nothing on its stdin
}

TEST(Processes, ThatAreNotThereOrWriteTooMuchAreErrors) {
  EXPECT_THROW(run_process({"no-program-of-this-name"}, 1000), InputError);
  EXPECT_THROW(run_process({"sh", "-c", "yes"}, 100000), InputError);
}

TEST(Processes, AreEndedWhenTheirTimeIsUp) {
  ProcessLimits limits;
  limits.most_seconds = 0.3;
  const ProcessResult result = run_process({"sh", "-c", "echo begun; exec sleep 60"}, limits);
  EXPECT_EQ(result.exit_code, 128 + 9);
  EXPECT_EQ(text_of(result), "begun\n");
}

TEST(Processes, AreToldToEndAndWaitedFor) {
  ProcessLimits limits;
  std::atomic<int> asked{0};
  limits.cancelled = [&] { return ++asked > 1; };
  const ProcessResult polite = run_process(
      {"sh", "-c", "trap 'echo bye; exit 5' TERM; while :; do sleep 0.05; done"}, limits);
  EXPECT_EQ(polite.exit_code, 5);
  EXPECT_EQ(text_of(polite), "bye\n");
  // One that does not listen is ended all the same.
  limits.grace = 0.3;
  const ProcessResult deaf =
      run_process({"sh", "-c", "trap '' TERM; while :; do sleep 0.05; done"}, limits);
  EXPECT_EQ(deaf.exit_code, 128 + 9);
}

}  // namespace
}  // namespace burnisher
