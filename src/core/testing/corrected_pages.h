// Pages and lexica for tests of correcting: lines of words without pictures, a dictionary of a few
// words in a temporary folder.
#pragma once

#include <memory>

#include "base/files.h"
#include "correct/lexicon.h"
#include "correct/reading_habits.h"
#include "page/page.h"
#include "testing/printed_page.h"

namespace burnisher::testing {

inline Word word_of(const std::string& text, double confidence = 0.99,
                    std::vector<OtherReading> readings = {}) {
  Word word{text, {}, confidence, {}, confidence};
  word.readings = std::move(readings);
  return word;
}

// The words side by side; each ten pixels a letter wide, thirty high.
inline Line line_of(std::vector<Word> words, double y = 100, const std::string& language = "xx") {
  Line line;
  double x = 50;
  for (Word& word : words) {
    const double width = 10.0 * static_cast<double>(word.text.size());
    word.box = {x, y - 25, x + width, y + 5};
    x += width + 12;
  }
  line.words = std::move(words);
  line.x_height = 15;
  line.baseline = {{50, y}, {x, y}};
  line.box = {50, y - 25, x, y + 5};
  line.language = language;
  line.confidence = 0.95;
  return line;
}

inline Page page_of_lines(std::vector<Line> lines, const std::string& file = "log.png") {
  Page page;
  page.file = file;
  page.width = page.geometry.scan_width = 900;
  page.height = page.geometry.scan_height = 1200;
  Block block;
  block.outline = Box{40, 40, 860, 1100}.corners();
  block.lines = std::move(lines);
  page.blocks.push_back(block);
  return page;
}

// A dictionary of the language "xx".
class SmallDictionary {
 public:
  SmallDictionary() {
    write_file(folder_.file("xx_XX.aff"), "SET UTF-8\nSFX S Y 1\nSFX S 0 s .\n");
    write_file(folder_.file("xx_XX.dic"),
               "13\nlamp/S\nlit\nlight/S\nhouse/S\nthe\noil\nwas\ncomb\ncome\nmodern\nwick/S\n"
               "keeper/S\nburned\n");
  }
  std::unique_ptr<correct::Lexicon> open() const {
    return std::make_unique<correct::Lexicon>(std::vector<std::string>{folder_.path()});
  }
  const std::string& path() const { return folder_.path(); }

 private:
  TemporaryFolder folder_;
};

// Unknown and unsure words are doubtful, others are not.
inline correct::ReadingHabits plain_habits() {
  correct::ReadingHabits habits;
  habits.weights[0] = -1;
  habits.weights[1] = 0.6;  // the less confident
  habits.weights[3] = 5;    // unknown
  habits.weights[5] = 4;    // odd
  habits.limit = 0.5;
  habits.misreadings = {{U"m", U"rn", 3}, {U"l", U"1", 3}};
  return habits;
}

}  // namespace burnisher::testing
