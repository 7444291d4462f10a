#include "type/match.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>

#include "base/statistics.h"
#include "base/unicode.h"
#include "page/leader.h"
#include "type/print.h"
#include "type/typefaces.h"

namespace burnisher::type {
namespace {

constexpr double kFineXHeight = 12;  // pixels; words are compared about this large
constexpr size_t kSamples = 12;      // words of a block that its family is told by
constexpr double kPagesSay = 6;      // samples' worth of what the page says for a block
constexpr double kUnevenness = 0.5;  // cost of letters now narrow, now wide
// Strokes as unlike as this are neither's; serifs gain so much of an overlap for each whole beyond.
// Found on pages of books, newspapers, letters and forms: serifs 1.36 to 1.95, sans 1.20 to 1.34,
// typewriters 1.08 to 1.12.
constexpr double kNeutralContrast = 1.4, kContrastSays = 0.3;
constexpr double kHeavier = 1.17;      // weight beside the page's: bold
constexpr double kHeavierWord = 1.3;   // the same of one word of a light line
constexpr double kLighterWord = 1.08;  // what a word of a heavy line has at least
constexpr double kHeavyPage = 1.6;     // a page that is bold all over
constexpr double kSlanting = 7;        // degrees that italics lean by at least
constexpr size_t kTellingLetters = 3;  // that tell weight and slant of a word
constexpr double kSteep = 0.3;         // rise over run of lines that are not looked into
constexpr double kSizeSays =
    0.08;  // share of its width by which a line's own size has to suit better
constexpr double kMostStretch = 1.9;  // beside the type's own width
constexpr double kPoorFit = 0.4;      // overlap (Dice); below, no face stands in
constexpr double kReadablePage = 0.6, kReadableWord = 0.4;  // confidence
constexpr double kSureEnough = 0.75;                        // confidence
constexpr int kBlackInk = 110, kHue = 45;  // darker than the one, less hue than the other: black
constexpr int kOtherInk = 70;              // steps of a channel between two inks

constexpr std::array<Family, 3> kFamilies = {Family::kSerif, Family::kSans, Family::kMono};

struct Fit {
  double overlap = 0;
  double stretch = 1;
};

// A word with its ink, reduced.
struct Looked {
  Word* word = nullptr;
  const Line* line = nullptr;
  std::vector<char32_t> text;  // as it is seen
  size_t letters = 0;
  Gray ink;                 // softened
  double from = 0, to = 0;  // of the ink, pixels of the reduced picture
  double baseline = 0, x_height = 0;
  double set_x_height = 0;  // pixels of the page: of the type
  double weight = 0;        // stroke width beside what is usual in print of this size
  double lean = 0;          // degrees to the right
  bool level = false;       // and thus looked into

  Fit fit(const Typeface& face) const {
    const TextMetrics extent = face.extent(text);
    const double em = x_height / face.x_height();
    if (extent.ink <= 0) return {};
    Fit result;
    result.stretch = (to - from) / (extent.ink * em);
    Gray drawn(ink.width(), ink.height(), 255);
    face.draw(text, from - extent.lead * em * result.stretch, baseline, em, result.stretch, drawn);
    result.overlap = overlap_of(ink, softened(drawn));
    return result;
  }
};

// Of regular weight, beside the x-height: scanning adds about the same to strokes of every size.
double usual_stroke(double x_height) {
  return 0.14 + 0.7 / x_height;
}

Looked looked_at(Word& word, const Line& line, const Print& page) {
  Looked looked;
  looked.word = &word;
  looked.line = &line;
  bool right_to_left = false;
  looked.text = in_visual_order(word.text, right_to_left);
  looked.letters = static_cast<size_t>(std::count_if(looked.text.begin(), looked.text.end(),
                                                     [](char32_t c) { return is_letter(c); }));
  const Point way = line.baseline.back() - line.baseline.front();
  // Positions come from files that anybody may have written.
  looked.level = way.x > 0 && std::fabs(way.y) < kSteep * way.x && line.x_height >= 3 &&
                 line.x_height < page.height() && word.box.width() >= 2 && word.box.height() >= 2 &&
                 page.holds(word.box);
  if (!looked.level) return looked;
  const int factor = std::max(1, static_cast<int>(std::lround(line.x_height / kFineXHeight)));
  const int x0 = static_cast<int>(word.box.x0) - 2 * factor;
  const int y0 = static_cast<int>(word.box.y0) - 2 * factor;
  const double base = height_at(line.baseline, word.box.centre().x);
  const Gray print = page.reduced(x0, y0, static_cast<int>(word.box.width()) / factor + 5,
                                  static_cast<int>(word.box.height()) / factor + 5, factor);
  looked.from = (word.box.x0 - x0) / factor;
  looked.to = (word.box.x1 - x0) / factor;
  looked.baseline = (base - y0) / factor;
  looked.x_height = line.x_height / factor;
  looked.weight = stroke_of(print) / looked.x_height / usual_stroke(line.x_height);
  if (looked.letters >= kTellingLetters) looked.lean = lean_of(print, looked.baseline);
  looked.ink = softened(print);
  return looked;
}

// How well each family covers some words.
struct Votes {
  std::array<double, 3> sum{};
  double samples = 0;
  StrokeContrast contrast;

  std::array<double, 3> mean() const {
    std::array<double, 3> result = sum;
    for (double& value : result) value /= std::max(1.0, samples);
    return result;
  }
};

Votes votes_of(const std::vector<const Looked*>& words, const Bitonal& ink, Typefaces& faces) {
  Votes votes;
  for (const Looked* word : words) votes.contrast.add(ink, word->word->box);
  std::array<std::vector<double>, 3> widths;
  for (const Looked* word : words) {
    for (size_t f = 0; f < kFamilies.size(); ++f) {
      double best = 0;
      for (const bool bold : {false, true}) {
        for (const bool italic : {false, true}) {
          const Typeface& face = faces.named({kFamilies[f], bold, italic, false});
          if (!face.has(word->text)) continue;
          const Fit fit = word->fit(face);
          best = std::max(best, fit.overlap);
          if (!bold && !italic) widths[f].push_back(std::log(std::max(0.01, fit.stretch)));
        }
      }
      votes.sum[f] += best;
    }
    ++votes.samples;
  }
  for (size_t f = 0; f < kFamilies.size(); ++f) {
    if (widths[f].size() < 2) continue;
    const double middle = median(widths[f]);
    double off = 0;
    for (const double width : widths[f]) off += std::fabs(width - middle);
    votes.sum[f] -= kUnevenness * off;
  }
  return votes;
}

std::vector<const Looked*> samples_of(const std::vector<Looked>& words) {
  std::vector<const Looked*> telling;
  for (const Looked& word : words) {
    if (word.level && word.letters > kTellingLetters && word.text.size() < 20)
      telling.push_back(&word);
  }
  std::vector<const Looked*> samples;
  const size_t step = std::max<size_t>(1, telling.size() / kSamples);
  for (size_t i = 0; i < telling.size() && samples.size() < kSamples; i += step)
    samples.push_back(telling[i]);
  return samples;
}

int hue_of(const Ink& colour) {
  const auto [least, most] = std::minmax_element(colour.begin(), colour.end());
  return *most - *least;
}

class Matcher {
 public:
  Matcher(const Picture& picture, const Bitonal& ink, Which which)
      : picture_(picture), ink_(ink), which_(which) {}

  void match(Page& page) {
    readable_ = page.mean_confidence() >= kReadablePage;
    const Print print(picture_, ink_);
    std::vector<std::vector<Looked>> blocks;
    for (Block& block : page.blocks) {
      blocks.emplace_back();
      if (block.kind == BlockKind::kNoise) continue;
      for (Line& line : block.lines) {
        if (line.baseline.size() < 2) continue;
        for (Word& word : line.words) blocks.back().push_back(looked_at(word, line, print));
      }
    }
    choose_families(blocks);
    std::vector<double> weights;
    for (const auto& block : blocks) {
      for (const Looked& word : block) {
        if (word.level && word.letters >= kTellingLetters) weights.push_back(word.weight);
      }
    }
    usual_weight_ = median(std::move(weights));
    measure_inks(blocks);
    for (size_t b = 0; b < blocks.size(); ++b) {
      const std::vector<Range> lines = lines_of(blocks[b]);
      choose_sizes(lines, faces_.named({families_[b], false, false, false}));
      for (const Range& line : lines) set_line(line, families_[b]);
    }
  }

 private:
  struct Range {
    Looked *first, *last;
    Looked* begin() const { return first; }
    Looked* end() const { return last; }
  };

  static std::vector<Range> lines_of(std::vector<Looked>& words) {
    std::vector<Range> lines;
    for (Looked& word : words) {
      if (lines.empty() || lines.back().first->line != word.line) lines.push_back({&word, &word});
      lines.back().last = &word + 1;
    }
    return lines;
  }

  // Lines of a block are of one size, unless one runs as wide as the others only in its own: small
  // print among large, or an x-height that was badly measured.
  static void choose_sizes(const std::vector<Range>& lines, const Typeface& face) {
    // By line: how much wider print is than type of one pixel of x-height.
    std::vector<double> widths, heights, stretches;
    for (const Range& line : lines) {
      double print = 0, type = 0;
      for (const Looked& word : line) {
        print += word.word->box.width();
        type += face.extent(word.text).ink / face.x_height();
      }
      widths.push_back(type > 0 ? print / type : 0);
      heights.push_back(line.first->line->x_height);
      stretches.push_back(widths.back() / std::max(1e-6, heights.back()));
    }
    const double usual = median(heights), stretch = median(stretches);
    for (size_t i = 0; i < lines.size(); ++i) {
      const auto oddness = [&](double height) {
        return widths[i] > 0 && stretch > 0 && height > 0
                   ? std::fabs(std::log(widths[i] / height / stretch))
                   : 0;
      };
      const bool own = oddness(heights[i]) + kSizeSays < oddness(usual);
      for (Looked& word : lines[i]) word.set_x_height = own ? heights[i] : usual;
    }
  }

  void choose_families(const std::vector<std::vector<Looked>>& blocks) {
    std::vector<Votes> votes;
    Votes all;
    for (const auto& block : blocks) {
      votes.push_back(votes_of(samples_of(block), ink_, faces_));
      for (size_t f = 0; f < 3; ++f) all.sum[f] += votes.back().sum[f];
      all.samples += votes.back().samples;
      all.contrast.add(votes.back().contrast);
    }
    const auto serif_gains = [&](const Votes& block) {
      const auto own = block.contrast.value(), pages = all.contrast.value();
      const double contrast = own ? *own : pages ? *pages : kNeutralContrast;
      return kContrastSays * (contrast - kNeutralContrast) * (block.samples + kPagesSay);
    };
    const auto page = all.mean();
    for (const Votes& block : votes) {
      size_t best = 0;
      const auto score = [&](size_t f) {
        const double gain = kFamilies[f] == Family::kSerif ? serif_gains(block) : 0;
        return block.sum[f] + kPagesSay * page[f] + gain;
      };
      for (size_t f = 1; f < 3; ++f) {
        if (score(f) > score(best)) best = f;
      }
      families_.push_back(kFamilies[best]);
    }
  }

  // The ink that most of the page is printed with.
  void measure_inks(const std::vector<std::vector<Looked>>& blocks) {
    std::array<std::vector<double>, 3> channels;
    for (const auto& block : blocks) {
      for (const Looked& word : block) {
        const auto colour = colour_of(picture_, ink_, word.word->box);
        for (size_t c = 0; colour.has_value() && c < 3; ++c) channels[c].push_back((*colour)[c]);
      }
    }
    for (size_t c = 0; c < 3; ++c)
      usual_ink_[c] = static_cast<uint8_t>(median(std::move(channels[c])));
  }

  // Weight and slant are a line's; a word that clearly differs has its own.
  void set_line(Range words, Family family) {
    std::vector<double> weights, leans;
    for (const Looked& word : words) {
      if (!word.level || word.letters < kTellingLetters) continue;
      weights.push_back(word.weight);
      leans.push_back(word.lean);
    }
    const bool line_bold = is_bold(median(weights), kHeavier);
    const bool line_leans = median(leans) >= kSlanting;
    for (const Looked& word : words) {
      TypefaceName name{family, line_bold, line_leans, false};
      if (word.level && word.letters >= kTellingLetters) {
        name.italic = word.lean >= kSlanting;
        // One heavy word on a light line has to be clearly so.
        name.bold = is_bold(word.weight, line_bold ? kLighterWord : kHeavierWord);
      }
      const Typeface* face = faces_.for_text(name, word.text);
      if (face == nullptr) continue;
      const TextMetrics extent = face->extent(word.text);
      if (extent.ink <= 0 || !to_be_set(word, *face, extent)) continue;
      word.word->type = {em_of(word, *face, extent),
                         name.family,
                         name.bold,
                         name.italic,
                         name.spare,
                         ink_of(word)};
    }
  }

  bool is_bold(double weight, double factor) const {
    return usual_weight_ > kHeavyPage ? weight * kHeavier > usual_weight_
                                      : weight > factor * usual_weight_;
  }

  bool to_be_set(const Looked& word, const Typeface& face, const TextMetrics& extent) const {
    if (is_leader(word.text)) return true;
    // A box that holds more than the word, as dots that lead on from it.
    const double stretch = word.word->box.width() / (extent.ink * em_of(word, face, extent));
    if (word.level && (stretch < 1 / kMostStretch || stretch > kMostStretch)) return false;
    if (word.word->corrected == CorrectedBy::kPerson) return true;
    if (!readable_ || word.word->confidence < kReadableWord) return false;
    if (which_ == Which::kReadable) return true;
    if (word.word->confidence < kSureEnough || (word.word->reasons & (kUnsure | kOdd)) != 0)
      return false;
    return !word.level || word.letters < kTellingLetters || word.fit(face).overlap > kPoorFit;
  }

  // By the x-height; by the ink's height where that says something else altogether, as for large
  // capitals that stand alone.
  static double em_of(const Looked& word, const Typeface& face, const TextMetrics& extent) {
    const double em = word.set_x_height / face.x_height();
    const double tall = (extent.bottom - extent.top) * em;
    const double ratio = word.word->box.height() / std::max(1e-6, tall);
    const bool alone = word.line->words.size() == 1 && word.text.size() <= 2;
    return word.level && alone && (ratio > 1.3 || ratio < 0.75) ? em * ratio : em;
  }

  // The page's ink unless the word's is clearly another.
  Ink ink_of(const Looked& word) const {
    Ink ink = usual_ink_;
    if (const auto own = colour_of(picture_, ink_, word.word->box)) {
      for (size_t c = 0; c < 3; ++c) {
        if (std::abs((*own)[c] - usual_ink_[c]) > kOtherInk) ink = *own;
      }
      if (std::abs(hue_of(*own) - hue_of(usual_ink_)) > kHue) ink = *own;
    }
    const int most = *std::max_element(ink.begin(), ink.end());
    return most < kBlackInk && hue_of(ink) < kHue ? Ink{} : ink;
  }

  const Picture& picture_;
  const Bitonal& ink_;
  Which which_;
  bool readable_ = true;
  Typefaces faces_;
  std::vector<Family> families_;  // by block
  double usual_weight_ = 1;
  Ink usual_ink_{};
};

}  // namespace

void match(Page& page, const Picture& picture, const Bitonal& ink, Which which) {
  Matcher(picture, ink, which).match(page);
}

}  // namespace burnisher::type
