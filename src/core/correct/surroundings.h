// The words of a document in reading order, each with what stands round it.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "correct/word_analysis.h"

namespace burnisher::correct {

// Where a word is, by places in its page's blocks and so on.
struct Spot {
  size_t block = 0, line = 0, word = 0;
};

class Surroundings {
 public:
  // `languages`: of the text; empty: those of the lines. Noise, page numbers and drop capitals are
  // passed over.
  Surroundings(const std::vector<const Page*>& pages, const std::vector<std::string>& languages);

  void each(const Page& page, const std::function<void(const Spot&, const Place&)>& visit) const;

 private:
  std::vector<std::string> languages_of(const Line& line) const;

  bool told_;  // the languages were given
  std::vector<std::string> main_;
};

}  // namespace burnisher::correct
