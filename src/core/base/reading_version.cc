#include "base/reading_version.h"

namespace burnisher {

const std::string& reading_version() {
  static const std::string version = BURNISHER_READING_VERSION;
  return version;
}

}  // namespace burnisher
