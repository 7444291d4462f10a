#include "page/scan.h"

#include <algorithm>
#include <cctype>
#include <cstdio>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "page/pdf_source.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/png.h"
#include "raster/pnm.h"
#include "raster/tiff.h"

namespace burnisher {
namespace {

namespace fs = std::filesystem;

// Outside of these a stated resolution is a default or a mistake (72 and 96 are screen values).
constexpr double kLeastBelievableDpi = 100, kMostBelievableDpi = 2400;

const char* const kEndings[] = {".png",  ".jpg", ".jpeg", ".jp2", ".j2k", ".tif",
                                ".tiff", ".pbm", ".pgm",  ".ppm", ".pnm", ".pdf"};

bool known_ending(const fs::path& path) {
  std::string ending = path.extension();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return std::tolower(c); });
  return std::find(std::begin(kEndings), std::end(kEndings), ending) != std::end(kEndings);
}

FileKind kind_of(const std::string& path) {
  std::error_code status;
  if (!fs::exists(path, status)) throw InputError(path + ": there is no such file");
  if (fs::is_directory(path, status)) throw InputError(path + ": is a folder, not a file");
  std::FILE* stream = std::fopen(path.c_str(), "rb");
  if (stream == nullptr) throw InputError(path + ": cannot be opened; check its permissions");
  unsigned char b[1024];
  const size_t count = std::fread(b, 1, sizeof b, stream);
  std::fclose(stream);
  if (count == 0) throw InputError(path + ": the file is empty");
  const std::string head(reinterpret_cast<char*>(b), count);
  if (head.compare(0, 8, "\x89PNG\r\n\x1a\n") == 0) return FileKind::kPng;
  if (head.compare(0, 2, "\xff\xd8") == 0) return FileKind::kJpeg;
  if (is_jpeg2000(b, count)) return FileKind::kJpeg2000;
  const std::string four = head.substr(0, 4);
  if (four == std::string("II*\0", 4) || four == std::string("MM\0*", 4) ||
      four == std::string("II+\0", 4) || four == std::string("MM\0+", 4)) {
    return FileKind::kTiff;
  }
  if (count > 2 && b[0] == 'P' && b[1] >= '1' && b[1] <= '6' && std::isspace(b[2]))
    return FileKind::kPnm;
  if (head.find("%PDF-") != std::string::npos) return FileKind::kPdf;
  throw InputError(path +
                   ": is no picture Burnisher can read (PNG, JPEG, JPEG 2000, TIFF, PNM, PDF), "
                   "whatever its name says");
}

double believable(double dpi) {
  return dpi >= kLeastBelievableDpi && dpi <= kMostBelievableDpi ? dpi : 0;
}

void note_cut(bool cut, bool strict, const char* kind, Scan& scan) {
  if (!cut) return;
  const std::string what = std::string("the ") + kind + " data end early";
  if (strict) throw FormatError(what);
  scan.notes.push_back(what + "; the rest is treated as blank (--strict stops instead)");
}

}  // namespace

ScanFile::ScanFile(const std::string& path, const ScanLimits& limits)
    : path_(path), limits_(limits), kind_(kind_of(path)) {
  try {
    if (kind_ == FileKind::kTiff) page_count_ = count_tiff_pages(path);
    if (kind_ == FileKind::kPdf) page_count_ = count_pdf_pages(path, limits.pdf_password);
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
  if (page_count_ < 1) throw FormatError(path + ": has no pages");
}

Scan ScanFile::read(int page) const {
  const std::string where =
      page_count_ > 1 ? "page " + std::to_string(page) + " of " + path_ : path_;
  try {
    Scan scan;
    switch (kind_) {
      case FileKind::kPng: {
        PngRead read = read_png(read_file(path_), limits_.pixels);
        scan.picture = std::move(read.picture);
        scan.stated_dpi = read.dpi;
        break;
      }
      case FileKind::kJpeg: {
        JpegRead read = read_jpeg(read_file(path_), limits_.pixels);
        note_cut(read.cut_short, limits_.strict, "JPEG", scan);
        scan.picture = std::move(read.picture);
        scan.stated_dpi = read.dpi;
        break;
      }
      case FileKind::kJpeg2000: {
        Jpeg2000Read read = read_jpeg2000(read_file(path_), limits_.pixels);
        note_cut(read.cut_short, limits_.strict, "JPEG 2000", scan);
        scan.picture = std::move(read.picture);
        scan.stated_dpi = read.dpi;
        break;
      }
      case FileKind::kTiff: {
        TiffRead read = read_tiff(path_, page - 1, limits_.pixels);
        note_cut(read.cut_short, limits_.strict, "TIFF", scan);
        scan.picture = std::move(read.picture);
        scan.stated_dpi = read.dpi;
        break;
      }
      case FileKind::kPnm:
        scan.picture = read_pnm(read_file(path_), limits_.pixels);
        break;
      case FileKind::kPdf:
        scan = read_pdf_page(path_, page, limits_);
        break;
    }
    if (width_of(scan.picture) < 1 || height_of(scan.picture) < 1) {
      throw FormatError("the picture has no pixels");
    }
    scan.file = path_;
    scan.page = page;
    scan.page_count = page_count_;
    scan.stated_dpi = believable(scan.stated_dpi);
    return scan;
  } catch (const FormatError& cause) {
    throw FormatError(where + ": " + cause.what());
  }
}

std::vector<std::string> collect_inputs(const std::string& path) {
  std::error_code status;
  if (!fs::exists(path, status)) throw InputError(path + ": there is no such file or folder");
  if (!fs::is_directory(path, status)) return {path};
  std::vector<std::string> files;
  for (const auto& entry : fs::directory_iterator(path, status)) {
    if (entry.is_regular_file() && known_ending(entry.path())) files.push_back(entry.path());
  }
  if (status) throw InputError(path + ": the folder cannot be read: " + status.message());
  if (files.empty()) {
    throw InputError(path +
                     ": the folder holds no pictures (PNG, JPEG, JPEG 2000, TIFF, PNM, PDF)");
  }
  std::sort(files.begin(), files.end());
  return files;
}

PageRange::PageRange(const std::string& text) {
  const auto wrong = [&] {
    return SettingsError("--pages " + text + ": wanted are page numbers and ranges, as in 3-7,12");
  };
  const auto number = [&](const std::string& part, int empty) {
    if (part.empty()) return empty;
    if (part.size() > 7 || part.find_first_not_of("0123456789") != std::string::npos) throw wrong();
    return std::stoi(part);
  };
  for (size_t at = 0; at <= text.size();) {
    const size_t comma = std::min(text.find(',', at), text.size());
    const std::string span = text.substr(at, comma - at);
    const size_t dash = span.find('-');
    if (span.empty() || span == "-") throw wrong();
    const int first = number(span.substr(0, dash), 1);
    const int last = dash == std::string::npos ? first : number(span.substr(dash + 1), 1 << 30);
    if (first < 1 || last < first) throw wrong();
    spans_.emplace_back(first, last);
    at = comma + 1;
  }
}

bool PageRange::contains(int page) const {
  return spans_.empty() || std::any_of(spans_.begin(), spans_.end(), [&](const auto& s) {
           return page >= s.first && page <= s.second;
         });
}

}  // namespace burnisher
