// A language's habits of spelling: how likely a character is after those before it.
// Character n-grams with backoff (Katz 1987; absolute discounting: Ney, Essen and Kneser 1994),
// kept as a tree of contexts. Letters are folded to lower case, digits to one digit and quotes and
// dashes to one kind each, so that the model has no score of which digit or which case it is.
//
// File layout (little-endian), for `burnisher train --language-model` writes and this reads it:
//   8 bytes   "glyphseq"
//   u8 order, u8 count of symbols, u16 length of the language's tag, the tag in ASCII
//   u32 x symbols            the folded characters; the symbol of an entry is its place here
//   u32 x order              entries of each level: level k has sequences of k symbols
//   per level, sorted by their sequences:
//     u8 x entries           the last symbol
//     u8 x entries           -16 ln p of it after the others
//     u8 x entries           -16 ln of the weight for falling back, plus 64 (not the last level)
//     u8 x entries           how many entries of the next level go on from it (not the last level)
// Texts are learnt and scored in printed order (base/printed_order.h), as they are read.
#pragma once

#include <cstdint>
#include <string>
#include <unordered_map>
#include <vector>

namespace burnisher::recognise {

// The form in which language models know a character.
char32_t folded(char32_t character);

constexpr char kLanguageModelMark[] = "glyphseq";
constexpr double kLogStep = 1.0 / 16;  // of stored logarithms
constexpr int kBackoffOffset = 64;     // weights may be above 1

class LanguageModel {
 public:
  // A context: what was read before, as far as the model tells it apart.
  using Context = uint32_t;

  // `longest`: sequences of more characters are left out. Throws InputError/FormatError naming the
  // file.
  explicit LanguageModel(const std::string& path, int longest = 255);

  const std::string& tag() const { return tag_; }
  // The symbol of a character, -1 when the language does not use it.
  int symbol_of(char32_t character) const;
  // The context at the start of a word.
  Context start() const { return start_; }
  // ln p(symbol | context), and the context after it. `symbol` may be -1: a fixed low probability,
  // and all that was before is forgotten.
  float step(Context context, int symbol, Context& next) const;

 private:
  Context child(Context node, int symbol) const;  // kNone when there is none
  void link_contexts();

  std::string tag_;
  std::unordered_map<char32_t, int> symbols_;
  // Nodes by level; node 0 is the empty context. The last level's nodes are never contexts.
  std::vector<uint8_t> symbol_;
  std::vector<float> log_probability_;
  std::vector<float> backoff_;
  std::vector<uint32_t> children_;  // first child; one more than contexts
  std::vector<Context> shorter_;    // the context without its first symbol
  uint32_t contexts_ = 0;           // nodes that can be contexts
  Context start_ = 0;
};

}  // namespace burnisher::recognise
