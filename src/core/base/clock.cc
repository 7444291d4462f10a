#include "base/clock.h"

#include <ctime>

namespace burnisher {

std::string utc_now() {
  char text[32];
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&now, &parts);
  std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &parts);
  return text;
}

}  // namespace burnisher
