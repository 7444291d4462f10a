#include "teach/glyph_cuts.h"

#include <algorithm>
#include <cmath>

#include "raster/components.h"
#include "recognise/model.h"

namespace burnisher::teach {
namespace {

using recognise::ReadCharacter;
using recognise::StripFrame;

constexpr uint8_t kInk = 110;  // strip sample from which on there is ink, as for word boxes
// Components that lie wholly outside of this band, in x-heights above and below the baseline, or
// reach in from the strip's edge without reaching the letters' own rows, are of other lines.
constexpr double kHighest = 2.0, kLowest = 0.7;
// Of a component, in square x-heights and as a strip sample: less of it, or paler all over, is a
// speck.
constexpr double kSpeckArea = 0.025;
constexpr uint8_t kSpeckInk = 150;
constexpr double kOverlap = 0.5;  // of the narrower one's width: one stands above the other
// Mean confidence of a line, and that of a character, from which on they may part or join ink.
constexpr double kTrustedLine = 0.8, kTrusted = 0.6;
constexpr double kWideLetter = 0.9;  // x-heights: narrower ink is not parted
constexpr double kNearParts = 0.25;  // x-heights: parts of one letter are not further apart
// The headline's rows: about an x-height above the baseline, with so much of the most ink of a row.
constexpr double kHeadlineReach = 0.3, kHeadlineInk = 0.6;
constexpr double kHangTogether = 0.5;  // x-heights between letters of one headline

struct Span {
  int x0, x1;
};

Bitonal ink_of(const Gray& strip) {
  Bitonal ink(strip.width(), strip.height());
  for (int y = 0; y < strip.height(); ++y)
    for (int x = 0; x < strip.width(); ++x)
      if (strip.row(y)[x] >= kInk) ink.set_ink(x, y, true);
  return ink;
}

// The darkest sample of every component.
std::vector<uint8_t> darkest(const Gray& strip, const Components& components) {
  std::vector<uint8_t> most(components.list.size());
  for (const Run& run : components.runs) {
    uint8_t& m = most[static_cast<size_t>(run.component)];
    m = std::max(m, *std::max_element(strip.row(run.y) + run.x0, strip.row(run.y) + run.x1));
  }
  return most;
}

bool of_this_line(const Component& c, uint8_t ink, const StripFrame& frame, int height) {
  const double top = frame.baseline - kHighest * frame.x_height;
  const double bottom = frame.baseline + kLowest * frame.x_height;
  const double letters = frame.baseline - frame.x_height;
  if (c.area < kSpeckArea * frame.x_height * frame.x_height || ink < kSpeckInk) return false;
  if (c.y1 <= top || c.y0 >= bottom) return false;
  if (c.y0 == 0 && c.y1 < letters) return false;
  if (c.y1 == height && c.y0 > frame.baseline + 0.1 * frame.x_height) return false;
  return true;
}

// Columns of components that stand above one another belong together.
std::vector<Span> atoms_of(const Components& components, const std::vector<bool>& own) {
  std::vector<Span> spans;
  for (size_t i = 0; i < components.list.size(); ++i)
    if (own[i]) spans.push_back({components.list[i].x0, components.list[i].x1});
  std::sort(spans.begin(), spans.end(), [](const Span& a, const Span& b) {
    return std::make_pair(a.x0, a.x1) < std::make_pair(b.x0, b.x1);
  });
  std::vector<Span> atoms;
  for (const Span& span : spans) {
    if (!atoms.empty()) {
      Span& last = atoms.back();
      const int both = std::min(last.x1, span.x1) - span.x0;
      const int narrower = std::min(last.x1 - last.x0, span.x1 - span.x0);
      if (both > kOverlap * narrower) {
        last.x1 = std::max(last.x1, span.x1);
        continue;
      }
    }
    atoms.push_back(span);
  }
  // What still overlaps is parted in the middle of the overlap.
  for (size_t i = 0; i + 1 < atoms.size(); ++i) {
    if (atoms[i].x1 <= atoms[i + 1].x0) continue;
    const int middle = (atoms[i].x1 + atoms[i + 1].x0) / 2;
    atoms[i].x1 = std::max(atoms[i].x0 + 1, middle);
    atoms[i + 1].x0 = std::min(atoms[i + 1].x1 - 1, std::max(middle, atoms[i].x1));
  }
  return atoms;
}

void take_headline_off(const StripFrame& frame, Bitonal& ink) {
  const int middle = static_cast<int>(frame.baseline - frame.x_height);
  const int reach = static_cast<int>(kHeadlineReach * frame.x_height);
  std::vector<int> inked(static_cast<size_t>(ink.height()));
  int most = 0;
  for (int y = std::max(0, middle - reach); y <= std::min(ink.height() - 1, middle + reach); ++y) {
    for (int x = 0; x < ink.width(); ++x) inked[static_cast<size_t>(y)] += ink.ink(x, y);
    most = std::max(most, inked[static_cast<size_t>(y)]);
  }
  for (int y = 0; y < ink.height(); ++y)
    if (inked[static_cast<size_t>(y)] > kHeadlineInk * most)
      std::fill(ink.row(y), ink.row(y) + ink.stride(), static_cast<uint8_t>(0));
}

// The headline between two letters is parted between them.
void meet_half_way(double reach, std::vector<Span>& atoms) {
  for (size_t i = 0; i + 1 < atoms.size(); ++i) {
    const int gap = atoms[i + 1].x0 - atoms[i].x1;
    if (gap > reach) continue;
    atoms[i].x1 += gap / 2;
    atoms[i + 1].x0 = atoms[i].x1;
  }
}

// The column with least ink between two, nearest to their middle.
int thinnest(const Gray& strip, int from, int to) {
  int best = (from + to) / 2;
  double least = 1e18;
  for (int x = from; x <= to && x < strip.width(); ++x) {
    double sum = 0;
    for (int y = 0; y < strip.height(); ++y)
      sum += std::max(0, strip.row(y)[x] - recognise::kPaperLevel);
    sum += 2.0 * std::abs(x - (from + to) / 2);  // a pixel's worth of light gray a column
    if (sum < least) {
      least = sum;
      best = x;
    }
  }
  return best;
}

double column_of_peak(const ReadCharacter& c) {
  return (c.peak_frame + 0.5) * recognise::kFrameWidth;
}

// A character's place on the line reaches half-way to its neighbours (its frames are mostly but a
// peak of one or two).
struct Place {
  double from, to;
};
Place place_of(const ReadCharacter& c, const std::vector<ReadCharacter>& line) {
  Place place{-1e9, 1e9};
  const double at = column_of_peak(c);
  for (const ReadCharacter& other : line) {
    const double middle = (column_of_peak(other) + at) / 2;
    if (other.peak_frame < c.peak_frame) place.from = std::max(place.from, middle);
    if (other.peak_frame > c.peak_frame) place.to = std::min(place.to, middle);
  }
  return place;
}

}  // namespace

Gray own_ink(const Gray& strip, const StripFrame& frame) {
  Gray own = strip.clone();
  const Bitonal ink = ink_of(strip);
  const Components components = components_of(ink);
  const std::vector<uint8_t> most = darkest(strip, components);
  for (const Run& run : components.runs) {
    const auto k = static_cast<size_t>(run.component);
    if (of_this_line(components.list[k], most[k], frame, strip.height())) continue;
    std::fill(own.row(run.y) + run.x0, own.row(run.y) + run.x1, recognise::kPaperLevel);
  }
  return own;
}

std::vector<GlyphCut> glyph_cuts(const Gray& strip, const StripFrame& frame,
                                 const std::vector<ReadCharacter>& characters, bool headline) {
  Bitonal ink = ink_of(strip);
  if (headline) take_headline_off(frame, ink);
  const Components components = components_of(ink);
  const std::vector<uint8_t> most = darkest(strip, components);
  std::vector<bool> own;
  for (size_t i = 0; i < components.list.size(); ++i)
    own.push_back(of_this_line(components.list[i], most[i], frame, strip.height()));
  std::vector<Span> atoms = atoms_of(components, own);
  if (headline) meet_half_way(kHangTogether * frame.x_height, atoms);
  std::vector<GlyphCut> cuts;
  for (const Span& atom : atoms) cuts.push_back({atom.x0, atom.x1, {}});
  if (cuts.empty()) return cuts;
  const bool trusted = recognise::mean_confidence(characters) >= kTrustedLine;
  // Every character goes to the ink at its peak, or to the nearest.
  for (const ReadCharacter& c : characters) {
    if (c.character == U' ') continue;
    const double at = column_of_peak(c);
    const auto away = [&](const GlyphCut& cut) {
      return at < cut.x0 ? cut.x0 - at : at >= cut.x1 ? at - cut.x1 + 1 : 0.0;
    };
    auto nearest =
        std::min_element(cuts.begin(), cuts.end(),
                         [&](const GlyphCut& a, const GlyphCut& b) { return away(a) < away(b); });
    if (away(*nearest) < frame.x_height) nearest->characters.push_back(c);
  }
  // Parted: ink that several letters were surely read in.
  std::vector<GlyphCut> parted;
  for (GlyphCut& cut : cuts) {
    const bool wide = cut.x1 - cut.x0 > kWideLetter * frame.x_height;
    const bool sure = trusted && cut.characters.size() > 1 &&
                      std::all_of(cut.characters.begin(), cut.characters.end(),
                                  [](const ReadCharacter& c) { return c.confidence >= kTrusted; });
    if (!wide || !sure) {
      parted.push_back(std::move(cut));
      continue;
    }
    int from = cut.x0;
    for (size_t i = 0; i < cut.characters.size(); ++i) {
      int to = cut.x1;
      if (i + 1 < cut.characters.size()) {
        const int left = std::max(from + 1, static_cast<int>(column_of_peak(cut.characters[i])));
        const int right = std::min(
            cut.x1 - 1, std::max(left, static_cast<int>(column_of_peak(cut.characters[i + 1]))));
        to = left < right ? thinnest(strip, left, right) : left;
      }
      if (to > from) parted.push_back({from, to, {cut.characters[i]}});
      from = std::max(from, to);
    }
  }
  // Joined: ink without a letter of its own in the place of the letter next to it, if that was
  // surely read.
  std::vector<GlyphCut> joined;
  for (GlyphCut& cut : parted) {
    if (!joined.empty()) {
      GlyphCut& last = joined.back();
      const bool near = cut.x0 - last.x1 < kNearParts * frame.x_height;
      const auto belongs = [&](const GlyphCut& part, const GlyphCut& letter) {
        if (!part.characters.empty() || letter.characters.size() != 1) return false;
        const ReadCharacter& c = letter.characters.front();
        const Place place = place_of(c, characters);
        const double middle = (part.x0 + part.x1) / 2.0;
        return c.confidence >= kTrusted && middle > place.from && middle < place.to;
      };
      if (trusted && near && (belongs(cut, last) || belongs(last, cut))) {
        last.x1 = cut.x1;
        last.characters.insert(last.characters.end(), cut.characters.begin(), cut.characters.end());
        continue;
      }
    }
    joined.push_back(std::move(cut));
  }
  return joined;
}

}  // namespace burnisher::teach
