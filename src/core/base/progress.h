// How the core tells its caller what is going on. The core never prints.
#pragma once

#include <string>

namespace burnisher {

class Progress {
 public:
  virtual ~Progress() = default;
  // `done` of `total` units of `what` are finished.
  virtual void advance(const std::string& what, double done, double total) = 0;
  // Something a person should read: what, where, what to do.
  virtual void warn(const std::string& message) = 0;
  // Something worth a line in a log.
  virtual void say(const std::string& message) = 0;
  // Whether the work is to end early. Asked between pages, from any thread.
  virtual bool cancelled() const { return false; }
};

}  // namespace burnisher
