#include "train/line_maker.h"

#include <algorithm>
#include <cmath>

#include "base/multiversion.h"
#include "base/printed_order.h"
#include "clean/background.h"
#include "raster/blur.h"

namespace burnisher::train {
namespace {

constexpr double kAbove = 3.4, kBelow = 2.0, kBeside = 3.4;  // ink drawn round the line, x-heights
constexpr int kWidestStrip = 1600;                           // pixels; wider lines are made anew
constexpr int kStripPixelsPerFrame = 4;                      // as the network's stem has it

double x_height_of_scan(compose::ScanLevel level, bool squares, Random& random) {
  if (level == compose::ScanLevel::kClean) return random.uniform(13, 30);
  // Ideographs are never printed as small as letters are.
  const double least = (level == compose::ScanLevel::kHeavy ? 8 : 9) + (squares ? 2 : 0);
  return least + (26 - least) * std::pow(random.uniform(), 1.5);
}

// Spread of the x-height that layout analysis reports (standard deviation of its logarithm). Where
// letters join or carry marks above and below it is less sure than in Latin.
double size_spread(const std::string& script) {
  return script == "Latn" || script == "Cyrl" || script == "Grek" ? 0.09 : 0.14;
}

compose::TypeStyle draw_style(double x_height, const std::vector<char32_t>& text, Random& random) {
  compose::TypeStyle style;
  style.x_height = x_height;
  if (random.chance(0.25)) style.condense = random.uniform(0.82, 1.2);
  if (random.chance(0.05)) style.slant = random.uniform(-0.05, 0.25);
  if (random.chance(0.4)) style.embolden = 0.014 * random.normal();
  style.embolden = std::clamp(style.embolden, -0.02, 0.035);
  if (random.chance(0.5)) style.word_space = random.uniform(0.75, 1.8);
  if (random.chance(0.09)) {
    style.tracking = random.uniform(0.03, 0.2);
    style.word_space = std::max(style.word_space, 1 + 12 * style.tracking);
  } else if (random.chance(0.1)) {
    style.tracking = -random.uniform(0, 0.025);
    style.word_space = std::max(style.word_space, 0.9);
  }
  if (random.chance(0.2)) style.wander = random.uniform(0, 0.018);
  if (random.chance(0.25)) style.ink_spread = random.uniform(0.1, 0.5);
  const std::vector<char32_t> leader(4, U'.');
  if (std::search(text.begin(), text.end(), leader.begin(), leader.end()) != text.end() &&
      random.chance(0.6)) {
    style.leader_space = random.uniform(0.1, 0.8);
  }
  style.ligatures = random.chance(0.75);
  style.kerning = random.chance(0.9);
  const std::string script = compose::main_script(text);
  // Squares are set apart as a whole to fill lines, and stand on end in lines that run downwards.
  if (script == "Hani" || script == "Hang") {
    if (random.chance(0.3)) style.tracking = 2 * random.uniform(0, 0.12);
    style.vertical_forms = script == "Hani" && random.chance(0.2);
  }
  if (script == "Arab" || script == "Deva") style.tracking = style.wander = 0;  // letters join
  // Letter-spaced lines of only a few characters can't be told from separate ones.
  if (text.size() < 4) style.tracking = 0;
  return style;
}

BURNISHER_MULTIVERSION void fill(FloatImage& ink, double x0, double y0, double x1, double y1,
                                 float strength) {
  for (int y = std::max(0, static_cast<int>(y0)); y < std::min<double>(ink.height(), y1); ++y) {
    for (int x = std::max(0, static_cast<int>(x0)); x < std::min<double>(ink.width(), x1); ++x) {
      ink.row(y)[x] = std::max(ink.row(y)[x], strength);
    }
  }
}

bool is_typed(const compose::Typeface& face) {
  return face.klass() == "mono" || face.klass() == "typewriter";
}

// Underlines, lines of ruled paper, and the upright rules of tables beside the text.
void print_rules(double left, double right, double baseline, double xh, compose::ScanLevel level,
                 Random& random, FloatImage& ink) {
  const double likely = level == compose::ScanLevel::kClean ? 0.03 : 0.06;
  const auto thick = [&] { return std::max(1.0, xh * random.uniform(0.05, 0.14)); };
  const float strength = static_cast<float>(random.uniform(0.4, 1));
  if (random.chance(likely)) {
    const double y = baseline + xh * random.uniform(0.12, 0.75);
    const bool whole = random.chance(0.6);
    fill(ink, whole ? 0 : left, y, whole ? ink.width() : right, y + thick(), strength);
  }
  if (random.chance(likely / 2)) {
    const double y = baseline - xh * random.uniform(1.75, 2.3);
    fill(ink, 0, y, ink.width(), y + thick(), strength);
  }
  for (const bool before : {true, false}) {
    if (!random.chance(likely / 2)) continue;
    const double away = xh * random.uniform(0.35, 0.9);
    const double x = before ? left - away - thick() : right + away;
    fill(ink, x, 0, x + thick(), ink.height(), strength);
  }
}

// How far the scan's rows sink below straight ones: skew and a slow wave. In scan pixels.
struct Warp {
  double slope = 0, amplitude = 0, period = 1, phase = 0;
  double operator()(double x) const {
    return slope * x + amplitude * std::sin(6.2832 * x / period + phase);
  }
};

Warp draw_warp(double width, double xh, Random& random) {
  Warp warp;
  if (random.chance(0.6)) {
    warp.slope = 0.02 * random.normal();
    warp.slope = std::clamp(warp.slope, -0.9 * xh / width, 0.9 * xh / width);
  }
  if (random.chance(0.3)) {
    warp.amplitude = xh * random.uniform(0, 0.12);
    warp.period = xh * random.uniform(15, 80);
    warp.phase = random.uniform(0, 6.2832);
  }
  return warp;
}

// Ink at `fine` times the scan's resolution -> ink as the scanner sees it.
BURNISHER_MULTIVERSION FloatImage resampled(const FloatImage& ink, int fine, const Warp& warp) {
  const int width = ink.width() / fine, height = ink.height() / fine;
  FloatImage seen(width, height);
  std::vector<int> whole(static_cast<size_t>(width));  // rows to look above, and the rest of one
  std::vector<float> rest(static_cast<size_t>(width));
  for (int x = 0; x < width; ++x) {
    const double sink = warp(x) * fine;
    whole[static_cast<size_t>(x)] = static_cast<int>(std::floor(sink));
    rest[static_cast<size_t>(x)] = static_cast<float>(sink - std::floor(sink));
  }
  const float share = 1.f / static_cast<float>(fine * fine);
  const int last = ink.height() - 1, stride = ink.width();
  for (int y = 0; y < height; ++y) {
    float* out = seen.row(y);
    for (int j = 0; j < fine; ++j) {
      const int from = y * fine + j;
      for (int x = 0; x < width; ++x) {
        const int row = std::clamp(from - whole[static_cast<size_t>(x)], 0, last);
        const float* here = ink.row(row) + x * fine;
        const float* above = row > 0 ? here - stride : here;
        const float r = rest[static_cast<size_t>(x)];
        for (int i = 0; i < fine; ++i) out[x] += share * (here[i] * (1 - r) + above[i] * r);
      }
    }
  }
  return seen;
}

FloatImage verso_of(const FloatImage& ink, double xh, Random& random) {
  FloatImage verso(ink.width(), ink.height());
  const int shift = random.index(std::max(1, ink.height()));
  for (int y = 0; y < ink.height(); ++y) {
    const float* from = ink.row((y + shift) % ink.height());
    float* to = verso.row(y);
    for (int x = 0; x < ink.width(); ++x) to[x] = from[ink.width() - 1 - x];
  }
  gaussian_blur(verso, 0.12 * xh);
  return verso;
}

// Some faces list thousands of characters that they have no outline of.
bool has_outlines(const compose::SetLine& set) {
  return std::all_of(set.glyphs.begin(), set.glyphs.end(), [](const compose::SetGlyph& glyph) {
    const FT_Face face = glyph.face->freetype();
    return FT_Load_Glyph(face, glyph.id, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) == 0 &&
           face->glyph->outline.n_points > 0;
  });
}

}  // namespace

LineMaker::LineMaker(const TextSource& source, const recognise::Alphabet& alphabet,
                     const std::vector<compose::TypefaceEntry>& faces, bool held,
                     const recognise::StripFrame& frame)
    : source_(source),
      alphabet_(alphabet),
      faces_(faces, held, source.script().code),
      frame_(frame) {
  if (source.script().code != "Latn")
    latin_ = std::make_unique<compose::TypefaceSampler>(faces, held);
}

TrainingLine LineMaker::make(compose::ScanLevel level, int longest, uint64_t seed) {
  Random random(seed);
  TrainingLine line;
  while (!try_line(level, longest, random, line)) {
  }
  return line;
}

void LineMaker::print_neighbours(const compose::TypefacePair& faces,
                                 const compose::TypeStyle& style, double baseline, Random& random,
                                 FloatImage& ink) const {
  const double pitch = style.x_height * random.uniform(2.05, 3.1);
  for (const double side : {-1.0, 1.0}) {
    std::vector<char32_t> text = source_.draw(70, false, random);
    text.erase(std::remove_if(text.begin(), text.end(),
                              [&](char32_t c) {
                                return !faces.main->has(c) &&
                                       (faces.spare == nullptr || !faces.spare->has(c));
                              }),
               text.end());
    if (text.empty() || random.chance(0.1)) continue;
    const compose::SetLine set =
        compose::set_line(faces, text, runs_right_to_left(text), style, random);
    const double x = random.uniform(-0.3, 0.3) * ink.width() + kBeside * style.x_height;
    compose::print_line(set, style, x, baseline + side * pitch, ink);
  }
}

bool LineMaker::try_line(compose::ScanLevel level, int longest, Random& random,
                         TrainingLine& line) {
  line = TrainingLine{};
  const std::vector<char32_t> text =
      source_.draw(longest, level != compose::ScanLevel::kClean, random);
  const compose::TypefacePair faces =
      latin_ ? faces_.draw_pair(text, *latin_, random)
             : compose::TypefacePair{faces_.draw(text, random), nullptr};
  if (faces.main == nullptr) return false;
  const bool right_to_left = runs_right_to_left(text);
  const double xh = x_height_of_scan(level, source_.script().squares != nullptr, random);
  const int fine = xh < 16 ? 2 : 1;
  const double ink_xh = xh * fine;
  compose::TypeStyle style = draw_style(ink_xh, text, random);
  if (is_typed(*faces.main) && random.chance(0.5)) {  // every type strikes with its own force
    style.ink_spread = random.uniform(0.1, 0.6);
    style.wander = random.uniform(0, 0.02);
  }
  const compose::SetLine set = compose::set_line(faces, text, right_to_left, style, random);
  // A few faces have advances that make no sense.
  if (!(set.width > 0 && set.width * frame_.x_height / ink_xh <= kWidestStrip)) return false;

  if (source_.script().squares != nullptr && !has_outlines(set)) return false;

  const double left = kBeside * ink_xh, baseline = kAbove * ink_xh;
  const auto whole = [&](double pixels) { return (static_cast<int>(pixels) / fine + 1) * fine; };
  FloatImage ink(whole(set.width + 2 * left), whole(baseline + kBelow * ink_xh));
  compose::print_line(set, style, left, baseline, ink);
  if (random.chance(level == compose::ScanLevel::kClean ? 0.3 : 0.5)) {
    print_neighbours(faces, style, baseline, random, ink);
  }
  print_rules(left, left + set.width, baseline, ink_xh, level, random, ink);
  compose::ScanDamage damage = compose::draw_damage(level, random);
  const bool typed =
      is_typed(*faces.main) && level != compose::ScanLevel::kClean && random.chance(0.65);
  if (typed) compose::type_through_ribbon(damage, random);
  if (xh < 10) damage.noise = std::min(damage.noise, 0.03);
  compose::press(ink, ink_xh, damage, random);

  const double scan_width = static_cast<double>(ink.width()) / fine;
  const Warp warp = draw_warp(scan_width, xh, random);
  const FloatImage seen = resampled(ink, fine, warp);
  const FloatImage verso = damage.show_through > 0 ? verso_of(seen, xh, random) : FloatImage();
  Gray picture = compose::scan(seen, verso.empty() ? nullptr : &verso, xh, damage, random);

  // Pages are read after the paper has been made even.
  if (damage.threshold == compose::Threshold::kNone && random.chance(0.4)) {
    clean::even_out(clean::paper_of(picture, xh * 1.6), picture);
  }

  // What layout analysis would report: nearly right.
  const double x0 = left / fine, x1 = (left + set.width) / fine, y = baseline / fine;
  recognise::LinePlace place;
  double size_error = std::exp(size_spread(source_.script().code) * random.normal());
  if (random.chance(0.05)) size_error *= random.uniform(0.8, 1.3);
  place.x_height = xh * size_error;
  const double sink = xh * 0.07 * random.normal();
  const double tilt =
      xh * random.uniform(-1, 1) * (level == compose::ScanLevel::kClean ? 0.1 : 0.25);
  const bool bends_known = random.chance(0.7);
  const int points = bends_known ? 9 : 2;
  for (int i = 0; i < points; ++i) {
    const double share = static_cast<double>(i) / (points - 1);
    const double x = x0 + share * std::max(1.0, x1 - x0);
    place.baseline.push_back({x, y + warp(x) + sink + tilt * (share - 0.5)});
  }
  const double before = random.uniform(0.2, 1.4), after = random.uniform(0.2, 1.4);
  const recognise::StripMap map(place, frame_, before, after);
  line.strip = extract_strip(picture, map, frame_);

  int needed = 0;
  for (const PrintedCharacter& c : printed_order(text, right_to_left)) {
    const int klass = alphabet_.class_of(c.character);
    if (klass == 0) return false;  // the mirror of a sign that the alphabet lacks
    needed += 1 + (!line.classes.empty() && klass == line.classes.back());
    line.classes.push_back(klass);
    line.text.push_back(c.character);
    const double along = x0 + set.characters[c.source].centre / fine - place.baseline.front().x;
    line.centres.push_back(static_cast<float>(along / map.scale() + before * frame_.x_height));
  }
  return needed <= line.strip.width() / kStripPixelsPerFrame;
}

}  // namespace burnisher::train
