#include "score/faults.h"

#include <algorithm>
#include <optional>

#include "base/unicode.h"

namespace burnisher::score {
namespace {

struct Owned {
  std::string text;
  std::vector<size_t> word;  // of every character; a space belongs to the word before it
};

Owned owned_text(const std::vector<PlacedWord>& words) {
  Owned owned;
  for (size_t i = 0; i < words.size(); ++i) {
    const std::string text = to_nfc(words[i].text);
    if (text.empty()) continue;
    if (!owned.text.empty()) {
      owned.text += ' ';
      owned.word.push_back(owned.word.back());
    }
    owned.text += text;
    owned.word.insert(owned.word.end(), decode_utf8(text).size(), i);
  }
  return owned;
}

// The owner of the character at `at`, or of the nearest one.
std::optional<size_t> owner(const Owned& owned, size_t at) {
  if (owned.word.empty()) return std::nullopt;
  return owned.word[std::min(at, owned.word.size() - 1)];
}

}  // namespace

Faults faults_in(const Document& read, const Document& truth) {
  const Owned read_owned = owned_text(read.words), true_owned = owned_text(truth.words);
  Faults faults;
  if (read_owned.word.empty() && true_owned.word.empty()) return faults;
  const bool by_truth = !true_owned.word.empty();
  size_t at_read = 0, at_truth = 0;
  for (const Confusion& pair : aligned(read_owned.word.empty() ? read.text : read_owned.text,
                                       by_truth ? true_owned.text : truth.text)) {
    const bool wrong = pair.truth != pair.read;
    const auto reader = owner(read_owned, at_read);
    const auto holder = by_truth ? owner(true_owned, at_truth) : reader;
    if (holder) {
      auto& kind = faults.kinds[(by_truth ? truth : read).words[*holder].kind];
      kind.characters += pair.truth != 0;
      kind.errors += wrong;
    }
    if (wrong && reader) {
      auto& words = faults.words[pair];
      if (words.empty() || words.back() != *reader) words.push_back(*reader);
    }
    at_read += pair.read != 0;
    at_truth += pair.truth != 0;
  }
  return faults;
}

}  // namespace burnisher::score
