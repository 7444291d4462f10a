#include "report/words_table.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "base/unicode.h"
#include "correct/changes.h"
#include "page/block_kind.h"
#include "report/proof_sheet.h"

namespace burnisher::report {
namespace {

struct Spoken {
  char32_t sign;
  const char* name;
};
constexpr Spoken kSpoken[] = {{U'.', "full stop"},
                              {U',', "comma"},
                              {U';', "semicolon"},
                              {U':', "colon"},
                              {U'!', "exclamation mark"},
                              {U'?', "question mark"},
                              {U'-', "hyphen"},
                              {U'–', "dash"},
                              {U'—', "long dash"},
                              {U'(', "open bracket"},
                              {U')', "close bracket"},
                              {U'[', "open square bracket"},
                              {U']', "close square bracket"},
                              {U'"', "quote"},
                              {U'“', "open quote"},
                              {U'”', "close quote"},
                              {U'„', "low quote"},
                              {U'‘', "open single quote"},
                              {U'’', "apostrophe"},
                              {U'\'', "apostrophe"},
                              {U'/', "slash"},
                              {U'&', "ampersand"},
                              {U'%', "per cent"},
                              {U'£', "pound"},
                              {U'$', "dollar"},
                              {U'€', "euro"},
                              {U'°', "degrees"},
                              {U'′', "prime"},
                              {U'″', "double prime"},
                              {U'§', "section"},
                              {U'*', "asterisk"},
                              {U'+', "plus"},
                              {U'=', "equals"},
                              {U'½', "one half"},
                              {U'¼', "one quarter"},
                              {U'¾', "three quarters"},
                              {U'№', "number"},
                              {U'×', "times"},
                              {U'•', "bullet"}};

const char* spoken(char32_t c) {
  const auto found = std::find_if(std::begin(kSpoken), std::end(kSpoken),
                                  [c](const Spoken& s) { return s.sign == c; });
  return found == std::end(kSpoken) ? nullptr : found->name;
}

std::string spoken_word(const std::string& word) {
  std::string out, letters;
  const auto say = [&](const std::string& part) {
    if (!part.empty()) out += (out.empty() ? "" : " ") + part;
  };
  const std::vector<char32_t> text = decode_utf8(word);
  const bool figures = std::any_of(text.begin(), text.end(), is_digit);
  for (const char32_t c : text) {
    if (is_letter(c) && !figures) {
      letters += encode_utf8(c);
      continue;
    }
    say(letters);
    letters.clear();
    // Among figures letters are told one by one, too, with their case.
    if (is_letter(c))
      say((is_upper(c) ? "capital " : "") + encode_utf8(c));
    else if (const char* name = spoken(c))
      say(name);
    else
      say(encode_utf8(c));
  }
  say(letters);
  return out;
}

}  // namespace

std::string words_table(const std::vector<const Page*>& pages) {
  std::string table =
      "file\tpage\tblock\tkind\tline\tword\tx\ty\twidth\theight\ttext\tconfidence\terror_"
      "probability\treason\t"
      "before\n";
  for (const Page* page : pages) {
    const std::string file = std::filesystem::path(page->file).filename();
    for (size_t b = 0; b < page->blocks.size(); ++b) {
      const Block& block = page->blocks[b];
      if (block.kind == BlockKind::kNoise) continue;
      for (size_t l = 0; l < block.lines.size(); ++l) {
        for (size_t w = 0; w < block.lines[l].words.size(); ++w) {
          const Word& word = block.lines[l].words[w];
          const Box box = placed(word.box, *page, Positions::kScan);
          table +=
              fmt::format("{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{:.3f}\t{:.3f}\t{}\t{}\n",
                          correct::table_field(file), page->number, b + 1, name_of(block.kind),
                          l + 1, w + 1, std::lround(box.x0), std::lround(box.y0),
                          std::lround(box.width()), std::lround(box.height()),
                          correct::table_field(word.text), word.confidence, word.error_probability,
                          reasons_in_words(word.reasons), correct::table_field(word.before));
        }
      }
    }
  }
  return table;
}

std::string read_aloud(const std::vector<const Page*>& pages) {
  std::string text;
  for (const Page* page : pages) {
    text += fmt::format("{}, page {}.\n\n", std::filesystem::path(page->file).stem().string(),
                        page->number);
    for (const Block& block : page->blocks) {
      if (block.kind == BlockKind::kNoise || block.lines.empty()) continue;
      for (const Line& line : block.lines) {
        std::string said;
        for (const Word& word : line.words)
          said += (said.empty() ? "" : " ") + spoken_word(word.text);
        text += said + "\n";
      }
      text += "\n";
    }
  }
  return text;
}

}  // namespace burnisher::report
