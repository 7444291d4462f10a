#include "recognise/character_prior.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr double kSure = 0.93;             // one reading this sure, and the page uses the letter
constexpr double kLeastShare = 1 / 250.0;  // of the page's letters
constexpr double kFewest = 3;              // times, summed over confidences: then the page uses it

// Votes on the kind of apostrophes, in nats. In small print curled ones are often read as straight,
// with a confidence of 0.5 to 0.95; straight ones of a typewriter are surely seen (0.99).
constexpr double kUsuallyCurled = 0.5;
constexpr double kHardlySure = 2;  // log odds of 0.88
constexpr double kOfCurled = 0.5, kOfUnsure = 1.5, kMost = 4;
constexpr double kOfCurledPair = 1, kOfStraightPair = 1.5;  // “ and "
constexpr double kOfRest = 0.5;                             // what the other blocks say
constexpr int kFewestSigns = 3;                             // on a page: fewer tell nothing
constexpr double kClear = 1.2;                              // less changes none

template <typename AnyPage, typename Visit>
void each_glyph(AnyPage& page, const Visit& visit) {
  for (auto& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (auto& line : block.lines) {
      for (auto& word : line.words) {
        for (auto& glyph : word.glyphs) visit(glyph, word);
      }
    }
  }
}

// The numero sign is drawn as letters are, and misread for them.
bool looks_like_letter(char32_t c) {
  return is_letter(c) || c == U'№';
}

void respell(Word& word) {
  std::vector<char32_t> text;
  for (const Glyph& g : word.glyphs) text.push_back(g.character);
  word.text = to_nfc(encode_utf8(text));
}

void replace_glyphs(Page& page, char32_t from, char32_t to) {
  each_glyph(page, [&](Glyph& glyph, Word& word) {
    if (glyph.character != from) return;
    glyph.character = to;
    respell(word);
  });
}

// Of a script that has apostrophes: after a Hebrew letter the sign is a geresh.
bool follows_letter(const Word& word, size_t i) {
  if (i == 0) return false;
  const char32_t before = word.glyphs[i - 1].character;
  return is_letter(before) && !is_right_to_left(before);
}

struct Apostrophe {
  Word* word;
  size_t glyph, block;
};

double log_odds(double probability) {
  const double p = std::clamp(probability, 0.001, 0.999);
  return std::log(p / (1 - p));
}

// What one sign says of the kind of apostrophes around it. Above 0: curled ones.
double speaks_for_curled(const Glyph& glyph) {
  const double sure = log_odds(glyph.confidence);
  switch (glyph.character) {
    case U'’':
      return std::clamp(kOfCurled * sure, 0.0, kMost);
    case U'\'':
      return std::clamp(kHardlySure - sure, -kMost, kOfUnsure);
    case U'“':
    case U'”':
      return kOfCurledPair;
    case U'"':
      return -kOfStraightPair;
    default:
      return 0;
  }
}

}  // namespace

std::vector<bool> implausible_characters(const Page& page, const Alphabet& alphabet) {
  struct ClassPosterior {
    double count = 0, surest = 0;
  };
  std::map<char32_t, ClassPosterior> seen;
  double letters = 0;
  each_glyph(page, [&](const Glyph& glyph, const Word&) {
    if (!looks_like_letter(glyph.character)) return;
    ++letters;
    ClassPosterior& s = seen[to_lower(glyph.character)];
    ++s.count;
    s.surest = std::max(s.surest, glyph.confidence);
  });
  std::vector<bool> implausible(static_cast<size_t>(alphabet.class_count()), false);
  for (int k = 1; k < alphabet.class_count(); ++k) {
    const char32_t c = alphabet.character(k);
    if (c < 128 || !looks_like_letter(c)) continue;
    const auto found = seen.find(to_lower(c));
    const bool common =
        found != seen.end() && (found->second.surest >= kSure ||
                                found->second.count >= std::max(kFewest, kLeastShare * letters));
    implausible[static_cast<size_t>(k)] = !common;
  }
  return implausible;
}

std::vector<Line*> lines_with(const std::vector<bool>& implausible, const Alphabet& alphabet,
                              Page& page) {
  std::vector<Line*> lines;
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      bool any = false;
      for (const Word& word : line.words) {
        for (const Glyph& glyph : word.glyphs)
          any = any || implausible[static_cast<size_t>(alphabet.class_of(glyph.character))];
      }
      if (any) lines.push_back(&line);
    }
  }
  return lines;
}

void settle_primes(Page& page) {
  const char32_t families[][2] = {{U'\'', U'′'}, {U'"', U'″'}};
  for (const auto& family : families) {
    double weight[2] = {0, 0};
    each_glyph(page, [&](const Glyph& glyph, const Word&) {
      for (int i = 0; i < 2; ++i) {
        if (glyph.character == family[i]) weight[i] += glyph.confidence;
      }
    });
    if (weight[0] == 0 || weight[1] == 0) continue;
    const int rarer = weight[0] < weight[1] ? 0 : 1;
    replace_glyphs(page, family[rarer], family[1 - rarer]);
  }
}

void settle_apostrophes(Page& page) {
  std::vector<Apostrophe> all;
  double of_page = 0;
  int signs = 0;
  std::vector<double> of_block(page.blocks.size(), 0.0);
  for (size_t b = 0; b < page.blocks.size(); ++b) {
    for (Line& line : page.blocks[b].lines) {
      for (Word& word : line.words) {
        for (size_t i = 0; i < word.glyphs.size(); ++i) {
          const double vote = speaks_for_curled(word.glyphs[i]);
          of_block[b] += vote;
          signs += vote != 0;
          const char32_t c = word.glyphs[i].character;
          if ((c == U'\'' || c == U'’') && follows_letter(word, i)) all.push_back({&word, i, b});
        }
      }
    }
    of_page += of_block[b];
  }
  if (signs < kFewestSigns) return;
  for (const Apostrophe& a : all) {
    const double own = of_block[a.block];
    const double votes = kUsuallyCurled + own + kOfRest * (of_page - own);
    const char32_t kind = votes > 0 ? U'’' : U'\'';
    char32_t& c = a.word->glyphs[a.glyph].character;
    if (c == kind || std::abs(votes) < kClear) continue;
    c = kind;
    respell(*a.word);
  }
}

void modernise_s(Page& page) {
  replace_glyphs(page, U'ſ', U's');
}

}  // namespace burnisher::recognise
