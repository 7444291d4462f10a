// A PDF held open: its pages counted once, the picture of a scanned page taken out in its own
// pixels, other pages drawn.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "base/source.h"
#include "page/page.h"
#include "page/scan.h"
#include "raster/coded_image.h"

namespace burnisher {

struct ScanLimits;

// Safe to use from many threads at once.
class PdfFile {
 public:
  // Throws InputError (password wanted) or FormatError (no usable PDF).
  PdfFile(const Source& source, const std::string& password);
  ~PdfFile();

  int page_count() const;

  // The page (from 1) as a scan: its one picture, as it is, where the page is nothing else (and
  // text that is not seen); drawn otherwise, at the resolution of the pictures that cover it, or
  // `limits.pdf_dpi`. Throws FormatError.
  Scan read(int page, const ScanLimits& limits) const;

  // Where the page is one picture upright over all of it, and text that is not seen: that picture,
  // coded as it is. Nothing for all other pages, and for codings and colours that do not stand for
  // themselves.
  std::optional<CodedImage> only_picture(int page) const;

  // The real text of the page: its words at `dpi`, as lines and blocks. Nothing when it carries no
  // text worth the name: a few stamped letters over a scan are none.
  std::optional<Page> text(int page, double dpi) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher
