#include "correct/word_change.h"

#include <sstream>

#include "base/unicode.h"

namespace burnisher::correct {

void take_back_repairs(Page& page) {
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      for (size_t w = 0; w < line.words.size(); ++w) {
        Word& word = line.words[w];
        if (word.corrected != CorrectedBy::kRepair || word.before.empty()) continue;
        // The other words that came of it have nothing before them.
        while (w + 1 < line.words.size() && line.words[w + 1].before.empty() &&
               line.words[w + 1].corrected == CorrectedBy::kRepair) {
          word.box = united(word.box, line.words[w + 1].box);
          line.words.erase(line.words.begin() + static_cast<long>(w) + 1);
        }
        word.text = word.before;
        word.before.clear();
        word.corrected = CorrectedBy::kNobody;
      }
    }
  }
}

void replace_word(Line& line, size_t index, const std::string& text, CorrectedBy by) {
  const Word old = line.words[index];
  const std::string before = old.corrected == CorrectedBy::kNobody ? old.text : old.before;
  std::istringstream stream(text);
  std::vector<std::string> parts;
  size_t letters = 0;
  for (std::string part; stream >> part;) {
    parts.push_back(to_nfc(part));
    letters += decode_utf8(parts.back()).size() + 1;
  }
  std::vector<Word> words;
  double at = 0;
  for (size_t i = 0; i < parts.size(); ++i) {
    const auto length = static_cast<double>(decode_utf8(parts[i]).size());
    const double whole = static_cast<double>(letters - 1), width = old.box.width();
    Word word;
    word.text = parts[i];
    word.box = {old.box.x0 + width * at / whole, old.box.y0,
                old.box.x0 + width * (at + length) / whole, old.box.y1};
    word.confidence = by == CorrectedBy::kPerson ? 1 : old.confidence;
    word.network_confidence = old.network_confidence;
    word.small_capitals = old.small_capitals;
    if (i == 0) word.readings = old.readings;
    word.corrected = by;
    // The first of several stands for what was read; the others for nothing.
    word.before = i == 0 ? before : "";
    if (parts[i] == old.text) word.glyphs = old.glyphs;
    words.push_back(word);
    at += length + 1;
  }
  const auto place = line.words.erase(line.words.begin() + static_cast<long>(index));
  line.words.insert(place, words.begin(), words.end());
}

}  // namespace burnisher::correct
