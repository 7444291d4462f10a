#include "run/scan_list.h"

#include <fmt/core.h>

#include "base/files.h"
#include "intake/inputs.h"

namespace burnisher::run {
namespace {

void open(const std::string& path, const PageRange& wanted, const std::string& range,
          const ScanLimits& limits, ScanList& scans) {
  try {
    const auto file = std::make_shared<const ScanFile>(path, limits);
    const size_t before = scans.tasks.size();
    for (int p = 1; p <= file->page_count(); ++p) {
      if (wanted.contains(p)) scans.tasks.push_back({file, p, false, path, false});
    }
    if (scans.tasks.size() == before) {
      throw InputError(fmt::format("{}: none of its {} pages is among the pages {}", path,
                                   file->page_count(), range));
    }
    scans.tasks.back().last_of_file = scans.tasks.back().last_of_document = true;
    file->close();  // thousands of files are not held open
    scans.files.push_back(path);
    scans.documents.push_back({path, stem_of(path), {}});
  } catch (const std::exception& cause) {
    scans.problems.push_back(problem_of(cause));
  }
}

}  // namespace

ScanList scans_in(const std::vector<std::string>& inputs, const std::string& range,
                  const ScanLimits& limits) {
  const PageRange wanted = range.empty() ? PageRange() : PageRange(range);
  ScanList scans;
  for (const std::string& input : inputs) {
    std::vector<std::string> files;
    try {
      files = collect_inputs(input);
    } catch (const std::exception& cause) {
      scans.problems.push_back(problem_of(cause));
    }
    for (const std::string& path : files) open(path, wanted, range, limits, scans);
  }
  return scans;
}

void rearrange(const std::vector<Replacement>& replacements, const std::string& order,
               const ScanLimits& limits, ScanList& scans) {
  for (const Replacement& wanted : replacements) {
    const size_t at = static_cast<size_t>(wanted.page - 1);
    if (at >= scans.tasks.size()) {
      throw SettingsError("replace-page",
                          fmt::format("{}={}: there is no such page, there are {}", wanted.page,
                                      wanted.file, scans.tasks.size()));
    }
    scans.tasks[at].file = std::make_shared<const ScanFile>(wanted.file, limits);
    scans.tasks[at].page = 1;
  }
  if (order.empty()) return;
  std::vector<ScanTask> ordered;
  for (const int page : page_order(order, static_cast<int>(scans.tasks.size())))
    ordered.push_back(scans.tasks[static_cast<size_t>(page - 1)]);
  scans.tasks = std::move(ordered);
}

}  // namespace burnisher::run
