// A dictionary of a few words in a temporary folder, and what a reader mixes up.
#pragma once

#include <memory>

#include "base/files.h"
#include "correct/confusion_model.h"
#include "correct/lexicon.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::testing {

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
inline correct::ConfusionModel plain_confusion_model() {
  correct::ConfusionModel confusion_model;
  confusion_model.weights[0] = -1;
  confusion_model.weights[1] = 0.6;  // the less confident
  confusion_model.weights[3] = 5;    // unknown
  confusion_model.weights[5] = 4;    // odd
  confusion_model.limit = 0.5;
  confusion_model.confusions = {{U"m", U"rn", 3}, {U"l", U"1", 3}};
  return confusion_model;
}

}  // namespace burnisher::testing
