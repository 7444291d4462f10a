// Whether a run ended because another one is at work on its job: what a killed service or watch
// had started may be at it still.
#pragma once

#include "base/process.h"

namespace burnisher::service {

inline bool found_busy(const ProcessResult& result) {
  constexpr int kRefused = 2;  // exit code of settings that cannot be followed
  return result.exit_code == kRefused &&
         result.messages.find("another run is at work on this job") != std::string::npos;
}

}  // namespace burnisher::service
