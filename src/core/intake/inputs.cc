#include "intake/inputs.h"

#include <algorithm>
#include <cctype>
#include <filesystem>

#include "base/error.h"

namespace burnisher {
namespace {

namespace fs = std::filesystem;

const char* const kEndings[] = {".png",  ".jpg", ".jpeg", ".jp2", ".j2k", ".tif",
                                ".tiff", ".pbm", ".pgm",  ".ppm", ".pnm", ".pdf"};

bool known_ending(const fs::path& path) {
  std::string ending = path.extension();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return std::tolower(c); });
  return std::find(std::begin(kEndings), std::end(kEndings), ending) != std::end(kEndings);
}

}  // namespace

std::vector<std::string> files_in(const std::string& folder) {
  std::error_code status;
  std::vector<std::string> files;
  fs::directory_iterator at(folder, status);
  // The range-based loop would throw when a folder vanishes or breaks off half-way.
  for (; !status && at != fs::directory_iterator(); at.increment(status)) {
    std::error_code broken;  // a link to nowhere is no file, and no reason to stop
    if (at->is_regular_file(broken)) files.push_back(at->path());
  }
  if (status) throw InputError(folder + ": the folder cannot be read: " + status.message());
  std::sort(files.begin(), files.end());
  return files;
}

std::vector<std::string> collect_inputs(const std::string& path) {
  std::error_code status;
  if (!fs::exists(path, status)) throw InputError(path + ": there is no such file or folder");
  if (!fs::is_directory(path, status)) return {path};
  std::vector<std::string> files = files_in(path);
  files.erase(std::remove_if(files.begin(), files.end(),
                             [](const std::string& file) { return !known_ending(file); }),
              files.end());
  if (files.empty()) {
    throw InputError(path +
                     ": the folder holds no pictures (PNG, JPEG, JPEG 2000, TIFF, PNM, PDF)");
  }
  return files;
}

}  // namespace burnisher
