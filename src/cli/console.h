// What the program says: progress and messages on stderr, results that were asked for on stdout.
#pragma once

#include <chrono>
#include <mutex>
#include <string>

#include "base/progress.h"

namespace burnisher::cli {

class Console : public Progress {
 public:
  Console();
  void set_quiet(bool quiet) { quiet_ = quiet; }

  void advance(const std::string& what, double done, double total) override;
  void warn(const std::string& message) override;
  void say(const std::string& message) override;
  // Whether the user, or the system, asked the program to end.
  bool cancelled() const override;
  // Something that waits for a person: shown even when quiet, but it is no error.
  void point_out(const std::string& message);

 private:
  void clear_bar();

  std::mutex guard_;
  bool quiet_ = false;
  bool terminal_ = false;
  bool bar_shown_ = false;
  double first_done_ = -1;
  std::chrono::steady_clock::time_point started_, first_at_, last_line_;
};

// From here on the first SIGINT or SIGTERM is a request to end, which Console::cancelled tells; the
// second ends the program at once.
void catch_interruptions();

}  // namespace burnisher::cli
