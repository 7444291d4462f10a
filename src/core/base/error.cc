#include "base/error.h"

namespace burnisher {

Problem problem_of(const std::exception& cause) {
  const auto* ours = dynamic_cast<const Error*>(&cause);
  return {cause.what(), ours != nullptr ? ours->code() : ErrorCode::kOther};
}

}  // namespace burnisher
