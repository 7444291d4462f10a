#include "compose/page_maker.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "compose/camera.h"
#include "compose/crop.h"
#include "compose/degrade.h"
#include "compose/families.h"
#include "raster/blur.h"

namespace burnisher::compose {
namespace {

constexpr double kLegible = 0.6;  // of the range of quality: clean, and medium for a third
constexpr double kLegibleInk = 0.8, kLegibleVerso = 0.1, kLegibleNoise = 0.012, kLegibleBlur = 0.8;
constexpr uint64_t kCropSeed = 0x63726f70ull;
// Shares of pages of which only a part is seen.
constexpr double kCropped = 0.16, kSmallCropped = 0.4;

const Family& drawn_family(const std::string& name, Random& random) {
  double at = random.uniform();
  for (const Family& family : families()) {
    if (!name.empty() ? name == family.name : (at -= family.share) < 0) return family;
  }
  if (name.empty()) return families().front();
  throw SettingsError("no family of pages is called " + name);
}

CameraSettings draw_camera(const std::string& family, const Sheet& sheet, Random& random) {
  CameraSettings camera;
  const double kind = random.uniform();
  if (random.chance(0.7)) camera.skew = std::clamp(1.2 * random.normal(), -5.0, 5.0);
  if (random.chance(0.2)) camera.quarter_turns = 1 + random.index(3);
  if (family == "spread") {
    camera.fold = sheet.width() / 2 * random.uniform(0.98, 1.02);
    if (random.chance(0.7)) camera.curl = random.uniform(-0.02, 0.02) * sheet.height();
  } else if (random.chance(0.1)) {  // a page of a thick book
    camera.fold = random.chance(0.5) ? 0 : sheet.width();
    camera.curl = random.uniform(-0.02, 0.02) * sheet.height();
  }
  if (kind < 0.12) {  // photographed by hand
    camera.tilt_x = random.uniform(-12, 12);
    camera.tilt_y = random.uniform(-12, 12);
    camera.skew = random.uniform(-6, 6);
    camera.margin = random.uniform(0.02, 0.15);
    camera.bed = static_cast<float>(random.uniform(0.2, 1));
  } else if (kind < 0.3) {
    camera.margin = random.uniform(0.005, 0.06);
    camera.bed =
        static_cast<float>(random.chance(0.7) ? random.uniform(0.7, 1) : random.uniform(0, 0.2));
  }
  return camera;
}

FloatImage verso_of(const FloatImage& ink, double x_height, Random& random) {
  FloatImage verso(ink.width(), ink.height());
  const int shift = random.index(std::max(1, ink.height()));
  for (int y = 0; y < ink.height(); ++y) {
    const float* from = ink.row((y + shift) % ink.height());
    for (int x = 0; x < ink.width(); ++x) verso.row(y)[x] = from[ink.width() - 1 - x];
  }
  gaussian_blur(verso, 0.12 * x_height);
  return verso;
}

// The shadow in the fold of a spread, or along a lifted edge.
void add_fold_shadow(FloatImage& seen, const Camera& camera, double fold, double width,
                     Random& random) {
  const double reach = random.uniform(0.01, 0.05) * width, depth = random.uniform(0.1, 0.7);
  for (int y = 0; y < seen.height(); ++y) {
    for (int x = 0; x < seen.width(); ++x) {
      const double away = std::abs(camera.to_sheet({x + 0.5, y + 0.5}).x - fold) / reach;
      if (away > 3) continue;
      float& v = seen.row(y)[x];
      v = static_cast<float>(1 - (1 - v) * (1 - depth * std::exp(-away)));
    }
  }
}

// Lines that run up or down beside everything else.
void add_sideways_text(Desk& desk, Sheet& sheet) {
  Random& random = desk.random;
  Box ink;
  for (const Block& block : sheet.page().truth.blocks) {
    for (const Line& line : block.lines) ink = united(ink, line.box);
    if (block.kind == BlockKind::kPicture) ink = united(ink, bounds(block.outline));
  }
  if (ink.empty()) return;
  const double least = 3 * desk.unit;
  const int lines = random.chance(0.8) ? 1 : 2 + random.index(2);
  for (int side = 0; side < 2; ++side) {
    const double room = side == 0 ? ink.x0 : sheet.width() - ink.x1;
    if (room < (lines + 1) * least || random.chance(0.4)) continue;
    const Font font = desk.font(random.uniform(0.7, 1.1));
    const bool up = random.chance(0.6);
    const double first = side == 0 ? ink.x0 - (lines + 0.3) * least : ink.x1 + 0.8 * least;
    const double y = random.uniform(0.1, 0.7) * sheet.height();
    sheet.begin(BlockKind::kMarginNote);
    for (int i = 0; i < lines; ++i) {
      std::vector<Text> words = sheet.words(1 + random.index(7));
      while (!words.empty() && sheet.width_of(font, words) > 0.28 * sheet.height())
        words.pop_back();
      const int place = up ? i : lines - 1 - i;
      if (!words.empty()) sheet.upright_line(font, words, first + place * least, y, up);
    }
  }
}

}  // namespace

PageMaker::PageMaker(PageMakerSettings settings) : settings_(std::move(settings)) {
  const auto set = [&](const std::string& script) {
    return std::any_of(settings_.faces.begin(), settings_.faces.end(), [&](const TypefaceEntry& f) {
      return f.held == settings_.held && f.sets(script);
    });
  };
  std::vector<PageText> texts;
  for (PageText& text : settings_.texts) {
    if (text.script != "Latn" && !set(text.script)) continue;
    auto& faces = faces_[text.script];
    if (faces == nullptr)
      faces = std::make_unique<TypefaceSampler>(settings_.faces, settings_.held, text.script);
    texts.push_back(std::move(text));
  }
  settings_.texts = std::move(texts);
  if (settings_.texts.empty())
    throw SettingsError("pages are composed of texts, and there are none that a face can set");
}

ComposedPage PageMaker::make(uint64_t seed, const std::string& name) {
  Random random(seed * 0x9e3779b97f4a7c15ull + 77);
  const Family& family = drawn_family(name, random);
  const double unit = random.uniform(settings_.least_x_height, settings_.most_x_height);
  const PageText& text = settings_.texts[static_cast<size_t>(random.index(settings_.texts.size()))];
  TypefaceSampler& faces = *faces_.at(text.script);
  Desk desk{faces, text, random, unit};
  Sheet sheet = family.set(desk);
  if (family.name != std::string("blank") && random.chance(0.2)) add_sideways_text(desk, sheet);
  const double quality = random.uniform() * (settings_.legible ? kLegible : 1);
  const ScanLevel level = quality < 0.4    ? ScanLevel::kClean
                          : quality < 0.85 ? ScanLevel::kMedium
                                           : ScanLevel::kHeavy;
  ScanDamage damage = draw_damage(level, random);
  if (family.name == std::string("typed") && random.chance(0.5))
    type_through_ribbon(damage, random);
  if (settings_.legible) {
    damage.ink = std::max(damage.ink, kLegibleInk);
    damage.fading = damage.erosion = damage.specks = 0;
    damage.show_through = std::min(damage.show_through, kLegibleVerso);
    damage.noise = std::min(damage.noise, kLegibleNoise);
    damage.blur = std::min(damage.blur, kLegibleBlur);
    if (level != ScanLevel::kClean) damage.threshold = Threshold::kNone;
  }
  // What covers a whole line would be strewn over a page: stains are larger there, and rarer.
  damage.stain_size = random.uniform(12, 45);
  if (random.chance(0.6)) damage.stain = 0;
  if (unit < 10) damage.noise = std::min(damage.noise, 0.03);
  if (unit < 9 && damage.threshold != Threshold::kNone) damage.blur = std::min(damage.blur, 0.5);

  const CameraSettings drawn = draw_camera(family.name, sheet, random);
  CameraSettings settings = settings_.straight ? CameraSettings{} : drawn;
  // Drawn apart, so that a crop is of the page that the seed gives without it.
  Random cropping(seed ^ kCropSeed);
  const bool small = family.name == std::string("screen") || family.name == std::string("listing");
  const bool blank = family.name == std::string("blank");
  if (!settings_.straight && !blank &&
      cropping.chance(settings_.crops >= 0 ? settings_.crops
                      : small              ? kSmallCropped
                                           : kCropped)) {
    settings.window = sheet.printed_place(draw_window(sheet.page(), unit, cropping));
    settings.margin = 0;
    settings.bed = static_cast<float>(cropping.chance(0.5) ? 0 : cropping.uniform(0.3, 1));
  }
  const Camera camera(static_cast<int>(sheet.width()), static_cast<int>(sheet.height()), settings);
  // A blank page's verso is printed; other pages stand in for theirs.
  FloatImage verso;
  if (blank && random.chance(0.7)) {
    Desk other{faces, text, random, unit};
    Sheet back = random.chance(0.5) ? set_book(other) : set_table(other);
    damage.show_through = random.uniform(0.05, 0.35);
    damage.threshold = random.chance(0.8) ? Threshold::kNone : damage.threshold;
    const FloatImage ink = back.printed(unit, {});
    FloatImage fitted(static_cast<int>(sheet.width()), static_cast<int>(sheet.height()));
    for (int y = 0; y < std::min(fitted.height(), ink.height()); ++y)
      std::copy_n(ink.row(y), std::min(fitted.width(), ink.width()), fitted.row(y));
    verso = camera.seen(verso_of(fitted, unit, random));
  }
  FloatImage ink = sheet.printed(unit, damage);
  ComposedPage page = std::move(sheet.page());
  if (!blank && damage.show_through > 0) verso = camera.seen(verso_of(ink, unit, random));
  FloatImage seen = camera.seen(ink);
  if (settings.fold >= 0 && random.chance(0.7))
    add_fold_shadow(seen, camera, settings.fold, ink.width(), random);
  if (!settings.window.empty()) add_shade(draw_shade(cropping), seen);
  page.scan = scan(seen, verso.empty() ? nullptr : &verso, unit, damage, random);
  camera.move(page);
  if (!settings.window.empty()) keep_visible(page);
  page.family = family.name;
  page.x_height = unit;
  page.truth.dpi = unit / 0.062;
  return page;
}

}  // namespace burnisher::compose
