#include "run/job_names.h"

#include <fmt/core.h>

#include <filesystem>

#include "base/files.h"
#include "base/unicode.h"

namespace burnisher::run {

std::string page_name_of(const Page& page) {
  return fmt::format("{}-{:04}{}", sound_utf8(stem_of(page.file)), page.number,
                     side_suffix(page.part));
}

std::string scan_name_of(const ScanTask& task) {
  return fmt::format("{}-{:04}", sound_utf8(stem_of(task.file->path())), task.page);
}

std::string name_with_part(const ScanTask& task, int part) {
  return scan_name_of(task) + side_suffix(part);
}

std::pair<std::string, int> scan_and_part(const std::string& page_name) {
  for (const int part : {1, 2}) {
    const std::string side = side_suffix(part);
    if (page_name.size() > side.size() &&
        page_name.compare(page_name.size() - side.size(), side.size(), side) == 0)
      return {page_name.substr(0, page_name.size() - side.size()), part};
  }
  return {page_name, 0};
}

}  // namespace burnisher::run
