#include "train/run_loop.h"

#include <chrono>

namespace burnisher::train {

void run_to_the_end(const RunLoop& loop, RunState& state, Progress& progress,
                    const std::function<void()>& step, const std::function<void()>& validate) {
  const auto started = std::chrono::steady_clock::now();
  const double before = state.minutes;
  double checkpoint_at = before + loop.checkpoint_minutes;
  int64_t validated_at = -1, validate_at = state.seen + loop.validate_every;
  const auto measure = [&] {
    validate();
    validated_at = state.seen;
    validate_at = state.seen + loop.validate_every;
  };
  while (state.seen < loop.whole) {
    step();
    const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - started;
    state.minutes = before + passed.count() / 60;
    progress.advance(loop.what, static_cast<double>(state.seen), static_cast<double>(loop.whole));
    if (state.seen >= validate_at) measure();
    if (state.minutes >= checkpoint_at) {
      write_checkpoint(loop.checkpoint, state);
      checkpoint_at = state.minutes + loop.checkpoint_minutes;
    }
  }
  if (validated_at != state.seen) measure();
  write_checkpoint(loop.checkpoint, state);
}

}  // namespace burnisher::train
