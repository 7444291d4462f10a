// The loop that every long training runs in: steps, with a measurement and a checkpoint every so
// often, and both at the end.
#pragma once

#include <functional>
#include <string>

#include "base/progress.h"
#include "train/run_files.h"

namespace burnisher::train {

struct RunLoop {
  std::string checkpoint;  // file
  std::string what;        // is learnt from, as progress names it: "training lines"
  int64_t whole = 0;       // of them, in all
  int64_t validate_every = 0;
  double checkpoint_minutes = 3;
};

// Calls `step` until state.seen reaches the whole. state.minutes holds the time of this run and
// those before it whenever `step` or `validate` is called.
void run_to_the_end(const RunLoop& loop, RunState& state, Progress& progress,
                    const std::function<void()>& step, const std::function<void()>& validate);

}  // namespace burnisher::train
