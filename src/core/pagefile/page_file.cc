#include "pagefile/page_file.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "intake/inputs.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"

namespace burnisher {

PageFile read_page_file(const std::string& path, bool glyphs) {
  const auto bytes = read_file(path);
  const std::string text(bytes.begin(), bytes.end());
  PageFile file;
  file.path = path;
  if (text.substr(0, 2000).find("<alto") != std::string::npos) {
    file.format = PageFile::Format::kAlto;
    file.pages = read_alto_file(path);
    return file;
  }
  PageXml xml = read_page_xml(text, path, glyphs);
  file.image_name = xml.image_name;
  file.pages.push_back(std::move(xml.page));
  return file;
}

std::string written(const PageFile& file) {
  if (file.format == PageFile::Format::kAlto) return write_alto(file.pages, Positions::kPage);
  return write_page_xml(file.pages.front(), file.image_name);
}

Picture page_picture(const std::string& path, int number, int width, int height,
                     const ScanLimits& limits) {
  const ScanFile file(path, limits);
  Scan scan = file.read(std::clamp(number, 1, file.page_count()));
  const int found_width = width_of(scan.picture), found_height = height_of(scan.picture);
  if (found_width != width || found_height != height) {
    throw FormatError(fmt::format(
        "{}: has {} x {} pixels, but the places on its page belong to a picture of {} x {}", path,
        found_width, found_height, width, height));
  }
  return std::move(scan.picture);
}

std::string picture_path(const PageFile& file, const std::string& folder) {
  namespace fs = std::filesystem;
  if (file.image_name.empty())
    throw FormatError(file.path + ": does not say which picture its places belong to");
  const fs::path beside = folder.empty() ? fs::path(file.path).parent_path() : fs::path(folder);
  return (beside / file.image_name).string();
}

Picture page_picture(const PageFile& file, const std::string& folder, const ScanLimits& limits) {
  const Page& page = file.pages.front();
  return page_picture(picture_path(file, folder), 1, page.width, page.height, limits);
}

std::string scan_path(const Page& page, const std::string& xml_path, const std::string& images) {
  namespace fs = std::filesystem;
  const fs::path beside = fs::path(xml_path).parent_path(), named(page.file);
  std::vector<fs::path> places;
  if (!page.relative_file.empty()) places.push_back(beside / page.relative_file);
  if (!named.empty()) places.push_back(named);
  if (!named.empty() && !images.empty()) places.push_back(fs::path(images) / named.filename());
  if (!named.empty()) places.push_back(beside / named.filename());
  std::error_code status;
  for (const fs::path& place : places) {
    if (fs::is_regular_file(place, status)) return place.lexically_normal().string();
  }
  return "";
}

namespace {

std::vector<std::string> page_files_in(const std::string& folder) {
  std::vector<std::string> files = files_in(folder);
  files.erase(std::remove_if(files.begin(), files.end(),
                             [](const std::string& file) {
                               return std::filesystem::path(file).extension() != ".xml";
                             }),
              files.end());
  if (files.empty())
    throw InputError(folder + ": no .xml file in it; PAGE XML or ALTO of read pages is wanted");
  return files;
}

}  // namespace

std::vector<std::string> page_files(const std::vector<std::string>& inputs,
                                    std::vector<Problem>& problems) {
  std::vector<std::string> files;
  for (const std::string& input : inputs) {
    std::error_code status;
    if (!std::filesystem::is_directory(input, status)) {
      files.push_back(input);
      continue;
    }
    try {
      const std::vector<std::string> inside = page_files_in(input);
      files.insert(files.end(), inside.begin(), inside.end());
    } catch (const Error& cause) {
      problems.push_back(problem_of(cause));
    }
  }
  return files;
}

}  // namespace burnisher
