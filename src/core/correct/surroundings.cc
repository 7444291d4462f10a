#include "correct/surroundings.h"

#include <algorithm>

#include "base/unicode.h"

namespace burnisher::correct {
namespace {

bool looked_at(const Block& block) {
  return block.kind != BlockKind::kNoise && block.kind != BlockKind::kPageNumber &&
         block.kind != BlockKind::kDropCapital;
}

bool ends_sentence(const std::string& word) {
  const std::vector<char32_t> text = decode_utf8(word);
  return !text.empty() &&
         std::u32string_view(U".!?:").find(text.back()) != std::u32string_view::npos;
}

double certainty_of(const Line& line) {
  double sum = 0, letters = 0;
  for (const Word& word : line.words) {
    const auto length = static_cast<double>(word.text.size());
    sum += length * word.confidence;
    letters += length;
  }
  return letters > 0 ? sum / letters : 1;
}

void find_other_half(const Block& block, const Spot& spot, Place& place) {
  if (block.kind == BlockKind::kTable) return;
  const std::vector<Line>& lines = block.lines;
  const auto& words = lines[spot.line].words;
  if (spot.word + 1 == words.size() && ends_with_hyphen(utf32_of(words[spot.word].text))) {
    if (spot.line + 1 == lines.size() || lines[spot.line + 1].words.empty()) return;
    place.other_half = form_of(lines[spot.line + 1].words.front().text).core;
    place.first_half = true;
  } else if (spot.word == 0 && spot.line > 0 && !lines[spot.line - 1].words.empty()) {
    const std::string& before = lines[spot.line - 1].words.back().text;
    if (ends_with_hyphen(utf32_of(before))) place.other_half = form_of(before).core;
  }
}

// The languages that a word can be of by its letters: an English word in a Russian line is not
// unknown for being in no Russian dictionary.
std::vector<std::string> of_its_script(const std::vector<std::string>& languages,
                                       const Word& word) {
  std::string script;
  for (const char32_t c : decode_utf8(word.text))
    if (is_letter(c) && script.empty()) script = script_of(c);
  if (script.empty()) return languages;
  std::vector<std::string> fitting;
  for (const std::string& language : languages) {
    const std::string own = script_of_language(language);
    if (own.empty() || own == script) fitting.push_back(language);
  }
  return fitting;
}

}  // namespace

Surroundings::Surroundings(const std::vector<const Page*>& pages,
                           const std::vector<std::string>& languages)
    : told_(!languages.empty()), main_(told_ ? languages : burnisher::languages_of(pages)) {}

std::vector<std::string> Surroundings::languages_of(const Line& line) const {
  if (told_ || line.language.empty()) return main_;
  std::vector<std::string> languages = {line.language};
  for (const std::string& language : main_) {
    if (language != line.language) languages.push_back(language);
  }
  return languages;
}

void Surroundings::each(const Page& page,
                        const std::function<void(const Spot&, const Place&)>& visit) const {
  for (size_t b = 0; b < page.blocks.size(); ++b) {
    const Block& block = page.blocks[b];
    if (!looked_at(block)) continue;
    for (size_t l = 0; l < block.lines.size(); ++l) {
      const Line& line = block.lines[l];
      Place place;
      place.line_certainty = certainty_of(line);
      const std::vector<std::string> languages = languages_of(line);
      for (size_t w = 0; w < line.words.size(); ++w) {
        const Spot spot{b, l, w};
        place.word = &line.words[w];
        place.languages = of_its_script(languages, line.words[w]);
        place.sentence_start = w == 0 || ends_sentence(line.words[w - 1].text);
        place.other_half.clear();
        place.first_half = false;
        find_other_half(block, spot, place);
        visit(spot, place);
      }
    }
  }
}

}  // namespace burnisher::correct
