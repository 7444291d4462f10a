// The document's own words: what occurs in it again and again, clearly read, is no error there,
// whatever dictionaries say.
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

#include "page/page.h"

namespace burnisher::correct {

class DocumentWords {
 public:
  void add(const Page& page);

  // How often the word (without the punctuation round it) was read clearly, or told by a person.
  int count(const std::string& core) const;
  // Often enough to be a word of the document, though this reading of it were one of them.
  bool knows(const std::string& core) const;

 private:
  std::unordered_map<std::string, int> counts_;
};

}  // namespace burnisher::correct
