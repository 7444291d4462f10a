#include "run/run_report.h"

#include <algorithm>
#include <filesystem>
#include <map>
#include <set>

namespace burnisher::run {

size_t source_bytes_of(const std::vector<PageReport>& pages) {
  struct Use {
    std::set<int> numbers;
    int of = 0;
  };
  std::map<std::string, Use> scans;
  for (const PageReport& page : pages) {
    Use& use = scans[page.file];
    use.numbers.insert(page.number);
    use.of = std::max(use.of, page.pages_in_file);
  }
  double bytes = 0;
  for (const auto& [file, use] : scans) {
    std::error_code status;
    const auto size = std::filesystem::file_size(file, status);
    if (status) continue;
    const double share = use.of > 0 ? static_cast<double>(use.numbers.size()) / use.of : 1;
    bytes += static_cast<double>(size) * std::min(1.0, share);
  }
  return static_cast<size_t>(bytes + 0.5);
}

bool RunReport::nothing_done() const {
  return written.empty() && up_to_date.empty();
}

bool RunReport::all_well() const {
  return !cancelled && problems.empty() && waiting.empty() &&
         std::all_of(pages.begin(), pages.end(),
                     [](const PageReport& p) { return p.look.empty(); });
}

std::string place_of(const PageReport& report) {
  return report.number > 1 ? "page " + std::to_string(report.number) + " of " + report.file
                           : report.file;
}

}  // namespace burnisher::run
