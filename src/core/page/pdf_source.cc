#include "page/pdf_source.h"

#include <poppler-document.h>
#include <poppler-global.h>
#include <poppler-page-renderer.h>
#include <poppler-page.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <memory>
#include <mutex>

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include "base/error.h"

namespace burnisher {
namespace {

constexpr double kLeastDpi = 72, kMostDpi = 1200;
constexpr double kCoveringShare = 0.8;  // a picture this wide is the page's scan
constexpr int kColourTolerance = 12;    // channels nearer than this are gray

void keep_quiet(const std::string&, void*) {}

// Resolution of the largest picture on the page when it covers the page, else 0.
double picture_dpi(const std::string& path, const std::string& password, int page,
                   double page_width_points) {
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processFile(path.c_str(), password.c_str());
    auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
    double widest = 0, dpi = 0;
    for (auto& [name, image] : pages.at(static_cast<size_t>(page - 1)).getImages()) {
      const double width = image.getDict().getKey("/Width").getNumericValue();
      const double height = image.getDict().getKey("/Height").getNumericValue();
      if (width * height <= widest) continue;
      widest = width * height;
      // A scan laid over the page upright or turned: the shorter side fits the page's width.
      dpi = width / (page_width_points / 72);
    }
    return dpi >= kLeastDpi * kCoveringShare && dpi <= kMostDpi ? dpi : 0;
  } catch (const std::exception&) {
    return 0;  // a PDF qpdf cannot read may still be drawn by poppler, at the default resolution
  }
}

bool is_gray(const poppler::image& image) {
  for (int y = 0; y < image.height(); ++y) {
    const char* data = image.const_data() + static_cast<long>(y) * image.bytes_per_row();
    const auto* row = reinterpret_cast<const uint8_t*>(data);
    for (int x = 0; x < image.width(); ++x) {
      const uint8_t* p = row + 3 * x;
      if (std::abs(p[0] - p[1]) > kColourTolerance || std::abs(p[1] - p[2]) > kColourTolerance)
        return false;
    }
  }
  return true;
}

Picture picture_of(const poppler::image& image) {
  const int width = image.width(), height = image.height();
  const auto row_of = [&](int y) {
    return reinterpret_cast<const uint8_t*>(image.const_data() +
                                            static_cast<long>(y) * image.bytes_per_row());
  };
  if (!is_gray(image)) {
    Colour colour(width, height);
    for (int y = 0; y < height; ++y) std::copy_n(row_of(y), 3 * width, colour.row(y));
    return colour;
  }
  Gray gray(width, height);
  bool bitonal = true;
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const uint8_t v = row_of(y)[3 * x + 1];
      gray.row(y)[x] = v;
      bitonal = bitonal && (v == 0 || v == 255);
    }
  }
  if (!bitonal) return gray;
  Bitonal ink(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      if (gray.row(y)[x] == 0) ink.set_ink(x, y, true);
    }
  }
  return ink;
}

}  // namespace

std::unique_ptr<poppler::document> open_pdf(const std::string& path, const std::string& password) {
  static std::once_flag quiet;
  std::call_once(quiet, [] { poppler::set_debug_error_function(keep_quiet, nullptr); });
  std::unique_ptr<poppler::document> document(
      poppler::document::load_from_file(path, password, password));
  if (!document) throw FormatError("no usable PDF; its structure is damaged");
  if (document->is_locked()) {
    throw InputError(path + (password.empty() ? ": the PDF needs a password (--password-file)"
                                              : ": the PDF does not open with the password given"));
  }
  return document;
}

int count_pdf_pages(const std::string& path, const std::string& password) {
  return open_pdf(path, password)->pages();
}

Scan read_pdf_page(const std::string& path, int page, const ScanLimits& limits) {
  const auto document = open_pdf(path, limits.pdf_password);
  const std::unique_ptr<poppler::page> held(document->create_page(page - 1));
  if (!held) throw FormatError("the page cannot be opened");
  const poppler::rectf box = held->page_rect();
  Scan scan;
  double dpi = picture_dpi(path, limits.pdf_password, page, box.width());
  if (dpi == 0) dpi = limits.pdf_dpi;
  const double pixels = box.width() / 72 * dpi * box.height() / 72 * dpi;
  if (pixels > limits.pixels) {
    throw FormatError("the page would be " + std::to_string(static_cast<long>(pixels / 1e6)) +
                      " megapixels, over the limit (see --max-pixels and --dpi)");
  }
  poppler::page_renderer renderer;
  renderer.set_render_hint(poppler::page_renderer::antialiasing);
  renderer.set_render_hint(poppler::page_renderer::text_antialiasing);
  renderer.set_image_format(poppler::image::format_rgb24);
  const poppler::image image = renderer.render_page(held.get(), dpi, dpi);
  if (!image.is_valid() || image.width() == 0) throw FormatError("the page cannot be drawn");
  scan.picture = picture_of(image);
  scan.stated_dpi = dpi;
  const poppler::ustring text = held->text();
  scan.has_text =
      std::any_of(text.begin(), text.end(), [](auto c) { return c > U' '; });  // beyond page ends
  if (scan.has_text) {
    scan.notes.push_back("has real text already; it was read anew from the picture");
  }
  return scan;
}

}  // namespace burnisher
