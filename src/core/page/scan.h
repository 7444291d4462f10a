// Scans: pictures as they come in, from image files and PDFs, and pages of them by number.
#pragma once

#include <string>
#include <vector>

#include "raster/image.h"

namespace burnisher {

struct Scan {
  std::string file;
  int page = 1;                    // from 1, within the file
  int page_count = 1;              // of the file
  Picture picture;                 // Gray, Colour or Bitonal
  double stated_dpi = 0;           // what the file says; 0: nothing, or something absurd
  bool has_text = false;           // a PDF page that carries real text already
  std::vector<std::string> notes;  // what a person should know: cut short, text already there...
};

struct ScanLimits {
  double pixels = 400e6;
  double pdf_dpi = 300;  // PDF pages without one picture over all of the page
  bool strict = false;   // a file cut short is an error
  std::string pdf_password;
};

enum class FileKind { kPng, kJpeg, kJpeg2000, kTiff, kPnm, kPdf };

// One input file. Opening it reads just enough to know its kind and its number of pages.
class ScanFile {
 public:
  // Throws InputError (missing, empty, unknown kind, password) or FormatError.
  ScanFile(const std::string& path, const ScanLimits& limits);

  const std::string& path() const { return path_; }
  int page_count() const { return page_count_; }
  bool is_pdf() const { return kind_ == FileKind::kPdf; }
  const ScanLimits& limits() const { return limits_; }
  // `page` from 1. Throws FormatError naming file and page.
  Scan read(int page) const;

 private:
  std::string path_;
  ScanLimits limits_;
  FileKind kind_;
  int page_count_ = 1;
};

// Files named, and those in folders named (sorted by name, kinds known by their endings, not
// looked into). Throws InputError for what is not there or holds none.
std::vector<std::string> collect_inputs(const std::string& path);

// "3-7,12" with pages from 1; an open end ("5-") means up to the last. Empty: all pages.
// Throws SettingsError.
class PageRange {
 public:
  PageRange() = default;
  explicit PageRange(const std::string& text);
  bool contains(int page) const;

 private:
  std::vector<std::pair<int, int>> spans_;
};

}  // namespace burnisher
