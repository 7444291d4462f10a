#include "report/chart.h"

#include <cairo.h>
#include <fmt/core.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <cstring>

namespace burnisher::report {
namespace {

constexpr double kLeft = 70, kRight = 25, kTop = 50, kBottom = 60;  // pixels round the plot
constexpr double kBeside = 125;  // for a legend of more series than find room in the plot
constexpr size_t kMostInPlot = 4;
constexpr int kTicks = 7;  // about, on an even axis
// Told apart also by those who see few colours, and in this order from dark to light.
constexpr double kColours[][3] = {
    {0.04, 0.43, 0.60}, {0.78, 0.47, 0.0}, {0.48, 0.23, 0.41}, {0.25, 0.55, 0.25}};

// 1, 2 or 5 times a power of ten, so that about kTicks steps make up `span`.
double even_step(double span) {
  const double rough = std::max(span, 1e-9) / kTicks;
  const double power = std::pow(10, std::floor(std::log10(rough)));
  for (const double f : {1.0, 2.0, 5.0}) {
    if (f * power >= rough) return f * power;
  }
  return 10 * power;
}

// One axis: its range, where its ticks are, and the place of a value from 0 to 1.
class Axis {
 public:
  Axis(double least, double most, bool logarithmic) : logarithmic_(logarithmic) {
    if (logarithmic) {
      for (int power = -4; power < 9; ++power) {
        for (const double f : {1.0, 2.0, 3.0, 5.0}) ticks_.push_back(f * std::pow(10, power));
      }
      const auto below = std::upper_bound(ticks_.begin(), ticks_.end(), least);
      const auto above = std::lower_bound(ticks_.begin(), ticks_.end(), most);
      ticks_ = {below == ticks_.begin() ? below : below - 1,
                above == ticks_.end() ? above : above + 1};
    } else {
      const double step = even_step(most - least);
      for (double at = std::floor(least / step) * step; at < most + step; at += step)
        ticks_.push_back(at);
    }
  }
  const std::vector<double>& ticks() const { return ticks_; }
  double place(double value) const {
    const double from = on(ticks_.front()), to = on(ticks_.back());
    return (on(value) - from) / std::max(1e-12, to - from);
  }

 private:
  double on(double value) const { return logarithmic_ ? std::log(value) : value; }
  bool logarithmic_;
  std::vector<double> ticks_;
};

class Drawing {
 public:
  Drawing(const Chart& chart, int width, int height)
      : chart_(chart),
        width_(width),
        height_(height),
        right_(width - kRight - (chart.series.size() > kMostInPlot ? kBeside : 0)),
        surface_(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height)),
        cairo_(cairo_create(surface_)) {}
  ~Drawing() {
    cairo_destroy(cairo_);
    cairo_surface_destroy(surface_);
  }
  Drawing(const Drawing&) = delete;
  Drawing& operator=(const Drawing&) = delete;

  Colour picture() {
    cairo_set_source_rgb(cairo_, 1, 1, 1);
    cairo_paint(cairo_);
    double x0 = 1e300, x1 = -1e300, y0 = 1e300, y1 = -1e300;
    for (const ChartSeries& series : chart_.series) {
      for (const Point& p : series.points) {
        if (!shown(p)) continue;
        x0 = std::min(x0, p.x), x1 = std::max(x1, p.x);
        y0 = std::min(y0, p.y), y1 = std::max(y1, p.y);
      }
    }
    if (x1 < x0) x0 = y0 = chart_.logarithmic ? 1 : 0, x1 = y1 = 10;
    const Axis x(x0, x1, false), y(chart_.logarithmic ? y0 : 0, y1, chart_.logarithmic);
    axes(x, y);
    for (size_t i = 0; i < chart_.series.size(); ++i) line(chart_.series[i], i, x, y);
    return copied();
  }

 private:
  bool shown(const Point& p) const { return !chart_.logarithmic || p.y > 0; }
  double at_x(double place) const { return kLeft + place * (right_ - kLeft); }
  double at_y(double place) const { return height_ - kBottom - place * (height_ - kTop - kBottom); }

  // `h`: 0 from x to the right, 0.5 centred, 1 to its left.
  void text(const std::string& what, double x, double y, double h, int size, bool up = false) {
    PangoLayout* layout = pango_cairo_create_layout(cairo_);
    PangoFontDescription* font =
        pango_font_description_from_string(fmt::format("DejaVu Sans {}px", size).c_str());
    pango_layout_set_font_description(layout, font);
    pango_layout_set_text(layout, what.c_str(), -1);
    int w = 0, height = 0;
    pango_layout_get_pixel_size(layout, &w, &height);
    cairo_save(cairo_);
    cairo_move_to(cairo_, x, y);
    if (up) cairo_rotate(cairo_, -1.5707963267948966);
    cairo_rel_move_to(cairo_, -h * w, -height / 2.0);
    cairo_set_source_rgb(cairo_, 0.15, 0.15, 0.15);
    pango_cairo_show_layout(cairo_, layout);
    cairo_restore(cairo_);
    pango_font_description_free(font);
    g_object_unref(layout);
  }

  void axes(const Axis& x, const Axis& y) {
    cairo_set_line_width(cairo_, 1);
    for (const double tick : y.ticks()) {
      const double at = std::round(at_y(y.place(tick))) + 0.5;
      cairo_set_source_rgb(cairo_, 0.87, 0.87, 0.87);
      cairo_move_to(cairo_, kLeft, at);
      cairo_line_to(cairo_, right_, at);
      cairo_stroke(cairo_);
      text(fmt::format("{:.4g}", tick), kLeft - 8, at, 1, 13);
    }
    for (const double tick : x.ticks())
      text(fmt::format("{:.6g}", tick), at_x(x.place(tick)), height_ - kBottom + 16, 0.5, 13);
    cairo_set_source_rgb(cairo_, 0.4, 0.4, 0.4);
    cairo_move_to(cairo_, kLeft + 0.5, kTop);
    cairo_line_to(cairo_, kLeft + 0.5, height_ - kBottom + 0.5);
    cairo_line_to(cairo_, right_, height_ - kBottom + 0.5);
    cairo_stroke(cairo_);
    text(chart_.title, width_ / 2.0, 22, 0.5, 17);
    text(chart_.x_label, (kLeft + right_) / 2, height_ - 18, 0.5, 14);
    text(chart_.y_label, 16, (kTop + height_ - kBottom) / 2, 0.5, 14, true);
  }

  // Where the colours begin again, lines are broken.
  void dash(size_t number) {
    static const double broken[][2] = {{0, 0}, {9, 5}, {3, 4}};
    const double* pattern = broken[number / 4 % 3];
    cairo_set_dash(cairo_, pattern, pattern[0] > 0 ? 2 : 0, 0);
  }

  void line(const ChartSeries& series, size_t number, const Axis& x, const Axis& y) {
    const auto& colour = kColours[number % 4];
    cairo_set_source_rgb(cairo_, colour[0], colour[1], colour[2]);
    cairo_set_line_width(cairo_, 2.2);
    dash(number);
    cairo_new_path(cairo_);  // text leaves a point behind
    for (const Point& p : series.points) {
      if (shown(p)) cairo_line_to(cairo_, at_x(x.place(p.x)), at_y(y.place(p.y)));
    }
    cairo_stroke(cairo_);
    for (const Point& p : series.points) {
      if (!series.marked || !shown(p)) continue;
      cairo_arc(cairo_, at_x(x.place(p.x)), at_y(y.place(p.y)), 4, 0, 6.2831853);
      cairo_fill(cairo_);
    }
    const double rows = static_cast<double>(chart_.series.size());
    const bool low = chart_.legend_low && chart_.series.size() <= kMostInPlot;
    const double start = low ? height_ - kBottom - 8 - 22 * rows : kTop + 8;
    const double top = start + 22 * static_cast<double>(number);
    cairo_set_line_width(cairo_, 4);
    cairo_move_to(cairo_, width_ - kRight - 42, top);
    cairo_line_to(cairo_, width_ - kRight - 8, top);
    cairo_stroke(cairo_);
    cairo_set_dash(cairo_, nullptr, 0, 0);
    text(series.name, width_ - kRight - 52, top, 1, 14);
  }

  Colour copied() {
    cairo_surface_flush(surface_);
    const unsigned char* data = cairo_image_surface_get_data(surface_);
    const int stride = cairo_image_surface_get_stride(surface_);
    Colour picture(width_, height_);
    for (int y = 0; y < height_; ++y) {
      for (int x = 0; x < width_; ++x) {
        uint32_t pixel;
        std::memcpy(&pixel, data + static_cast<ptrdiff_t>(y) * stride + 4 * x, 4);
        uint8_t* to = picture.row(y) + 3 * x;
        to[0] = static_cast<uint8_t>(pixel >> 16);
        to[1] = static_cast<uint8_t>(pixel >> 8);
        to[2] = static_cast<uint8_t>(pixel);
      }
    }
    return picture;
  }

  const Chart& chart_;
  int width_, height_;
  double right_;  // where the plot ends
  cairo_surface_t* surface_;
  cairo_t* cairo_;
};

}  // namespace

Colour chart_picture(const Chart& chart, int width, int height) {
  return Drawing(chart, width, height).picture();
}

}  // namespace burnisher::report
