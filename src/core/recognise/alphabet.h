// The classes a recogniser tells apart: class 0 is "nothing" (the CTC blank), every other class is
// one Unicode character. The list is stored in the model file, so a model keeps its own alphabet.
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

namespace burnisher::recognise {

class Alphabet {
 public:
  Alphabet() = default;
  // `characters`: UTF-8, each character once, in class order from class 1 on.
  explicit Alphabet(const std::string& characters);

  int class_count() const { return static_cast<int>(characters_.size()) + 1; }
  char32_t character(int klass) const { return characters_[static_cast<size_t>(klass - 1)]; }
  // 0 when the alphabet does not have it.
  int class_of(char32_t character) const;
  std::string utf8() const;

 private:
  std::vector<char32_t> characters_;
  std::unordered_map<char32_t, int> classes_;
};

// Every letter of the Latin-script languages of Europe, digits, punctuation and common signs.
const std::string& latin_characters();

}  // namespace burnisher::recognise
