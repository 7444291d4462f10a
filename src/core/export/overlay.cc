#include "export/overlay.h"

#include <cairo-svg.h>
#include <cairo.h>
#include <fmt/core.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <memory>

#include "page/block_kind.h"

namespace burnisher::exporting {
namespace {

constexpr int kLegendHeight = 28;  // pixels

struct Ink {
  double r, g, b;
};

// Told apart by people with any colour vision: neighbours differ in brightness as well as in hue,
// and every kind has a line style of its own.
constexpr Ink kSure{0.05, 0.42, 0.65};    // sea blue
constexpr Ink kUnsure{0.85, 0.35, 0.0};   // rust
constexpr Ink kBaseline{0.2, 0.6, 0.45};  // moss

struct KindStyle {
  BlockKind kind;
  Ink ink;
  double dash;  // length of dashes, 0: an unbroken line
  double gap;
};
constexpr KindStyle kStyles[] = {
    {BlockKind::kText, {0.35, 0.2, 0.5}, 0, 0},          // plum
    {BlockKind::kHeading, {0.7, 0.1, 0.3}, 0, 0},        // crimson
    {BlockKind::kCaption, {0.1, 0.5, 0.6}, 9, 3},        // teal
    {BlockKind::kFootnote, {0.5, 0.45, 0.05}, 9, 3},     // olive
    {BlockKind::kRunningHead, {0.3, 0.45, 0.75}, 3, 3},  // slate
    {BlockKind::kPageNumber, {0.05, 0.25, 0.55}, 3, 3},  // ink blue
    {BlockKind::kMarginNote, {0.75, 0.45, 0.65}, 6, 6},  // mauve
    {BlockKind::kDropCapital, {0.45, 0.3, 0.2}, 5, 2},   // umber
    {BlockKind::kTable, {0.0, 0.4, 0.2}, 0, 0},          // fir
    {BlockKind::kPicture, {0.75, 0.5, 0.1}, 14, 4},      // ochre
    {BlockKind::kSeparator, {0.55, 0.55, 0.55}, 1, 4},   // gray
    {BlockKind::kNoise, {0.2, 0.2, 0.2}, 2, 7},          // charcoal
};

const KindStyle& style_of(BlockKind kind) {
  for (const KindStyle& style : kStyles) {
    if (style.kind == kind) return style;
  }
  return kStyles[0];
}

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

// Returns the width.
int write(cairo_t* cr, const std::string& text, double x, double y, const Ink& ink) {
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
  return width;
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

// Lines of the drawing are `unit` page pixels wide.
void outline(cairo_t* cr, const Block& block, double unit) {
  const KindStyle& style = style_of(block.kind);
  const double dashes[] = {style.dash * unit, style.gap * unit};
  cairo_set_dash(cr, dashes, style.dash > 0 ? 2 : 0, 0);
  cairo_set_line_width(cr, 1.6 * unit);
  set(cr, style.ink);
  trace(cr, block.outline, true);
  cairo_stroke(cr);
  cairo_set_dash(cr, nullptr, 0, 0);
  cairo_set_line_width(cr, 0.8 * unit);
  for (const Cell& cell : block.cells) {
    set(cr, style.ink, cell.header ? 0.12 : 0.04);
    trace(cr, cell.box.corners(), true);
    cairo_fill_preserve(cr);
    set(cr, style.ink, 0.6);
    cairo_stroke(cr);
  }
}

std::string label_of(const Block& block, int order) {
  std::string label = fmt::format("{} {}", order, name_of(block.kind));
  if (block.level > 0) label += fmt::format(" {}", block.level);
  return label;
}

void draw_page(cairo_t* cr, const Page& page, double scale, const OverlaySettings& settings) {
  cairo_save(cr);
  cairo_scale(cr, scale, scale);
  for (const Block& block : page.blocks) {
    outline(cr, block, 1 / scale);
    cairo_set_line_width(cr, 1.2 / scale);
    for (const Line& line : block.lines) {
      set(cr, kBaseline);
      trace(cr, line.baseline, false);
      cairo_stroke(cr);
      draw_words(cr, line, settings.unsure);
    }
  }
  cairo_restore(cr);
  int order = 0;
  for (const Block& block : page.blocks) {
    ++order;
    if (block.kind == BlockKind::kSeparator) continue;
    const Box box = bounds(block.outline);
    write(cr, label_of(block, order), box.x0 * scale + 3, std::max(1.0, box.y0 * scale - 15),
          style_of(block.kind).ink);
  }
}

// A line under the page that says what the colours mean; only kinds that occur.
void draw_legend(cairo_t* cr, const Page& page, int width, double top) {
  set(cr, {1, 1, 1});
  cairo_rectangle(cr, 0, top, width, kLegendHeight);
  cairo_fill(cr);
  double x = 10;
  const auto entry = [&](const std::string& text, const Ink& ink) {
    set(cr, ink);
    cairo_rectangle(cr, x, top + 8, 12, 12);
    cairo_fill(cr);
    x += 18 + write(cr, text, x + 18, top + 6, ink) + 14;
  };
  for (const KindStyle& style : kStyles) {
    if (std::any_of(page.blocks.begin(), page.blocks.end(),
                    [&](const Block& b) { return b.kind == style.kind; }))
      entry(name_of(style.kind), style.ink);
  }
  const bool read = page.has_words();
  if (read) entry("word", kSure);
  if (read) entry("unsure word", kUnsure);
  entry("baseline", kBaseline);
}

struct Sizes {
  double scale;
  int width, height;
};

Sizes sizes_of(const Gray& picture, const OverlaySettings& settings) {
  const double scale = std::min(1.0, static_cast<double>(settings.widest) / picture.width());
  return {scale, std::max(1, static_cast<int>(picture.width() * scale)),
          std::max(1, static_cast<int>(picture.height() * scale))};
}

cairo_status_t append_bytes(void* to, const unsigned char* bytes, unsigned count) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), count);
  return CAIRO_STATUS_SUCCESS;
}

}  // namespace

std::string overlay_svg(const Gray& page_picture, const Page& page,
                        const OverlaySettings& settings) {
  const Sizes sizes = sizes_of(page_picture, settings);
  Drawing under(sizes.width, sizes.height);
  paint_page(page_picture, sizes.scale, under.surface.get());
  std::string svg;
  cairo_surface_t* surface = cairo_svg_surface_create_for_stream(append_bytes, &svg, sizes.width,
                                                                 sizes.height + kLegendHeight);
  cairo_svg_surface_set_document_unit(surface, CAIRO_SVG_UNIT_PX);
  cairo_t* cr = cairo_create(surface);
  cairo_set_source_surface(cr, under.surface.get(), 0, 0);
  cairo_paint(cr);
  draw_page(cr, page, sizes.scale, settings);
  draw_legend(cr, page, sizes.width, sizes.height);
  cairo_destroy(cr);
  cairo_surface_finish(surface);
  cairo_surface_destroy(surface);
  return svg;
}

Colour overlay_of(const Gray& page_picture, const Page& page, const OverlaySettings& settings) {
  const Sizes sizes = sizes_of(page_picture, settings);
  const int width = sizes.width, height = sizes.height + kLegendHeight;
  Drawing drawing(width, height);
  paint_page(page_picture, sizes.scale, drawing.surface.get());
  draw_page(drawing.cairo.get(), page, sizes.scale, settings);
  draw_legend(drawing.cairo.get(), page, width, sizes.height);
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
