#include "correct/document_words.h"

#include "correct/forms.h"

namespace burnisher::correct {
namespace {

constexpr double kClear = 0.97;  // network confidence of words that a document vouches for
constexpr int kOftenEnough = 3;  // times, clearly seen: then it is a word of the document

}  // namespace

void DocumentWords::add(const Page& page) {
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        const Form form = form_of(word.text);
        if (!is_spelled(form.kind)) continue;
        if (word.corrected == CorrectedBy::kPerson)
          counts_[form.core] += kOftenEnough;
        else if (word.confidence >= kClear)
          ++counts_[form.core];
      }
    }
  }
}

int DocumentWords::count(const std::string& core) const {
  const auto found = counts_.find(core);
  return found == counts_.end() ? 0 : found->second;
}

bool DocumentWords::knows(const std::string& core) const {
  return count(core) >= kOftenEnough;
}

}  // namespace burnisher::correct
