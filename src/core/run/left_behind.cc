#include "run/left_behind.h"

#include <unistd.h>

#include <cstdlib>
#include <filesystem>

namespace burnisher::run {

void sweep_left_behind(const std::string& folder, const std::string& beginning) {
  std::error_code status;
  for (const auto& entry : std::filesystem::directory_iterator(folder, status)) {
    const std::string name = entry.path().filename().string();
    const size_t at = name.find(".part-");
    if (at == std::string::npos || name.compare(0, beginning.size(), beginning) != 0) continue;
    const long pid = std::atol(name.c_str() + at + 6);
    if (pid > 0 && !std::filesystem::exists("/proc/" + std::to_string(pid), status))
      unlink(entry.path().c_str());
  }
}

}  // namespace burnisher::run
