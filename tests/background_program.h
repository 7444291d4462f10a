// The built program at work in the background, to be looked at, stopped and killed.
#pragma once

#include <sys/types.h>

#include <functional>
#include <string>

#include "testing/printed_page.h"

namespace burnisher::tests {

class BackgroundProgram {
 public:
  // Works within the folder; what it says goes to log.txt there.
  explicit BackgroundProgram(const testing::TemporaryFolder& folder) : folder_(folder) {}
  ~BackgroundProgram();
  BackgroundProgram(const BackgroundProgram&) = delete;
  BackgroundProgram& operator=(const BackgroundProgram&) = delete;

  // `arguments`: as a shell has them, without the program. Its log begins anew.
  void start(const std::string& arguments);
  // Its exit code, 128 + n where a signal ended it; -1: it was not started.
  int stop(int signal);
  std::string log() const;

 private:
  const testing::TemporaryFolder& folder_;
  pid_t child_ = 0;
};

// Looks until it is so; gives up after far longer than it may take.
bool until(const std::function<bool()>& so);

}  // namespace burnisher::tests
