#include "recognise/foreign_words.h"

#include <algorithm>

#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr double kClear = 0.93;        // mean confidence of a word that is what it seems
constexpr size_t kFewestLetters = 2;   // of a word that shows a script
constexpr double kSamePlace = 0.3;     // of the narrower of two words' widths, that they share
constexpr double kEnough = 0.06;       // gain in likelihood
constexpr double kSure = 0.25;         // that there are such words on a page, in one of
constexpr size_t kFewestOfSure = 4;    // letters
constexpr double kEnoughBeside = 0.0;  // beside a word that was taken: one phrase

struct Group {
  std::vector<Word> own, others;
  double gain = 0;
  bool taken = false;
};

// Words of both lines that stand in one place, from left to right.
std::vector<Group> groups_of(const Line& line, const Line& other) {
  struct Item {
    const Word* word;
    bool own;
  };
  std::vector<Item> items;
  for (const Word& word : line.words) items.push_back({&word, true});
  for (const Word& word : other.words) items.push_back({&word, false});
  std::stable_sort(items.begin(), items.end(),
                   [](const Item& a, const Item& b) { return a.word->box.x0 < b.word->box.x0; });
  std::vector<Group> groups;
  double end = -1e18, before = 0;
  for (const Item& item : items) {
    const Box& box = item.word->box;
    const double shared = end - box.x0, least = std::min(before, box.width());
    if (groups.empty() || shared < kSamePlace * least) {
      groups.emplace_back();
      end = box.x1;
    }
    end = std::max(end, box.x1);
    before = box.width();
    (item.own ? groups.back().own : groups.back().others).push_back(*item.word);
  }
  return groups;
}

// Letters of the words if most are of the script; else none.
size_t letters_of(const std::string& script, const std::vector<Word>& words) {
  size_t own = 0, all = 0;
  for (const Word& word : words) {
    for (const char32_t c : decode_utf8(word.text)) {
      own += is_letter(c) && script_of(c) == script;
      all += is_letter(c);
    }
  }
  return 2 * own > all ? own : 0;
}

bool from_right(const Word& word) {
  return runs_right_to_left(decode_utf8(word.text));
}

// Words that run from the right follow each other from the right.
void turn_runs(std::vector<Word>& words) {
  for (auto at = words.begin(); at != words.end();) {
    const auto end = std::find_if_not(at, words.end(), from_right);
    std::reverse(at, end);
    at = end == words.end() ? end : end + 1;
  }
}

}  // namespace

std::vector<size_t> foreign_scripts(const LineReading& reading, size_t told,
                                    const std::vector<size_t>& own) {
  std::vector<bool> found(told, false);
  const auto& characters = reading.characters;
  for (size_t at = 0; at < characters.size();) {
    size_t end = at, letters = 0;
    double confidence = 0;
    for (; end < characters.size() && characters[end].character != U' '; ++end) {
      letters += is_letter(characters[end].character);
      confidence += characters[end].confidence;
    }
    if (letters >= kFewestLetters && confidence < kClear * static_cast<double>(end - at)) {
      std::vector<double> sums(told, 0);
      for (int f = characters[at].first_frame; f <= characters[end - 1].last_frame; ++f) {
        for (size_t s = 0; s < told; ++s)
          sums[s] += reading.script_frames[static_cast<size_t>(f) * told + s];
      }
      found[static_cast<size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin())] = true;
    }
    at = end + 1;
  }
  std::vector<size_t> scripts;
  for (size_t s = 0; s < told; ++s) {
    if (found[s] && std::find(own.begin(), own.end(), s) == own.end()) scripts.push_back(s);
  }
  return scripts;
}

bool take_words(const Line& other, const WordGain& gain, Line& line) {
  std::vector<Group> groups = groups_of(line, other);
  bool any = false, sure = false;
  for (Group& group : groups) {
    const size_t letters = letters_of(other.script, group.others);
    if (group.own.empty() || letters == 0) continue;
    group.gain = gain(group.own, group.others);
    group.taken = group.gain > kEnough;
    any = any || group.taken;
    sure = sure || (letters >= kFewestOfSure && group.gain > kSure);
  }
  if (!any) return false;
  for (size_t i = 0; i < groups.size(); ++i) {
    const bool beside =
        (i > 0 && groups[i - 1].taken) || (i + 1 < groups.size() && groups[i + 1].gain > kEnough);
    const bool both = !groups[i].own.empty() && letters_of(other.script, groups[i].others) > 0;
    groups[i].taken = groups[i].taken || (both && beside && groups[i].gain > kEnoughBeside);
  }
  line.words.clear();
  for (Group& group : groups) {
    std::vector<Word>& words = group.taken ? group.others : group.own;
    if (group.own.empty()) continue;  // what only the other reader saw
    line.words.insert(line.words.end(), words.begin(), words.end());
  }
  turn_runs(line.words);
  return sure;
}

}  // namespace burnisher::recognise
