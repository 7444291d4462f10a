#include "run/job_names.h"

#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
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

std::optional<job::JobFile> job_file_in(const std::string& folder) {
  const std::string path = (std::filesystem::path(folder) / "job.json").string();
  std::error_code status;
  if (!std::filesystem::exists(path, status)) return std::nullopt;
  try {
    const auto bytes = read_file(path);
    return job::read_job(std::string(bytes.begin(), bytes.end()));
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
}

}  // namespace burnisher::run
