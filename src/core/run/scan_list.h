// Which scans a run is to read, in their order.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/error.h"
#include "intake/scan_file.h"
#include "page/page_order.h"

namespace burnisher::run {

struct ScanTask {
  std::shared_ptr<const ScanFile> file;
  int page = 1;
  bool last_of_file = false;
};

struct ScanList {
  std::vector<ScanTask> tasks;
  std::vector<std::string> files;  // that have pages among them
  std::vector<Problem> problems;   // inputs that could not be opened
};

// `inputs`: files and folders. `range`: pages of every file, as PageRange has it; empty: all.
ScanList scans_in(const std::vector<std::string>& inputs, const std::string& range,
                  const ScanLimits& limits);

// Some scans replaced by files, then all in the order asked for (empty: as they are). Throws
// SettingsError for pages that are not there, and what opening a file throws.
void rearrange(const std::vector<Replacement>& replacements, const std::string& order,
               const ScanLimits& limits, ScanList& scans);

}  // namespace burnisher::run
