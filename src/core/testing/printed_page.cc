#include "testing/printed_page.h"

#include <cairo.h>
#include <stdlib.h>

#include <filesystem>
#include <stdexcept>

namespace burnisher::testing {
namespace {

const char* const kWords[] = {
    "the",    "lamp",  "was",  "lit",   "before",  "dusk",   "and",     "burned", "clear",
    "all",    "night", "wind", "from",  "south",   "west",   "with",    "heavy",  "rain",
    "at",     "dawn",  "two",  "boats", "passed",  "inside", "Skerrow", "reef",   "no",
    "signal", "given", "oil",  "used",  "gallons", "tower",  "painted", "white"};

}  // namespace

PrintedPage::PrintedPage(int width, int height) : width_(width), height_(height) {}

PrintedPage& PrintedPage::print(const PrintedLine& line) {
  lines_.push_back(line);
  return *this;
}

double PrintedPage::print_column(const std::vector<std::string>& lines, double x, double baseline,
                                 double size, double pitch) {
  for (const std::string& text : lines) {
    print({text, x, baseline, size});
    baseline += pitch;
  }
  return baseline;
}

PrintedPage& PrintedPage::rule(double x0, double y0, double x1, double y1, double thickness) {
  rules_.push_back({{x0, y0, x1 > x0 ? x1 : x0 + thickness, y1 > y0 ? y1 : y0 + thickness}, false});
  return *this;
}

PrintedPage& PrintedPage::disc(double x, double y, double radius) {
  rules_.push_back({{x - radius, y - radius, x + radius, y + radius}, true});
  return *this;
}

PrintedPage& PrintedPage::square(double x, double y, double side, double thickness) {
  for (const double at : {0.0, side - thickness}) {
    rule(x, y + at, x + side, y + at, thickness);
    rule(x + at, y, x + at, y + side, thickness);
  }
  return *this;
}

Gray PrintedPage::picture(double degrees) const {
  cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width_, height_);
  cairo_t* cr = cairo_create(surface);
  cairo_set_source_rgb(cr, 1, 1, 1);
  cairo_paint(cr);
  cairo_set_source_rgb(cr, 0, 0, 0);
  cairo_translate(cr, width_ / 2.0, height_ / 2.0);
  cairo_rotate(cr, -degrees * 3.14159265358979 / 180);
  cairo_translate(cr, -width_ / 2.0, -height_ / 2.0);
  for (const PrintedLine& line : lines_) {
    cairo_select_font_face(cr, line.face.c_str(), CAIRO_FONT_SLANT_NORMAL,
                           CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, line.size);
    cairo_save(cr);
    cairo_translate(cr, line.x, line.baseline);
    cairo_rotate(cr, -line.angle * 3.14159265358979 / 180);
    cairo_move_to(cr, 0, 0);
    cairo_show_text(cr, line.text.c_str());
    cairo_restore(cr);
  }
  for (const Rule& r : rules_) {
    if (r.round) {
      cairo_arc(cr, r.box.centre().x, r.box.centre().y, r.box.width() / 2, 0, 6.2832);
    } else {
      cairo_rectangle(cr, r.box.x0, r.box.y0, r.box.width(), r.box.height());
    }
    cairo_fill(cr);
  }
  cairo_surface_flush(surface);
  Gray picture(width_, height_);
  const auto* pixels = cairo_image_surface_get_data(surface);
  const int stride = cairo_image_surface_get_stride(surface);
  for (int y = 0; y < height_; ++y) {
    const auto* row = reinterpret_cast<const uint32_t*>(pixels + static_cast<long>(y) * stride);
    for (int x = 0; x < width_; ++x) picture.row(y)[x] = static_cast<uint8_t>(row[x] >> 8);
  }
  cairo_destroy(cr);
  cairo_surface_destroy(surface);
  return picture;
}

std::vector<std::string> prose(int count, int characters) {
  std::vector<std::string> lines;
  size_t at = 0;
  for (int i = 0; i < count; ++i) {
    std::string line;
    while (static_cast<int>(line.size()) < characters) {
      if (!line.empty()) line += ' ';
      line += kWords[at];
      at = (at * 7 + 3 + static_cast<size_t>(i)) % std::size(kWords);
    }
    lines.push_back(line);
  }
  return lines;
}

TemporaryFolder::TemporaryFolder() {
  std::string pattern = (std::filesystem::temp_directory_path() / "burnisher-test-XXXXXX").string();
  if (mkdtemp(pattern.data()) == nullptr) throw std::runtime_error("no temporary folder");
  path_ = pattern;
}

TemporaryFolder::~TemporaryFolder() {
  std::error_code ignored;  // a leftover folder must not fail the test
  std::filesystem::remove_all(path_, ignored);
}

}  // namespace burnisher::testing
