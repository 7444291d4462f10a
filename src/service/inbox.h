// A folder that scans are dropped into: what in it is complete and may be taken.
#pragma once

#include <chrono>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace burnisher::service {

class Inbox {
 public:
  // `settle`: seconds for which size and time of a file must stay as they are before it counts as
  // complete where the system does not tell when its writer closed it, as on network shares.
  // Throws InputError when the folder is not there.
  Inbox(const std::string& folder, double settle);
  ~Inbox();
  Inbox(const Inbox&) = delete;
  Inbox& operator=(const Inbox&) = delete;

  // Names of the files and folders that are complete, in order of their names. Hidden and temporary
  // names are passed over, files that somebody still writes wait.
  std::vector<std::string> complete();
  // What is there and not complete yet.
  size_t unsettled() const { return unsettled_; }
  // Until something happens in the folder, at most so long.
  void wait(double seconds);

  // Changes when the file, or anything in the folder, does.
  std::string signature(const std::string& name) const;

 private:
  using Clock = std::chrono::steady_clock;
  struct PageMaps {
    std::string signature;
    Clock::time_point since;
  };
  void take_events();

  std::string folder_;
  double settle_;
  int events_ = -1;               // inotify; -1: not to be had
  std::set<std::string> closed_;  // that their writers closed, or that were moved in
  std::map<std::string, PageMaps> seen_;
  size_t unsettled_ = 0;
};

// Whether a name says that the file is none to be taken: hidden, or not complete.
bool is_temporary_name(const std::string& name);

}  // namespace burnisher::service
