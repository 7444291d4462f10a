#include "recognise/noise.h"

#include <algorithm>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

// Mean character confidence: of pages that read well, and what their blocks must reach. Scraps of a
// few characters are more often dirt or a signature than text: they must read nearly as well as the
// page does.
constexpr double kReadablePage = 0.7;
// Network confidence of blocks of many, and of few characters.
constexpr double kSureMany = 0.55, kSureFew = 0.72;
constexpr double kFewCharacters = 6;     // a block of fewer must be surer
constexpr double kMostBelowPage = 0.15;  // network confidence that a block may lack of its page's
constexpr double kFewestLeaderDots = 4;  // fewer are an ellipsis
// A page with fewer characters, less sure than this, has no text.
constexpr int kFewestOnPage = 120;
constexpr double kSureOfPage = 0.62;   // network confidence: pages below are not judged by block
constexpr double kSureOfScraps = 0.5;  // of a page with more, in lines of a few
constexpr int kScrap = 8;              // characters in a line
// Specks read as full stops, bullets and asterisks: up to so many, with so small a share of
// letters.
constexpr int kMostDots = 400;
constexpr double kLettersAmongDots = 0.4;  // share; fewer, and a block is a rule of dots
// Grain makes no lines of so many characters in so many words that read well; where there are two
// lines' worth of them, they say how the page reads, however many scraps of grain lie round them.
constexpr size_t kLongLine = 25, kWordsOfLong = 3;
constexpr double kTwoLines = 50;  // characters

bool is_letter_or_digit(const Glyph& glyph) {
  return is_letter(glyph.character) || is_digit(glyph.character);
}

// The mean confidence of long lines; 0 without any to speak of.
double confidence_of_long_lines(const Page& page) {
  double sum = 0, count = 0;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      size_t length = 0, letters = 0;
      for (const Word& word : line.words) {
        length += word.glyphs.size();
        for (const Glyph& glyph : word.glyphs) letters += is_letter_or_digit(glyph);
      }
      if (length < kLongLine || line.words.size() < kWordsOfLong || 2 * letters < length) continue;
      sum += line.confidence * static_cast<double>(length);
      count += static_cast<double>(length);
    }
  }
  return count >= kTwoLines ? sum / count : 0;
}

}  // namespace

void set_all_aside(Page& page) {
  for (Block& block : page.blocks) {
    if (!block.lines.empty()) block.kind = BlockKind::kNoise;
  }
}

void set_scraps_aside(Page& page) {
  for (Block& block : page.blocks) {
    const bool scraps = std::none_of(block.lines.begin(), block.lines.end(), [](const Line& line) {
      size_t length = 0, letters = 0;
      for (const Word& word : line.words) {
        length += word.glyphs.size();
        for (const Glyph& glyph : word.glyphs) letters += is_letter_or_digit(glyph);
      }
      return length >= static_cast<size_t>(kScrap) && 2 * letters >= length;
    });
    if (scraps && !block.lines.empty()) block.kind = BlockKind::kNoise;
  }
}

bool set_blank_aside(Page& page) {
  int characters = 0, letters = 0, lines = 0;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      lines += !line.words.empty();
      for (const Word& word : line.words) {
        for (const Glyph& glyph : word.glyphs) {
          ++characters;
          letters += is_letter_or_digit(glyph);
        }
      }
    }
  }
  const double sure = page.mean_network_confidence();
  // Grain and ruled paper make scraps; lines of a script that the model does not know are long.
  const bool scraps = characters < kScrap * lines;
  const bool unsure = sure < (characters < kFewestOnPage ? kSureOfPage
                              : scraps                   ? kSureOfScraps
                                                         : 0);
  const bool dots =
      characters > 0 && characters < kMostDots && letters < kLettersAmongDots * characters;
  if (!unsure && !dots) return false;
  if (confidence_of_long_lines(page) >= kReadablePage) return false;
  set_all_aside(page);
  return true;
}

void set_noise_aside(Page& page) {
  const double usual = std::max(page.mean_network_confidence(), confidence_of_long_lines(page));
  if (usual < kReadablePage) return;
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable || block.lines.empty()) continue;
    // The network's own certainty counts: a language finds words in scribble, too.
    double sum = 0, count = 0;
    bool only_dots = true;  // what is left of a dotted rule
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        const auto characters = static_cast<double>(word.glyphs.size());
        sum += characters * line.confidence;
        count += characters;
        for (const Glyph& glyph : word.glyphs) only_dots = only_dots && glyph.character == U'.';
      }
    }
    // What seems to run up the page is more often the grain of its edge.
    const bool strict = count <= kFewCharacters || block.lines.front().runs_up_or_down();
    const double least = strict ? std::max(kSureFew, usual - kMostBelowPage) : kSureMany;
    const bool dots = only_dots && count >= kFewestLeaderDots;
    if (count == 0 || dots || sum / count < least) block.kind = BlockKind::kNoise;
  }
}

}  // namespace burnisher::recognise
