// Files that hold scans: image files and PDFs, their pages by number.
#pragma once

#include <memory>
#include <mutex>
#include <optional>
#include <string>

#include "base/source.h"
#include "page/scan.h"
#include "raster/coded_image.h"

namespace burnisher {

class PdfFile;

struct ScanLimits {
  double pixels = 400e6;  // of one picture; more are refused before they are decoded
  double pdf_dpi = 300;   // of PDF pages without one picture over nearly all of the page
  bool strict = false;    // a file cut short is an error
  std::string pdf_password;
};

enum class FileKind { kPng, kJpeg, kJpeg2000, kTiff, kPnm, kPdf };

// One input. Opening it reads just enough to know its kind and its number of pages. Pages can be
// read from many threads at once.
class ScanFile {
 public:
  // Throws InputError (missing, empty, unknown kind, password) or FormatError.
  ScanFile(const Source& source, const ScanLimits& limits);

  // Of files the path, of memory its name.
  const std::string& path() const { return source_.name(); }
  int page_count() const { return page_count_; }
  FileKind kind() const { return kind_; }
  bool is_pdf() const { return kind_ == FileKind::kPdf; }
  // Held open from its first use until `close`; null for other kinds.
  std::shared_ptr<const PdfFile> pdf() const;
  // Lets go of the file; whoever asks again opens it again. For many files one after the other.
  void close() const;
  const ScanLimits& limits() const { return limits_; }
  // `page` from 1. Throws FormatError naming file and page.
  Scan read(int page) const;
  // The page's picture in the bytes it came in, where a document can hold those; nothing otherwise.
  std::optional<CodedImage> coded(int page) const;

 private:
  Scan decoded(int page) const;

  Source source_;
  ScanLimits limits_;
  FileKind kind_;
  int page_count_ = 1;
  struct Opened {
    std::mutex guard;
    std::shared_ptr<const PdfFile> pdf;
  };
  std::shared_ptr<Opened> opened_ = std::make_shared<Opened>();
};

}  // namespace burnisher
