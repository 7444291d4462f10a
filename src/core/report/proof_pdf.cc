#include "report/proof_pdf.h"

#include <cairo-pdf.h>
#include <fmt/core.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::report {
namespace {

// Points.
constexpr double kWidth = 595, kHeight = 842, kMargin = 42, kEntry = 82, kPictureHeight = 26;

class Paper {
 public:
  explicit Paper(PendingFile& file)
      : surface_(cairo_pdf_surface_create_for_stream(append, &file, kWidth, kHeight)),
        cr_(cairo_create(surface_)) {}
  ~Paper() {
    cairo_destroy(cr_);
    cairo_surface_destroy(surface_);
  }
  Paper(const Paper&) = delete;
  Paper& operator=(const Paper&) = delete;

  void finish() { cairo_surface_finish(surface_); }
  void turn_page() { cairo_show_page(cr_); }

  // Returns the width. `most`: what does not fit ends in dots; 0: as wide as it is.
  double text(double x, double y, const char* font, const std::string& words, double most = 0) {
    PangoLayout* layout = pango_cairo_create_layout(cr_);
    PangoFontDescription* description = pango_font_description_from_string(font);
    pango_layout_set_font_description(layout, description);
    pango_layout_set_text(layout, words.c_str(), -1);
    if (most > 0) {
      pango_layout_set_width(layout, static_cast<int>(most * PANGO_SCALE));
      pango_layout_set_ellipsize(layout, PANGO_ELLIPSIZE_END);
      pango_layout_set_height(layout, 0);
    }
    int width = 0, height = 0;
    pango_layout_get_pixel_size(layout, &width, &height);
    cairo_move_to(cr_, x, y);
    pango_cairo_show_layout(cr_, layout);
    pango_font_description_free(description);
    g_object_unref(layout);
    return width;
  }

  void picture(const LineCut& cut, double x, double y) {
    const Gray& from = cut.picture;
    cairo_surface_t* image =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, from.width(), from.height());
    const int stride = cairo_image_surface_get_stride(image);
    for (int v = 0; v < from.height(); ++v) {
      auto* row = reinterpret_cast<uint32_t*>(cairo_image_surface_get_data(image) + v * stride);
      for (int u = 0; u < from.width(); ++u) row[u] = from.row(v)[u] * 0x010101u;
    }
    cairo_surface_mark_dirty(image);
    const double scale =
        std::min(kPictureHeight / from.height(), (kWidth - 2 * kMargin) / from.width());
    cairo_save(cr_);
    cairo_translate(cr_, x, y);
    cairo_scale(cr_, scale, scale);
    cairo_set_source_surface(cr_, image, 0, 0);
    cairo_paint(cr_);
    cairo_set_source_rgb(cr_, 0.9, 0.32, 0);
    cairo_set_line_width(cr_, 1.2 / scale);
    cairo_rectangle(cr_, cut.word.x0, cut.word.y0, cut.word.width(), cut.word.height());
    cairo_stroke(cr_);
    cairo_restore(cr_);
    cairo_set_source_rgb(cr_, 0, 0, 0);
    cairo_surface_destroy(image);
  }

  void rule(double x0, double x1, double y) {
    cairo_set_line_width(cr_, 0.5);
    cairo_move_to(cr_, x0, y);
    cairo_line_to(cr_, x1, y);
    cairo_stroke(cr_);
  }

 private:
  static cairo_status_t append(void* file, const unsigned char* bytes, unsigned int length) {
    try {
      static_cast<PendingFile*>(file)->write(
          std::string_view(reinterpret_cast<const char*>(bytes), length));
    } catch (const Error&) {
      return CAIRO_STATUS_WRITE_ERROR;  // keep() tells the cause
    }
    return CAIRO_STATUS_SUCCESS;
  }

  cairo_surface_t* surface_;
  cairo_t* cr_;
};

std::string choices_of(const ProofItem& item) {
  std::string text;
  for (const std::string& suggestion : item.suggestions) text += "   \u25A1 " + suggestion;
  return "\u25A1 right" + text;
}

void draw(const ProofItem& item, const Page& page, const Gray& picture, size_t number, double y,
          Paper& paper) {
  const double width = kWidth - 2 * kMargin;
  paper.text(kMargin, y, "DejaVu Sans 7",
             fmt::format("{}   page {} of {}   {}", number, page.number,
                         std::filesystem::path(page.file).filename().string(),
                         reasons_in_words(item.word->reasons)),
             width);
  if (!picture.empty()) paper.picture(line_cut(picture, *item.line, *item.word), kMargin, y + 12);
  paper.text(kMargin, y + 40, "DejaVu Serif 9", "read: " + item.word->text, 150);
  paper.text(kMargin + 160, y + 40, "DejaVu Serif 9", choices_of(item), width - 160);
  paper.text(kMargin, y + 57, "DejaVu Sans 7", "should be");
  paper.rule(kMargin + 45, kMargin + 300, y + 67);
}

}  // namespace

void write_proof_pdf(const ProofSheet& sheet, const std::string& path, bool overwrite) {
  PendingFile file(path, overwrite);
  {
    Paper paper(file);
    paper.text(kMargin, kMargin, "DejaVu Sans Bold 11", sheet.title, kWidth - 2 * kMargin);
    double y = kMargin + 26;
    Gray picture;
    for (size_t i = 0; i < sheet.items.size(); ++i) {
      const ProofItem& item = sheet.items[i];
      if (i == 0 || item.page != sheet.items[i - 1].page) picture = sheet.picture(item.page);
      if (y + kEntry > kHeight - kMargin) {
        paper.turn_page();
        y = kMargin;
      }
      draw(item, *sheet.pages[item.page], picture, i + 1, y, paper);
      y += kEntry;
    }
    if (sheet.items.empty())
      paper.text(kMargin, y, "DejaVu Sans 9", "There is no suspect word in this document.");
    paper.finish();
  }
  file.keep();
}

}  // namespace burnisher::report
