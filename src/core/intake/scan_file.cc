#include "intake/scan_file.h"

#include <cctype>

#include "base/error.h"
#include "intake/own_coding.h"
#include "intake/pdf_file.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/png.h"
#include "raster/pnm.h"
#include "raster/tiff.h"

namespace burnisher {
namespace {

// Outside of these a stated resolution is a default or a mistake (72 and 96 are screen values).
constexpr double kLeastBelievableDpi = 100, kMostBelievableDpi = 2400;

FileKind kind_of(const Source& source) {
  const std::vector<uint8_t> b = source.head(1024);
  if (b.empty()) throw InputError(source.name() + ": the file is empty");
  const std::string head(b.begin(), b.end());
  if (head.compare(0, 8, "\x89PNG\r\n\x1a\n") == 0) return FileKind::kPng;
  if (head.compare(0, 2, "\xff\xd8") == 0) return FileKind::kJpeg;
  if (is_jpeg2000(b.data(), b.size())) return FileKind::kJpeg2000;
  const std::string four = head.substr(0, 4);
  if (four == std::string("II*\0", 4) || four == std::string("MM\0*", 4) ||
      four == std::string("II+\0", 4) || four == std::string("MM\0+", 4)) {
    return FileKind::kTiff;
  }
  if (b.size() > 2 && b[0] == 'P' && b[1] >= '1' && b[1] <= '6' && std::isspace(b[2]))
    return FileKind::kPnm;
  if (head.find("%PDF-") != std::string::npos) return FileKind::kPdf;
  throw InputError(source.name() +
                   ": is no picture Burnisher can read (PNG, JPEG, JPEG 2000, TIFF, PNM, PDF), "
                   "whatever its name says");
}

double believable(double dpi) {
  return dpi >= kLeastBelievableDpi && dpi <= kMostBelievableDpi ? dpi : 0;
}

// What a decoder gave, as a scan. `Read` has picture, dpi and cut_short.
template <typename Read>
Scan scan_of(Read read, const char* kind, bool strict) {
  Scan scan;
  scan.picture = std::move(read.picture);
  scan.stated_dpi = read.dpi;
  if (read.cut_short) {
    const std::string what = std::string("the ") + kind + " data end early";
    if (strict) throw FormatError(what);
    scan.notes.push_back(what + "; the rest is treated as blank");
  }
  return scan;
}

}  // namespace

ScanFile::ScanFile(const Source& source, const ScanLimits& limits)
    : source_(source), limits_(limits), kind_(kind_of(source)) {
  try {
    if (kind_ == FileKind::kTiff) page_count_ = count_tiff_pages(source);
    if (kind_ == FileKind::kPdf) {
      page_count_ = pdf()->page_count();
    }
  } catch (const FormatError& cause) {
    throw FormatError(path() + ": " + cause.what(), cause.code());
  }
  if (page_count_ < 1) throw FormatError(path() + ": has no pages");
}

std::shared_ptr<const PdfFile> ScanFile::pdf() const {
  if (kind_ != FileKind::kPdf) return nullptr;
  const std::lock_guard<std::mutex> lock(opened_->guard);
  if (!opened_->pdf) opened_->pdf = std::make_shared<const PdfFile>(source_, limits_.pdf_password);
  return opened_->pdf;
}

void ScanFile::close() const {
  const std::lock_guard<std::mutex> lock(opened_->guard);
  opened_->pdf.reset();
}

Scan ScanFile::decoded(int page) const {
  const bool strict = limits_.strict;
  switch (kind_) {
    case FileKind::kPng: {
      PngRead read = read_png(*source_.bytes(), limits_.pixels);
      Scan scan;
      scan.picture = std::move(read.picture);
      scan.stated_dpi = read.dpi;
      return scan;
    }
    case FileKind::kJpeg:
      return scan_of(read_jpeg(*source_.bytes(), limits_.pixels), "JPEG", strict);
    case FileKind::kJpeg2000:
      return scan_of(read_jpeg2000(*source_.bytes(), limits_.pixels), "JPEG 2000", strict);
    case FileKind::kTiff:
      return scan_of(read_tiff(source_, page - 1, limits_.pixels), "TIFF", strict);
    case FileKind::kPdf:
      return pdf()->read(page, limits_);
    case FileKind::kPnm:
      break;
  }
  Scan scan;
  scan.picture = read_pnm(*source_.bytes(), limits_.pixels);
  return scan;
}

std::optional<CodedImage> ScanFile::coded(int page) const {
  return is_pdf() ? pdf()->only_picture(page) : own_coding(source_, page);
}

Scan ScanFile::read(int page) const {
  try {
    Scan scan = decoded(page);
    if (width_of(scan.picture) < 1 || height_of(scan.picture) < 1)
      throw FormatError("the picture has no pixels");
    scan.file = path();
    scan.page = page;
    scan.page_count = page_count_;
    scan.stated_dpi = believable(scan.stated_dpi);
    return scan;
  } catch (const FormatError& cause) {
    throw FormatError(
        (page_count_ > 1 ? "page " + std::to_string(page) + " of " + path() : path()) + ": " +
            cause.what(),
        cause.code());
  }
}

}  // namespace burnisher
