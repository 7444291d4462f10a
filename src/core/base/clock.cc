#include "base/clock.h"

#include <fmt/core.h>

#include <ctime>

namespace burnisher {

std::string utc_now() {
  timespec now{};
  clock_gettime(CLOCK_REALTIME, &now);
  std::tm parts{};
  gmtime_r(&now.tv_sec, &parts);
  char text[32];
  std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%S", &parts);
  return fmt::format("{}.{:03}Z", text, now.tv_nsec / 1000000);
}

}  // namespace burnisher
