#include "recognise/character_prior.h"

#include <map>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr double kSure = 0.93;             // one reading this sure, and the page uses the letter
constexpr double kLeastShare = 1 / 250.0;  // of the page's letters
constexpr double kFewest = 3;              // times, summed over confidences: then the page uses it

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

void replace_glyphs(Page& page, char32_t from, char32_t to) {
  each_glyph(page, [&](Glyph& glyph, Word& word) {
    if (glyph.character != from) return;
    glyph.character = to;
    std::vector<char32_t> text;
    for (const Glyph& g : word.glyphs) text.push_back(g.character);
    word.text = to_nfc(encode_utf8(text));
  });
}

}  // namespace

std::vector<bool> implausible_characters(const Page& page, const Alphabet& alphabet) {
  struct ClassPosterior {
    double count = 0, surest = 0;
  };
  std::map<char32_t, ClassPosterior> seen;
  double letters = 0;
  each_glyph(page, [&](const Glyph& glyph, const Word&) {
    if (!is_letter(glyph.character)) return;
    ++letters;
    ClassPosterior& s = seen[to_lower(glyph.character)];
    ++s.count;
    s.surest = std::max(s.surest, glyph.confidence);
  });
  std::vector<bool> implausible(static_cast<size_t>(alphabet.class_count()), false);
  for (int k = 1; k < alphabet.class_count(); ++k) {
    const char32_t c = alphabet.character(k);
    if (c < 128 || !is_letter(c)) continue;
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

void modernise_s(Page& page) {
  replace_glyphs(page, U'ſ', U's');
}

}  // namespace burnisher::recognise
