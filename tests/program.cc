#include "program.h"

#include <sys/wait.h>

#include <cstdlib>

#include "base/files.h"
#include "intake/scan_file.h"
#include "raster/convert.h"
#include "raster/png.h"

namespace burnisher::tests {

Outcome shell(const std::string& command) {
  const testing::TemporaryFolder folder;
  const std::string line = "B=" BURNISHER_PROGRAM "; (" + command + ") >" + folder.file("out") +
                           " 2>" + folder.file("err");
  const int status = std::system(line.c_str());
  Outcome outcome;
  outcome.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128;
  outcome.out = content_of(folder.file("out"));
  outcome.err = content_of(folder.file("err"));
  return outcome;
}

bool contains(const std::string& text, const std::string& part) {
  return text.find(part) != std::string::npos;
}

std::string content_of(const std::string& path) {
  const auto bytes = read_file(path);
  return std::string(bytes.begin(), bytes.end());
}

void put(const std::string& path, const std::string& content) {
  write_file(path, content);
}

double likeness(const std::string& picture, const std::string& other, int finer) {
  const auto seen = [](const std::string& path, int factor) {
    return reduced(to_gray(ScanFile(path, {}).read(1).picture), factor);
  };
  const Gray a = seen(picture, 3 * finer), b = seen(other, 3);
  double both = 0, either = 0;
  for (int y = 0; y < std::min(a.height(), b.height()); ++y) {
    for (int x = 0; x < std::min(a.width(), b.width()); ++x) {
      both += 255 - std::max(a.row(y)[x], b.row(y)[x]);
      either += 255 - std::min(a.row(y)[x], b.row(y)[x]);
    }
  }
  const bool same_size =
      std::abs(a.width() - b.width()) <= 1 && std::abs(a.height() - b.height()) <= 1;
  return same_size && either > 0 ? both / either : 0;
}

const std::vector<std::string>& log_lines() {
  static const std::vector<std::string> lines = {
      "Keeper's Log of the Skerrow Light",      "The lamp was lit before dusk and burned",
      "clear all night. Wind from the south",   "west, heavy rain at dawn. Two boats",
      "passed inside the reef without signal.", "Oil used: 14 gallons. Tower painted white."};
  return lines;
}

std::string log_page(const testing::TemporaryFolder& folder, const std::string& name,
                     double degrees) {
  testing::PrintedPage page(1300, 800);
  page.print_column(log_lines(), 160, 160, 50, 90);
  const std::string path = folder.file(name);
  write_file(path, write_png(Picture(page.picture(degrees)), 300));
  return path;
}

Outcome in(const testing::TemporaryFolder& folder, const std::string& command) {
  return shell("cd " + folder.path() + " && " + command);
}

std::string folded(const std::string& text) {
  std::string out;
  for (size_t i = 0; i < text.size(); ++i) {
    const bool soft = text.compare(i, 2, "\xC2\xAD") == 0;
    const char c = soft ? '-' : text[i];
    i += soft;
    if (c != ' ' && c != '\n' && c != '\f')
      out += c;
    else if (!out.empty() && out.back() != ' ')
      out += ' ';
  }
  while (!out.empty() && out.back() == ' ') out.pop_back();
  return out;
}

}  // namespace burnisher::tests
