#include "run/person_pages.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <string>
#include <vector>

#include "correct/word_change.h"

namespace burnisher::run {
namespace {

constexpr double kSamePlace = 2;  // pixels: editors round, and write boxes anew

std::vector<const Line*> lines_of(const Page& page) {
  std::vector<const Line*> lines;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) lines.push_back(&line);
  }
  return lines;
}

bool near(const Point& a, const Point& b) {
  return std::fabs(a.x - b.x) <= kSamePlace && std::fabs(a.y - b.y) <= kSamePlace;
}

bool same_place(const Line& a, const Line& b) {
  if (a.baseline.empty() || b.baseline.empty()) return false;
  return near(a.baseline.front(), b.baseline.front()) && near(a.baseline.back(), b.baseline.back());
}

// Programs that know nothing of how it was read leave the words without it.
bool typed_by_another(const Word& word) {
  return word.network_confidence <= 0 && word.readings.empty();
}

// The words that `said` has, over the width of those that were there.
void type_anew(Line& line) {
  Word whole = line.words.front();
  for (const Word& word : line.words) whole.box = united(whole.box, word.box);
  whole.glyphs.clear();
  line.words = {std::move(whole)};
  correct::replace_word(line, 0, line.said, CorrectedBy::kNobody);
  for (Word& word : line.words) {
    word.network_confidence = 0;
    word.readings.clear();
    word.before.clear();
    word.corrected = CorrectedBy::kNobody;
  }
  line.said.clear();
}

void mark_persons_words(const Line& ours, Line& line) {
  // Words are compared in order: what was put in or taken out shifts the rest.
  const size_t common = std::min(ours.words.size(), line.words.size());
  size_t same_before = 0;
  while (same_before < common && ours.words[same_before].text == line.words[same_before].text)
    ++same_before;
  size_t same_behind = 0;
  while (same_behind < common - same_before &&
         ours.words[ours.words.size() - 1 - same_behind].text ==
             line.words[line.words.size() - 1 - same_behind].text)
    ++same_behind;
  for (size_t i = 0; i < line.words.size(); ++i) {
    Word& word = line.words[i];
    const bool same = i < same_before || i >= line.words.size() - same_behind;
    if (word.corrected != CorrectedBy::kNobody) continue;
    if (same) {
      const size_t k = i < same_before ? i : ours.words.size() - (line.words.size() - i);
      if (typed_by_another(word)) word = ours.words[k];
      continue;
    }
    word.corrected = CorrectedBy::kPerson;
    word.before = i < ours.words.size() ? ours.words[i].text : "";
    word.reasons = 0;
    word.confidence = 1;
  }
}

}  // namespace

void take_persons_word(const Page& ours, Page& changed) {
  const std::vector<const Line*> lines = lines_of(ours);
  std::set<std::string> said;
  for (const Line* line : lines) said.insert(line->text());
  for (Block& block : changed.blocks) {
    for (Line& line : block.lines) {
      if (line.words.empty()) continue;
      const auto own = std::find_if(lines.begin(), lines.end(),
                                    [&](const Line* one) { return same_place(*one, line); });
      if (own != lines.end()) {
        // A line that was typed anew as a whole: its words are those of before.
        if (!line.said.empty() && line.said != (*own)->text()) type_anew(line);
        mark_persons_words(**own, line);
      } else if (said.count(line.text()) > 0) {
        line.words.clear();
      } else {
        for (Word& word : line.words) {
          word.corrected = CorrectedBy::kPerson;
          word.reasons = 0;
          word.confidence = 1;
        }
      }
    }
  }
}

}  // namespace burnisher::run
