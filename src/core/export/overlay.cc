#include "export/overlay.h"

#include <cairo.h>
#include <fmt/core.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <memory>

#include "page/block_kind.h"

namespace burnisher::exporting {
namespace {

struct Ink {
  double r, g, b;
};

// Told apart by people with any colour vision: they differ in brightness as well as in hue.
constexpr Ink kSure{0.05, 0.42, 0.65};    // sea blue
constexpr Ink kUnsure{0.85, 0.35, 0.0};   // rust
constexpr Ink kBlock{0.35, 0.2, 0.5};     // plum
constexpr Ink kBaseline{0.2, 0.6, 0.45};  // moss
constexpr Ink kOther{0.45, 0.45, 0.45};

struct Drawing {
  std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> surface;
  std::unique_ptr<cairo_t, decltype(&cairo_destroy)> cairo;

  Drawing(int width, int height)
      : surface(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height),
                cairo_surface_destroy),
        cairo(cairo_create(surface.get()), cairo_destroy) {}
};

void set(cairo_t* cr, const Ink& ink, double alpha = 1) {
  cairo_set_source_rgba(cr, ink.r, ink.g, ink.b, alpha);
}

void trace(cairo_t* cr, const std::vector<Point>& points, bool closed) {
  for (const Point& p : points) cairo_line_to(cr, p.x, p.y);
  if (closed) cairo_close_path(cr);
}

void write(cairo_t* cr, const std::string& text, double x, double y, const Ink& ink) {
  PangoLayout* layout = pango_cairo_create_layout(cr);
  PangoFontDescription* font = pango_font_description_from_string("DejaVu Sans Bold 9");
  pango_layout_set_font_description(layout, font);
  pango_layout_set_text(layout, text.c_str(), -1);
  int width = 0, height = 0;
  pango_layout_get_pixel_size(layout, &width, &height);
  set(cr, {1, 1, 1}, 0.85);
  cairo_rectangle(cr, x - 2, y - 1, width + 4, height + 2);
  cairo_fill(cr);
  set(cr, ink);
  cairo_move_to(cr, x, y);
  pango_cairo_show_layout(cr, layout);
  pango_font_description_free(font);
  g_object_unref(layout);
}

void paint_page(const Gray& picture, double scale, cairo_surface_t* surface) {
  cairo_surface_flush(surface);
  auto* pixels = cairo_image_surface_get_data(surface);
  const int stride = cairo_image_surface_get_stride(surface);
  const int width = cairo_image_surface_get_width(surface),
            height = cairo_image_surface_get_height(surface);
  const int reach = std::max(1, static_cast<int>(1 / scale + 0.5));
  for (int y = 0; y < height; ++y) {
    auto* row = reinterpret_cast<uint32_t*>(pixels + static_cast<long>(y) * stride);
    for (int x = 0; x < width; ++x) {
      int sum = 0, count = 0;
      const int y0 = static_cast<int>(y / scale), x0 = static_cast<int>(x / scale);
      for (int j = y0; j < std::min(picture.height(), y0 + reach); ++j) {
        for (int i = x0; i < std::min(picture.width(), x0 + reach); ++i, ++count)
          sum += picture.row(j)[i];
      }
      // Paled, so that the drawing stands out.
      const auto v = static_cast<uint32_t>(count > 0 ? 90 + sum / count * 165 / 255 : 255);
      row[x] = v << 16 | v << 8 | v;
    }
  }
  cairo_surface_mark_dirty(surface);
}

void draw_words(cairo_t* cr, const Line& line, double unsure) {
  for (const Word& word : line.words) {
    const bool sure = word.confidence >= unsure;
    set(cr, sure ? kSure : kUnsure, sure ? 0.12 : 0.3);
    trace(cr, word.box.corners(), true);
    cairo_fill_preserve(cr);
    set(cr, sure ? kSure : kUnsure, 0.9);
    cairo_stroke(cr);
  }
}

}  // namespace

Colour overlay_of(const Gray& page_picture, const Page& page, const OverlaySettings& settings) {
  const double scale = std::min(1.0, static_cast<double>(settings.widest) / page_picture.width());
  const int width = std::max(1, static_cast<int>(page_picture.width() * scale));
  const int height = std::max(1, static_cast<int>(page_picture.height() * scale));
  Drawing drawing(width, height);
  paint_page(page_picture, scale, drawing.surface.get());
  cairo_t* cr = drawing.cairo.get();
  cairo_scale(cr, scale, scale);
  cairo_set_line_width(cr, 1.2 / scale);
  int order = 0;
  for (const Block& block : page.blocks) {
    const bool text = !block.lines.empty();
    set(cr, text ? kBlock : kOther);
    trace(cr, block.outline, true);
    cairo_stroke(cr);
    for (const Line& line : block.lines) {
      set(cr, kBaseline);
      trace(cr, line.baseline, false);
      cairo_stroke(cr);
      draw_words(cr, line, settings.unsure);
    }
  }
  cairo_identity_matrix(cr);
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kSeparator) continue;
    const Box box = bounds(block.outline);
    write(cr, fmt::format("{} {}", ++order, name_of(block.kind)), box.x0 * scale + 3,
          std::max(1.0, box.y0 * scale - 15), block.lines.empty() ? kOther : kBlock);
  }
  write(cr, "word", 8, height - 20, kSure);
  write(cr, "unsure word", 54, height - 20, kUnsure);
  write(cr, "baseline", 150, height - 20, kBaseline);
  write(cr, "block: order and kind", 222, height - 20, kBlock);
  cairo_surface_flush(drawing.surface.get());
  const auto* pixels = cairo_image_surface_get_data(drawing.surface.get());
  const int stride = cairo_image_surface_get_stride(drawing.surface.get());
  Colour picture(width, height);
  for (int y = 0; y < height; ++y) {
    const auto* row = reinterpret_cast<const uint32_t*>(pixels + static_cast<long>(y) * stride);
    for (int x = 0; x < width; ++x) {
      picture.row(y)[3 * x] = static_cast<uint8_t>(row[x] >> 16);
      picture.row(y)[3 * x + 1] = static_cast<uint8_t>(row[x] >> 8);
      picture.row(y)[3 * x + 2] = static_cast<uint8_t>(row[x]);
    }
  }
  return picture;
}

}  // namespace burnisher::exporting
