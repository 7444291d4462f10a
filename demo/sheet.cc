#include "sheet.h"

#include <pango/pangocairo.h>

#include <cmath>
#include <stdexcept>

#include "base/random.h"

namespace burnisher::demo {
namespace {

// The face must be there: a silent replacement would give other scans on other machines.
void require_face(PangoLayout* layout, const std::string& wanted) {
  PangoFontMap* map = pango_cairo_font_map_get_default();
  PangoFont* font = pango_font_map_load_font(map, pango_layout_get_context(layout),
                                             pango_layout_get_font_description(layout));
  PangoFontDescription* got = pango_font_describe(font);
  const std::string family = pango_font_description_get_family(got);
  pango_font_description_free(got);
  g_object_unref(font);
  if (wanted.compare(0, family.size(), family) != 0) {
    throw std::runtime_error("the face " + wanted + " is not installed (scripts/setup --training)");
  }
}

}  // namespace

Sheet::Sheet(double width, double height, double dpi) : dpi_(dpi) {
  surface_ = cairo_image_surface_create(CAIRO_FORMAT_RGB24, static_cast<int>(pixels(width)),
                                        static_cast<int>(pixels(height)));
  cr_ = cairo_create(surface_);
  cairo_set_source_rgb(cr_, 1, 1, 1);
  cairo_paint(cr_);
  cairo_set_source_rgb(cr_, 0, 0, 0);
}

Sheet::~Sheet() {
  cairo_destroy(cr_);
  cairo_surface_destroy(surface_);
}

double Sheet::set(const std::string& text, const Setting& s) {
  PangoLayout* layout = pango_cairo_create_layout(cr_);
  pango_cairo_context_set_resolution(pango_layout_get_context(layout), dpi_);
  PangoFontDescription* font = pango_font_description_from_string(s.font.c_str());
  pango_font_description_set_size(font, static_cast<int>(s.size * PANGO_SCALE));
  pango_layout_set_font_description(layout, font);
  require_face(layout, s.font);
  pango_layout_set_text(layout, text.c_str(), -1);
  pango_layout_set_width(layout, static_cast<int>(pixels(s.width) * PANGO_SCALE));
  pango_layout_set_indent(layout, static_cast<int>(pixels(s.indent) * PANGO_SCALE));
  pango_layout_set_justify(layout, s.align == Align::kJustified);
  pango_layout_set_alignment(layout, s.align == Align::kCentre  ? PANGO_ALIGN_CENTER
                                     : s.align == Align::kRight ? PANGO_ALIGN_RIGHT
                                                                : PANGO_ALIGN_LEFT);
  const double pitch = s.size / 72 * dpi_ * s.leading;
  double y = pixels(s.y) + pitch * 0.8;
  for (int i = 0; i < pango_layout_get_line_count(layout); ++i, y += pitch) {
    PangoLayoutLine* line = pango_layout_get_line_readonly(layout, i);
    int x0 = 0;
    PangoRectangle extents;
    pango_layout_line_get_extents(line, nullptr, &extents);
    pango_layout_line_index_to_x(line, line->start_index, FALSE, &x0);
    const double slack = pixels(s.width) - static_cast<double>(extents.width) / PANGO_SCALE;
    const double shift = s.align == Align::kCentre  ? slack / 2
                         : s.align == Align::kRight ? slack
                                                    : 0;
    const double indent = i == 0 && s.align == Align::kJustified ? pixels(s.indent) : 0;
    cairo_move_to(cr_, pixels(s.x) + shift + indent, y);
    pango_cairo_show_layout_line(cr_, line);
    std::string words =
        text.substr(static_cast<size_t>(line->start_index), static_cast<size_t>(line->length));
    while (!words.empty() && words.back() == ' ') words.pop_back();
    truth_ += words + "\n";
  }
  const double height = (y - pixels(s.y) - pitch * 0.8) / dpi_ * 25.4;
  pango_font_description_free(font);
  g_object_unref(layout);
  return height;
}

void Sheet::end_block() {
  truth_ += "\n";
}

void Sheet::join_lines(int count) {
  for (size_t at = truth_.size() - 1; count > 1; --count) {
    at = truth_.rfind('\n', at - 1);
    truth_[at] = ' ';
  }
}

void Sheet::rule(double x0, double y0, double x1, double y1, double thickness) {
  cairo_set_line_width(cr_, pixels(thickness));
  cairo_move_to(cr_, pixels(x0), pixels(y0));
  cairo_line_to(cr_, pixels(x1), pixels(y1));
  cairo_stroke(cr_);
}

void Sheet::engraving(double x, double y, double width, double height) {
  cairo_save(cr_);
  cairo_translate(cr_, pixels(x), pixels(y));
  cairo_scale(cr_, pixels(width) / 100, pixels(height) / 100);
  cairo_rectangle(cr_, 0, 0, 100, 100);
  cairo_set_line_width(cr_, 1.2);
  cairo_stroke_preserve(cr_);
  cairo_clip(cr_);
  Random random(11);
  cairo_set_line_width(cr_, 0.35);  // sky: level strokes, closer towards the top
  for (double row = 2; row < 72; row += 1.1 + row / 60) {
    cairo_move_to(cr_, 0, row);
    for (double at = 0; at <= 100; at += 4) cairo_line_to(cr_, at, row + 0.3 * random.normal());
    cairo_stroke(cr_);
  }
  cairo_set_source_rgb(cr_, 1, 1, 1);  // tower
  cairo_move_to(cr_, 45, 78);
  cairo_line_to(cr_, 48, 22);
  cairo_line_to(cr_, 56, 22);
  cairo_line_to(cr_, 59, 78);
  cairo_close_path(cr_);
  cairo_fill(cr_);
  cairo_set_source_rgb(cr_, 0, 0, 0);
  for (double row = 24; row < 78; row += 1.6) {  // its shaded side
    cairo_move_to(cr_, 53 + (row - 22) * 0.01, row);
    cairo_line_to(cr_, 56 + (row - 22) * 0.055, row);
    cairo_stroke(cr_);
  }
  cairo_rectangle(cr_, 47, 15, 10, 7);  // lantern
  cairo_fill(cr_);
  cairo_move_to(cr_, 46, 15);
  cairo_line_to(cr_, 52, 8);
  cairo_line_to(cr_, 58, 15);
  cairo_fill(cr_);
  cairo_move_to(cr_, 10, 84);  // rock
  for (double at = 10; at <= 95; at += 5)
    cairo_line_to(cr_, at, 76 + 4 * random.uniform() + std::fabs(at - 52) * 0.18);
  cairo_line_to(cr_, 100, 100);
  cairo_line_to(cr_, 0, 100);
  cairo_fill(cr_);
  cairo_restore(cr_);
  cairo_set_source_rgb(cr_, 0, 0, 0);
}

FloatImage Sheet::ink() const {
  cairo_surface_flush(surface_);
  const int width = cairo_image_surface_get_width(surface_),
            height = cairo_image_surface_get_height(surface_);
  const auto* pixel_bytes = cairo_image_surface_get_data(surface_);
  const int stride = cairo_image_surface_get_stride(surface_);
  FloatImage ink(width, height);
  for (int y = 0; y < height; ++y) {
    const auto* row =
        reinterpret_cast<const uint32_t*>(pixel_bytes + static_cast<long>(y) * stride);
    for (int x = 0; x < width; ++x)
      ink.row(y)[x] = 1 - static_cast<float>((row[x] >> 8) & 0xff) / 255;
  }
  return ink;
}

}  // namespace burnisher::demo
