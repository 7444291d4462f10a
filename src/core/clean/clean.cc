#include "clean/clean.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "clean/background.h"
#include "clean/blank.h"
#include "clean/dewarp.h"
#include "clean/edges.h"
#include "clean/flat_sheet.h"
#include "clean/ground.h"
#include "clean/inverse.h"
#include "clean/mend.h"
#include "clean/painting.h"
#include "clean/perspective.h"
#include "clean/settings_text.h"
#include "clean/show_through.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/turn.h"
#include "raster/warp.h"

namespace burnisher::clean {
namespace {

constexpr double kLikelyDpi[] = {100, 150, 200, 240, 300, 400, 600};
constexpr double kDefaultDpi = 300;                       // assumed until the text tells more
constexpr double kDegree = 3.14159265358979323846 / 180;  // in radians

double estimated_dpi(double text_height) {
  if (text_height <= 0) return kDefaultDpi;
  const double raw = text_height / kXHeightInches;
  return *std::min_element(std::begin(kLikelyDpi), std::end(kLikelyDpi), [&](double a, double b) {
    return std::fabs(std::log(a / raw)) < std::fabs(std::log(b / raw));
  });
}

// Grey levels. Scanners' own grain stays below 15 (compose/degrade.h); what is above 25 on bare
// paper is specks strewn over a page that was scanned at one threshold, more of them than letters.
constexpr double kGrainy = 25;

// Exact, unlike sines and cosines: a quarter turn must not blur.
Affine quarter_turn(int degrees) {
  switch (degrees) {
    case 90:
      return {0, 1, 0, -1, 0, 0};
    case 180:
      return {-1, 0, 0, 0, -1, 0};
    case 270:
      return {0, -1, 0, 1, 0, 0};
    default:
      return {};
  }
}

uint8_t paper_level(const Gray& gray) {
  return static_cast<uint8_t>(quantile_of(gray, 0.6));
}

// The scan, or the part of it that is one page, upright.
struct Part {
  Picture picture;
  std::shared_ptr<Gray> gray;
  Affine to_scan;       // to the scan as it came in
  int number = 0;       // 0: the only one; 1, 2: left and right of a fold
  bool grainy = false;  // `gray` is smoothed, `picture` is not
};

// The way from pixels of the turned scan to those of the scan.
Affine unturned(const Scan& scan, int turn) {
  const double w = width_of(scan.picture), h = height_of(scan.picture);
  const Affine to_turned = quarter_turn(turn);
  const Box hull = bounds({to_turned({0, 0}), to_turned({w, h})});
  return (Affine::shift(-hull.x0, -hull.y0) * to_turned).inverse();
}

// The map from page to a canvas of `page_width` x `page_height` that levels content standing
// counter-clockwise by `skew`; the page becomes just large enough for all of the canvas.
Affine levelling(double skew, int& page_width, int& page_height) {
  const double w = page_width, h = page_height;
  const Affine turn = Affine::turn(-skew);
  const Box hull = bounds({turn({0, 0}), turn({w, 0}), turn({0, h}), turn({w, h})});
  page_width = static_cast<int>(std::ceil(hull.width() - 1e-6));
  page_height = static_cast<int>(std::ceil(hull.height() - 1e-6));
  return (Affine::shift(-hull.x0, -hull.y0) * turn).inverse();
}

Picture sampled(const Picture& source, const PlaneMap& map, int width, int height, uint8_t paper) {
  if (const auto* gray = std::get_if<Gray>(&source))
    return warped(*gray, map, width, height, paper);
  if (const auto* colour = std::get_if<Colour>(&source))
    return warped(*colour, map, width, height, paper);
  const Gray gray = to_gray(std::get<Bitonal>(source));
  return to_bitonal(warped(gray, map, width, height, 255), 128);
}

// Feet of the letters on the level page, at the measure's scale.
std::vector<Component> level_components(const Measure& m, const Projective& page_to_part) {
  const Projective to_page = page_to_part.inverse();
  std::vector<Component> moved;
  for (Component c : m.components) {
    const Point foot =
        m.small.to_small(to_page(m.small.to_full(Point{(c.x0 + c.x1) / 2.0, double(c.y1)})));
    const int w = c.width(), h = c.height();
    c.x0 = static_cast<int>(std::lround(foot.x - w / 2.0));
    c.y1 = static_cast<int>(std::lround(foot.y));
    c.x1 = c.x0 + w;
    c.y0 = c.y1 - h;
    moved.push_back(c);
  }
  return moved;
}

// How the flattest part of a bent page still stands, radians: curl at one end draws the level of
// the whole with it. The flattest part is the quarter of the print where the slope changes least.
double flat_slope(const DisplacementField& bend) {
  std::vector<std::pair<double, double>> places;  // change of slope, slope
  for (int r = 0; r < bend.rows; ++r) {
    const float* row = bend.down.data() + static_cast<size_t>(r) * bend.columns;
    for (int c = 1; c + 1 < bend.columns; ++c) {
      const double before = (row[c] - row[c - 1]) / bend.step,
                   after = (row[c + 1] - row[c]) / bend.step;
      if (before != 0 && after != 0)  // beyond the print it is level
        places.emplace_back(std::fabs(after - before), (before + after) / 2);
    }
  }
  std::sort(places.begin(), places.end());
  std::vector<double> slopes;
  for (size_t i = 0; i < (places.size() + 3) / 4; ++i) slopes.push_back(places[i].second);
  return std::atan(median(slopes));
}

std::shared_ptr<const DisplacementField> bend_of(const Measure& m, const Projective& page_to_part,
                                                 int width, int height) {
  const Dewarping curl = dewarping_of(
      level_components(m, page_to_part), m.small.to_small(m.text_height),
      static_cast<int>(m.small.to_small(width)), static_cast<int>(m.small.to_small(height)));
  if (!curl.displacement) return nullptr;
  auto bend = std::make_shared<DisplacementField>(*curl.displacement);
  bend->step = m.small.to_full(bend->step);
  for (float& d : bend->down) d = static_cast<float>(m.small.to_full(d));
  return bend;
}

// What lies on the ground round the sheet is no print.
void keep_inside(const SheetOutline& outline, Measure& m) {
  if (outline.edges() == 0) return;
  m.components.erase(
      std::remove_if(m.components.begin(), m.components.end(),
                     [&](const Component& c) { return !outline.inside(c.box().centre()); }),
      m.components.end());
  m.text_height = m.small.to_full(text_height_of(m.components));
}

class PageCleaner {
 public:
  PageCleaner(const CleanSettings& settings, bool keep_steps)
      : settings_(settings), keep_steps_(keep_steps) {}

  CleanResult clean(const Scan& scan, Part part, double stated_dpi, Measure m) {
    CleanResult result;
    result.notes = scan.notes;
    result.text_height = m.text_height;
    set_page(scan, part, stated_dpi, m, result);
    const PlaneMap map = straighten(part, m, result);
    result.page.geometry.to_scan = {part.to_scan * map.plane(), map.displacement()};
    result.scan = part.gray;
    result.to_scan_gray = map;
    if (settings_.holes) result.holes = fill_holes(m, map, result.page.dpi, result.picture);
    find_ink(part, result);
    repair(part, result);
    if (settings_.crop == Crop::kText) crop_to_text(result);
    double area = 0;
    for (uint8_t byte : result.ink.bytes()) area += __builtin_popcount(byte);
    result.ink_share = area / (static_cast<double>(result.page.width) * result.page.height);
    result.blank = is_blank(result.ink, result.text_height);
    return result;
  }

 private:
  void set_page(const Scan& scan, const Part& part, double stated_dpi, const Measure& m,
                CleanResult& result) {
    Page& page = result.page;
    page.file = scan.file;
    page.number = scan.page;
    page.part = part.number;
    page.dpi = stated_dpi;
    if (stated_dpi <= 0) {
      page.dpi = estimated_dpi(m.text_height);
      result.dpi_estimated = true;
      result.notes.push_back(
          fmt::format("the file states no believable resolution; {:.0f} dpi was estimated from the "
                      "text",
                      page.dpi));
    }
    page.width = width_of(part.picture);
    page.height = height_of(part.picture);
    page.geometry = {part.to_scan, width_of(scan.picture), height_of(scan.picture)};
  }

  // Of scans in tones; ink has no ground.
  std::optional<Flat> flattened(const Part& part, const SheetOutline& outline, Measure& m) const {
    if (!settings_.dewarp || !settings_.deskew || std::holds_alternative<Bitonal>(part.picture))
      return std::nullopt;
    const auto seen = perspective_of(m.components, m.small.to_small(m.text_height), outline,
                                     m.small.picture().width(), m.small.picture().height());
    if (!seen) return std::nullopt;
    std::optional<Flat> flat = flat_sheet(*seen, outline, m.small);
    if (flat) keep_inside(outline, m);
    return flat;
  }

  // Measures perspective, skew and curl and samples the picture through all; returns the way back
  // to the part.
  PlaneMap straighten(Part& part, Measure& m, CleanResult& result) {
    Page& page = result.page;
    Projective level;
    const SheetOutline outline =
        settings_.crop != Crop::kOff
            ? with_all_letters(sheet_outline(m.small.picture()), m.components,
                               m.small.to_small(m.text_height))
            : SheetOutline{};
    const SheetOutline ground = dark_ground(outline, m.small.picture());
    if (ground.edges() > 0) {
      keep_inside(ground, m);
      paint_ground(ground, m.small, part.picture);
      Picture gray = std::move(*part.gray);
      paint_ground(ground, m.small, gray);
      *part.gray = std::move(std::get<Gray>(gray));
    }
    if (const auto flat = flattened(part, outline, m)) {
      level = flat->to_part;
      page.width = flat->width;
      page.height = flat->height;
      result.perspective = flat->converging;
      result.cropped = result.cropped || settings_.crop != Crop::kOff;
    }
    if (settings_.deskew) {
      const Skew skew = skew_of(level.is_affine() ? m.components : level_components(m, level),
                                m.small.to_small(m.text_height), settings_.skew_limit);
      result.skew_confidence = skew.confidence;
      if (std::fabs(skew.degrees) >= settings_.straight) result.skew = skew.degrees;
    }
    if (result.skew != 0) level = level * levelling(result.skew, page.width, page.height);
    if (result.perspective == 0 && ground.edges() > 0) {
      const Box sheet = sheet_on_page(ground, m.small, level, page.width, page.height);
      level = level * Projective(Affine::shift(sheet.x0, sheet.y0));
      page.width = static_cast<int>(sheet.width());
      page.height = static_cast<int>(sheet.height());
      result.cropped = true;
    }
    if (result.perspective != 0)
      result.skew = -std::atan2(level.affine.d, level.affine.a) / kDegree;
    PlaneMap map = level;
    if (settings_.dewarp && settings_.deskew) {  // bent lines can't be told from crooked ones
      if (auto bend = bend_of(m, level, page.width, page.height)) {
        result.curl = bend->largest();
        result.skew -= flat_slope(*bend) / kDegree;
        map = PlaneMap(level, bend);
      }
    }
    if (map.is_identity()) {
      result.picture = std::move(part.picture);
    } else {
      result.picture = sampled(part.picture, map, page.width, page.height, paper_level(*part.gray));
    }
    return map;
  }

  void find_ink(const Part& part, CleanResult& result) {
    if (part.grainy) {
      result.grainy = true;
      result.ink = binarise(smooth_page(result), settings_.binarise, result.page.dpi);
      keep("bitonal", result);
      return;
    }
    if (const auto* bitonal = std::get_if<Bitonal>(&result.picture)) {
      result.ink = bitonal->clone();
      keep("bitonal", result);
      return;
    }
    const bool is_gray = std::holds_alternative<Gray>(result.picture);
    const Gray light = is_gray ? Gray() : to_gray(result.picture);
    const Gray& gray = is_gray ? std::get<Gray>(result.picture) : light;
    result.ink = binarise(gray, settings_.binarise, result.page.dpi);
    if (settings_.even) {
      const Paper paper = paper_of(gray, result.text_height);
      std::visit(
          [&](auto& p) {
            if constexpr (!std::is_same_v<std::decay_t<decltype(p)>, Bitonal>) {
              even_out(paper, p);
              lift_show_through(paper, result.ink, result.page.dpi, p);
            }
          },
          result.picture);
    }
    keep("bitonal", result);
  }

  void repair(Part& part, CleanResult& result) {
    clear_edges(result.page.geometry, result.text_height, result.ink);
    keep("borders", result);
    if (settings_.invert) turn_inverse_blocks(result.text_height, result.ink);
    DespeckleSettings specks = settings_.despeckle;
    if (specks.size_mm >= 0) specks.size = specks.size_mm / 25.4 * result.page.dpi;
    result.specks = despeckle(specks, result.text_height, result.ink);
    keep("specks", result);
    if (settings_.rules != Rules::kKeep) remove_rules(part, result);
    if (settings_.mend) {
      result.bridges = mend(result.text_height, result.ink);
      keep("mended", result);
    }
  }

  void remove_rules(Part& part, CleanResult& result) {
    FoundRules found = rules_of(result.ink, result.text_height);
    result.rules = std::move(found.list);
    if (result.rules.empty()) return;
    take_out(found.pixels, result.ink);
    if (settings_.rules == Rules::kUnread) result.unread = found.pixels.clone();
    double thickness = 0;
    for (const Component& c : result.rules) {
      thickness =
          std::max(thickness, static_cast<double>(c.area) / std::max(c.width(), c.height()));
    }
    // Level rules under and over the letters don't disturb reading; upright ones pass for letters.
    paint_over(upright_only(found.pixels, result.rules), result.to_scan_gray, thickness,
               *part.gray);
    if (settings_.rules == Rules::kRemove) {
      if (auto* gray = std::get_if<Gray>(&result.picture))
        paint_over(found.pixels, Affine{}, thickness, *gray);
      if (auto* colour = std::get_if<Colour>(&result.picture))
        paint_colour(found.pixels, thickness, *colour);
      if (auto* bits = std::get_if<Bitonal>(&result.picture)) take_out(found.pixels, *bits);
    }
    keep("rules", result);
  }

  static void paint_colour(const Bitonal& pixels, double thickness, Colour& colour) {
    for (size_t c = 0; c < 3; ++c) {
      Gray plane(colour.width(), colour.height());
      for (size_t i = 0; i < plane.samples().size(); ++i)
        plane.samples()[i] = colour.samples()[3 * i + c];
      paint_over(pixels, Affine{}, thickness, plane);
      for (size_t i = 0; i < plane.samples().size(); ++i)
        colour.samples()[3 * i + c] = plane.samples()[i];
    }
  }

  void crop_to_text(CleanResult& result) {
    Box text;
    for (const Component& c : components_of(result.ink).list) {
      if (c.height() > 0.4 * result.text_height) text = united(text, c.box());
    }
    if (text.empty() || result.text_height <= 0) return;
    const double margin = settings_.margin_mm / 25.4 * result.page.dpi;
    Page& page = result.page;
    const int x0 = std::max(0, static_cast<int>(text.x0 - margin)),
              y0 = std::max(0, static_cast<int>(text.y0 - margin)),
              x1 = std::min(page.width, static_cast<int>(text.x1 + margin)),
              y1 = std::min(page.height, static_cast<int>(text.y1 + margin));
    result.picture = cut_out(result.picture, x0, y0, x1, y1);
    for (Bitonal* bits : {&result.ink, &result.unread}) {
      if (!bits->empty())
        *bits = std::get<Bitonal>(cut_out(Picture(bits->clone()), x0, y0, x1, y1));
    }
    result.to_scan_gray = shifted(result.to_scan_gray, x0, y0);
    page.geometry.to_scan = shifted(page.geometry.to_scan, x0, y0);
    page.width = x1 - x0;
    page.height = y1 - y0;
    for (Component& c : result.rules) {
      c.x0 -= x0, c.x1 -= x0;
      c.y0 -= y0, c.y1 -= y0;
    }
    result.cropped = true;
  }

  void keep(const char* name, CleanResult& result) {
    if (keep_steps_) result.steps.push_back({name, result.ink.clone()});
  }

  const CleanSettings& settings_;
  bool keep_steps_;
};

Picture copied(const Picture& picture) {
  return std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
}

// The boxes of the pages on the turned scan, in whole pixels.
std::vector<Box> pages_on(const Measure& m, const CleanSettings& settings) {
  const Box sheet{std::floor(m.sheet.x0), std::floor(m.sheet.y0), std::floor(m.sheet.x1),
                  std::floor(m.sheet.y1)};
  if (!m.fold.found || !settings.split) return {sheet};
  const double x = std::floor(m.fold.x);
  return {{sheet.x0, sheet.y0, x, sheet.y1}, {x, sheet.y0, sheet.x1, sheet.y1}};
}

}  // namespace

Bitonal delivered_ink(const CleanResult& result) {
  Bitonal ink = result.ink.clone();
  if (!result.unread.empty()) {
    for (int y = 0; y < ink.height(); ++y) {
      for (int i = 0; i < ink.stride(); ++i)
        ink.row(y)[i] = static_cast<uint8_t>(ink.row(y)[i] | result.unread.row(y)[i]);
    }
  }
  return ink;
}

Gray smooth_page(const CleanResult& result) {
  if (!result.grainy) return to_gray(result.picture);
  return warped(*result.scan, result.to_scan_gray, result.page.width, result.page.height,
                paper_level(*result.scan));
}

void whiten(CleanResult& result) {
  whiten(result.picture);
  result.ink = Bitonal(result.page.width, result.page.height);
  result.unread = Bitonal();
}

CleanSettings in_place() {
  CleanSettings settings;
  settings.split = settings.deskew = settings.dewarp = false;
  settings.crop = Crop::kOff;
  return settings;
}

std::vector<CleanResult> clean(const Scan& scan, const CleanSettings& settings, bool keep_steps) {
  Part whole{settings.turn == 0 ? copied(scan.picture) : turned(scan.picture, settings.turn),
             nullptr, unturned(scan, settings.turn), 0};
  if (changes(settings.tone)) set_tone(settings.tone, whole.picture);
  whole.gray = std::make_shared<Gray>(to_gray(whole.picture));
  const double stated = settings.dpi > 0 ? settings.dpi : scan.stated_dpi;
  const double assumed = stated > 0 ? stated : kDefaultDpi;
  bool inverse = false;
  if (settings.invert) {
    const int factor = std::max(1, std::min(whole.gray->width(), whole.gray->height()) / 700);
    inverse = is_inverse(reduced(*whole.gray, factor));
    if (inverse) {
      invert(whole.picture);
      *whole.gray = to_gray(whole.picture);
    }
  }
  MeasureSettings what{settings.binarise, settings.crop == Crop::kSheet, settings.split, 0};
  if (grain_of(*whole.gray) > kGrainy) {
    whole.grainy = true;
    what.least_letter = 0.7 * kXHeightInches * assumed;
    *whole.gray = median_filtered(median_filtered(*whole.gray));
  }
  Measure m = measure(*whole.gray, assumed, what);
  const std::vector<Box> boxes = pages_on(m, settings);
  std::vector<CleanResult> results;
  for (size_t i = 0; i < boxes.size(); ++i) {
    const Box& b = boxes[i];
    const int x0 = static_cast<int>(b.x0), y0 = static_cast<int>(b.y0), x1 = static_cast<int>(b.x1),
              y1 = static_cast<int>(b.y1);
    const bool all = x0 == 0 && y0 == 0 && x1 == whole.gray->width() && y1 == whole.gray->height();
    PageCleaner cleaner(settings, keep_steps);
    if (all) {
      results.push_back(cleaner.clean(scan, std::move(whole), stated, std::move(m)));
    } else {
      Part part{cut_out(whole.picture, x0, y0, x1, y1),
                std::make_shared<Gray>(cut_out(*whole.gray, x0, y0, x1, y1)),
                whole.to_scan * Affine::shift(x0, y0),
                boxes.size() > 1 ? static_cast<int>(i) + 1 : 0, whole.grainy};
      Measure own =
          measure(*part.gray, assumed, {settings.binarise, false, false, what.least_letter});
      results.push_back(cleaner.clean(scan, std::move(part), stated, std::move(own)));
      results.back().cropped = true;
    }
    results.back().inverse = inverse;
    results.back().page.cleaning = as_text(settings);
  }
  return results;
}

}  // namespace burnisher::clean
