// One word that is sought, held against the words that were read.
#pragma once

#include <string>
#include <vector>

#include "correct/confusion_model.h"
#include "find/folding.h"

namespace burnisher::find {

// How a sought word is printed and what is read there: a noisy channel (Kernighan, Church and Gale
// 1990) whose costs are the recogniser's confusions.
class Channel {
 public:
  // `sought`: folded. `inside`: anything may stand before and behind it.
  Channel(const std::u32string& sought, const std::vector<correct::Confusion>& confusions,
          const Folding& folding, bool inside);

  // -ln of how likely the sought word is read as `read` (folded); infinite where it hardly is.
  double cost(const std::u32string& read) const;

 private:
  struct Change {
    size_t taken = 0;  // characters of the sought word
    std::u32string read;
    double cost = 0;
  };

  std::u32string sought_;
  std::vector<std::vector<Change>> changes_;  // by the place in the sought word
  double most_ = 0;                           // costs above this are infinite
  size_t most_shorter_ = 0, most_longer_ = 0;
  bool inside_;
};

// * stands for any number of characters, ? for one.
class Term {
 public:
  // `confusions` are looked at for near matching only. Throws SettingsError for a word that is
  // nothing but wildcards or blanks.
  Term(const std::string& word, const Folding& folding, bool inside, bool near,
       const std::vector<correct::Confusion>& confusions);

  // How likely what was read (folded, without signs round it) is this word: 1 where it says so, 0
  // where it is another, between them as misreadings go.
  double likelihood(const std::u32string& read) const;
  size_t letters() const { return text_.size(); }

 private:
  std::u32string text_;
  bool wild_ = false, inside_ = false;
  std::vector<Channel> channel_;  // one, or none
};

// Whether the text has the form of a pattern with * and ?.
bool matches_wildcards(const std::u32string& pattern, const std::u32string& text);

}  // namespace burnisher::find
