#include "page/page_file.h"

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "page/alto.h"
#include "page/page_xml.h"

namespace burnisher {

PageFile read_page_file(const std::string& path) {
  const auto bytes = read_file(path);
  const std::string text(bytes.begin(), bytes.end());
  PageFile file;
  file.path = path;
  if (text.substr(0, 2000).find("<alto") != std::string::npos) {
    file.format = PageFile::Format::kAlto;
    file.pages = read_alto_file(path);
    return file;
  }
  PageXml xml = read_page_xml(text, path);
  file.image_name = xml.image_name;
  file.pages.push_back(std::move(xml.page));
  return file;
}

std::string written(const PageFile& file) {
  if (file.format == PageFile::Format::kAlto) return write_alto(file.pages, Positions::kPage);
  return write_page_xml(file.pages.front(), file.image_name);
}

std::vector<std::string> page_files(const std::vector<std::string>& inputs) {
  namespace fs = std::filesystem;
  std::vector<std::string> files;
  for (const std::string& input : inputs) {
    if (!fs::is_directory(input)) {
      if (!fs::exists(input)) throw InputError(input + ": is not there");
      files.push_back(input);
      continue;
    }
    std::vector<std::string> inside;
    for (const auto& entry : fs::directory_iterator(input)) {
      if (entry.path().extension() == ".xml") inside.push_back(entry.path());
    }
    if (inside.empty())
      throw InputError(input + ": no .xml file in it; PAGE XML or ALTO of read pages is wanted");
    std::sort(inside.begin(), inside.end());
    files.insert(files.end(), inside.begin(), inside.end());
  }
  return files;
}

}  // namespace burnisher
