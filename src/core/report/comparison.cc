#include "report/comparison.h"

#include <cairo.h>
#include <fmt/core.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>

#include "raster/convert.h"
#include "raster/warp.h"
#include "report/html.h"

namespace burnisher::report {
namespace {

// Pixels.
constexpr int kPanelWidth = 400, kWholeHeight = 300, kDetailHeight = 150, kGap = 16, kLine = 22;
constexpr int kAcross = 3;               // panels in a row of the picture
constexpr double kDetailWidth = 22;      // text heights seen in a detail
constexpr double kPlainTextHeight = 20;  // pixels, where the page has none

// What each step did, in a word or two.
std::string title_of(const std::string& step) {
  static const std::map<std::string, std::string> titles = {{"bitonal", "ink"},
                                                            {"borders", "edge shadows out"},
                                                            {"specks", "specks out"},
                                                            {"rules", "rules not read"},
                                                            {"mended", "strokes mended"}};
  const auto found = titles.find(step);
  return found == titles.end() ? step : found->second;
}

Gray shrunk(const Gray& picture) {
  const double scale = std::min({1.0, static_cast<double>(kPanelWidth) / picture.width(),
                                 static_cast<double>(kWholeHeight) / picture.height()});
  const int factor = std::max(1, static_cast<int>(1 / scale));
  const Gray coarse = reduced(picture, factor);
  const double rest = scale * factor;
  return warped(coarse, Affine{1 / rest, 0, 0, 0, 1 / rest, 0},
                std::max(1, static_cast<int>(coarse.width() * rest)),
                std::max(1, static_cast<int>(coarse.height() * rest)), 255);
}

// The surroundings of `centre`, magnified.
Gray magnified(const Gray& picture, Point centre, double text_height) {
  const double seen = kDetailWidth * (text_height > 0 ? text_height : kPlainTextHeight);
  const double scale = seen / kPanelWidth;  // source pixels in one
  const Affine map{scale, 0, centre.x - seen / 2, 0, scale, centre.y - scale * kDetailHeight / 2};
  if (scale <= 1) return warped(picture, map, kPanelWidth, kDetailHeight, 255);
  // Reduced by whole pixels first, so that nothing is skipped.
  const int factor = static_cast<int>(scale);
  const Gray coarse = reduced(picture, factor);
  const double f = factor;
  return warped(coarse, Affine{map.a / f, 0, map.c / f, 0, map.e / f, map.f / f}, kPanelWidth,
                kDetailHeight, 255);
}

// The place where two pictures of ink differ most, else where there is most ink.
Point busiest_place(const Bitonal& a, const Bitonal& b, double text_height) {
  const double size = (text_height > 0 ? text_height : kPlainTextHeight) * kDetailWidth;
  const int cell = std::max(16, static_cast<int>(size / 4));
  Point best{a.width() / 2.0, a.height() / 2.0};
  for (const bool difference : {true, false}) {
    if (difference && (a.width() != b.width() || a.height() != b.height())) continue;
    int most = 0;
    // Not at the very edge, where shadows are.
    const int left = a.width() / 14, top = a.height() / 14;
    for (int y = top; y + cell <= a.height() - top; y += cell / 2) {
      for (int x = left; x + 2 * cell <= a.width() - left; x += cell) {
        int count = 0;
        for (int j = y; j < y + cell; ++j) {
          for (int k = x / 8; k < (x + 2 * cell) / 8; ++k) {
            const uint8_t bits =
                difference ? static_cast<uint8_t>(a.row(j)[k] ^ b.row(j)[k]) : a.row(j)[k];
            count += __builtin_popcount(bits);
          }
        }
        if (count > most) {
          most = count;
          best = {x + cell * 1.0, y + cell / 2.0};
        }
      }
    }
    if (most > 0) return best;
  }
  return best;
}

std::string measured(const clean::CleanResult& r) {
  std::string text =
      fmt::format("{} × {} pixels, {:.0f} dpi", r.page.width, r.page.height, r.page.dpi);
  if (r.skew != 0) text += fmt::format(", skew {:+.2f}° taken out", r.skew);
  if (r.perspective > 0) text += fmt::format(", perspective of {:.1f}° taken out", r.perspective);
  if (r.curl > 0) text += fmt::format(", bend of {:.0f} px taken out", r.curl);
  if (r.inverse) text += ", inverted";
  if (r.cropped) text += ", cut to the page";
  if (r.holes > 0) text += fmt::format(", {} holes filled", r.holes);
  return text;
}

std::string done_by(const std::string& step, const clean::CleanResult& r) {
  if (step == "specks") return fmt::format("{} removed", r.specks);
  if (step == "rules") return fmt::format("{} found", r.rules.size());
  if (step == "mended") return fmt::format("{} bridges", r.bridges);
  return "";
}

Colour canvas_of(cairo_surface_t* surface) {
  cairo_surface_flush(surface);
  Colour out(cairo_image_surface_get_width(surface), cairo_image_surface_get_height(surface));
  const auto* pixels = cairo_image_surface_get_data(surface);
  const int stride = cairo_image_surface_get_stride(surface);
  for (int y = 0; y < out.height(); ++y) {
    const auto* row = reinterpret_cast<const uint32_t*>(pixels + static_cast<long>(y) * stride);
    for (int x = 0; x < out.width(); ++x) {
      out.row(y)[3 * x] = static_cast<uint8_t>(row[x] >> 16);
      out.row(y)[3 * x + 1] = static_cast<uint8_t>(row[x] >> 8);
      out.row(y)[3 * x + 2] = static_cast<uint8_t>(row[x]);
    }
  }
  return out;
}

void write(cairo_t* cr, const std::string& text, double x, double y, const char* font) {
  PangoLayout* layout = pango_cairo_create_layout(cr);
  PangoFontDescription* description = pango_font_description_from_string(font);
  pango_layout_set_font_description(layout, description);
  pango_layout_set_text(layout, text.c_str(), -1);
  pango_layout_set_width(layout, kPanelWidth * PANGO_SCALE * kAcross);
  pango_layout_set_ellipsize(layout, PANGO_ELLIPSIZE_END);
  cairo_set_source_rgb(cr, 0.13, 0.13, 0.13);
  cairo_move_to(cr, x, y);
  pango_cairo_show_layout(cr, layout);
  pango_font_description_free(description);
  g_object_unref(layout);
}

void paint(cairo_t* cr, const Gray& picture, double x, double y) {
  cairo_surface_t* tile =
      cairo_image_surface_create(CAIRO_FORMAT_RGB24, picture.width(), picture.height());
  auto* pixels = cairo_image_surface_get_data(tile);
  for (int j = 0; j < picture.height(); ++j) {
    auto* row = reinterpret_cast<uint32_t*>(pixels + static_cast<long>(j) *
                                                         cairo_image_surface_get_stride(tile));
    for (int i = 0; i < picture.width(); ++i) row[i] = picture.row(j)[i] * 0x010101u;
  }
  cairo_surface_mark_dirty(tile);
  cairo_set_source_surface(cr, tile, x, y);
  cairo_paint(cr);
  cairo_surface_destroy(tile);
  cairo_set_source_rgb(cr, 0.8, 0.78, 0.74);
  cairo_set_line_width(cr, 1);
  cairo_rectangle(cr, x + 0.5, y + 0.5, picture.width() - 1, picture.height() - 1);
  cairo_stroke(cr);
}

int panel_height(const Panel& panel) {
  return 2 * kLine + kWholeHeight + static_cast<int>(panel.details.size()) * (kDetailHeight + 6) +
         kGap;
}

const char* const kStyle =
    ".panels { display: flex; flex-wrap: wrap; gap: 1rem; margin-bottom: 2rem; }\n"
    "figure { margin: 0; width: 400px; background: #fff; border: 1px solid #d5d0c4; padding: "
    ".6rem; }\nfigcaption { font-weight: 600; margin-bottom: .4rem; }\n"
    "figure p { margin: .3rem 0 0; font-size: .82rem; min-height: 1.2em; }\n"
    "figure img { margin: 0 auto .4rem; border: 1px solid #e4e0d6; }\n"
    "h2 { font-size: 1.05rem; }\n";

}  // namespace

std::vector<Panel> panels_of(const Scan& scan, const clean::CleanResult& cleaned) {
  const double h = cleaned.text_height;
  const Bitonal& first = cleaned.steps.empty() ? cleaned.ink : cleaned.steps.front().ink;
  const Point place = busiest_place(first, cleaned.ink, h);
  const auto panel = [&](const std::string& title, const std::string& caption, const Gray& gray,
                         Point at) {
    Panel p{title, caption, shrunk(gray), {}};
    p.details.push_back(magnified(gray, at, h));
    return p;
  };
  std::vector<Panel> panels;
  const Gray scanned = to_gray(scan.picture);
  panels.push_back(panel("scan", fmt::format("{} × {} pixels", scanned.width(), scanned.height()),
                         scanned, cleaned.page.geometry.to_scan(place)));
  panels.push_back(panel("page", measured(cleaned), to_gray(cleaned.picture), place));
  for (const clean::Step& step : cleaned.steps) {
    panels.push_back(
        panel(title_of(step.name), done_by(step.name, cleaned), to_gray(step.ink), place));
  }
  return panels;
}

std::vector<Panel> panels_of(const std::vector<Variant>& variants) {
  std::vector<Panel> panels;
  if (variants.empty()) return panels;
  const clean::CleanResult &first = variants.front().cleaned, &last = variants.back().cleaned;
  const Point place = busiest_place(first.ink, last.ink, first.text_height);
  for (const Variant& v : variants) {
    const Gray picture = to_gray(v.cleaned.picture), ink = to_gray(clean::delivered_ink(v.cleaned));
    Panel p{v.title,
            fmt::format("{} specks, {:.2f} % ink", v.cleaned.specks, 100 * v.cleaned.ink_share),
            shrunk(picture),
            {}};
    p.details.push_back(magnified(picture, place, first.text_height));
    p.details.push_back(magnified(ink, place, first.text_height));
    panels.push_back(std::move(p));
  }
  return panels;
}

std::string comparison_html(const std::vector<Comparison>& pages) {
  std::string body = "<h1>Before and after cleaning</h1>\n";
  for (const Comparison& page : pages) {
    body += fmt::format("<h2>{}</h2>\n<div class=\"panels\">\n", escaped(page.heading));
    for (const Panel& p : page.panels) {
      body += fmt::format("<figure><figcaption>{}</figcaption>\n", escaped(p.title));
      const Picture whole = p.whole.clone();
      body += html_picture(whole, p.title + ", whole page") + "\n";
      for (const Gray& detail : p.details) {
        const Picture picture = detail.clone();
        body += html_picture(picture, p.title + ", magnified") + "\n";
      }
      body += fmt::format("<p>{}</p></figure>\n", escaped(p.caption));
    }
    body += "</div>\n";
  }
  return html_page("Before and after cleaning", kStyle, body);
}

Colour comparison_picture(const std::vector<Comparison>& pages) {
  int height = kGap;
  const auto rows_of = [](const Comparison& page) {
    return (static_cast<int>(page.panels.size()) + kAcross - 1) / kAcross;
  };
  for (const Comparison& page : pages) {
    if (page.panels.empty()) continue;
    height += kLine + kGap / 2 + rows_of(page) * panel_height(page.panels.back());
  }
  const int width = kAcross * (kPanelWidth + kGap) + kGap;
  const std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> surface(
      cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height), cairo_surface_destroy);
  const std::unique_ptr<cairo_t, decltype(&cairo_destroy)> cr(cairo_create(surface.get()),
                                                              cairo_destroy);
  cairo_set_source_rgb(cr.get(), 0.98, 0.976, 0.965);
  cairo_paint(cr.get());
  double top = kGap;
  for (const Comparison& page : pages) {
    if (page.panels.empty()) continue;
    write(cr.get(), page.heading, kGap, top, "DejaVu Sans Bold 11");
    top += kLine + kGap / 2.0;
    for (size_t i = 0; i < page.panels.size(); ++i) {
      const Panel& p = page.panels[i];
      const double x = kGap + static_cast<int>(i % kAcross) * (kPanelWidth + kGap);
      double y = top + static_cast<int>(i / kAcross) * panel_height(p);
      write(cr.get(), p.title, x, y, "DejaVu Sans Bold 10");
      y += kLine;
      paint(cr.get(), p.whole, x + (kPanelWidth - p.whole.width()) / 2.0, y);
      y += kWholeHeight + 6;
      for (const Gray& detail : p.details) {
        paint(cr.get(), detail, x, y);
        y += kDetailHeight + 6;
      }
      write(cr.get(), p.caption, x, y - 4, "DejaVu Sans 8");
    }
    top += rows_of(page) * panel_height(page.panels.back());
  }
  return canvas_of(surface.get());
}

}  // namespace burnisher::report
