#include "train/page_texts.h"

#include <algorithm>

#include "base/error.h"

namespace burnisher::train {

PageTexts::PageTexts(const std::string& folder, bool held,
                     const std::vector<std::string>& scripts) {
  for (const recognise::Script& script : recognise::scripts()) {
    const bool asked =
        scripts.empty() || std::find(scripts.begin(), scripts.end(), script.code) != scripts.end();
    const std::vector<std::string> tags = TextSource::languages_in(folder, script.code);
    if (!asked || tags.empty()) continue;
    const recognise::Alphabet alphabet(script.characters());
    if (script.code == "Latn")
      sources_.push_back(std::make_unique<TextSource>(folder, alphabet, held));
    for (const std::string& tag : tags)
      sources_.push_back(std::make_unique<TextSource>(folder, alphabet, held, tag, script.code));
  }
  if (sources_.empty())
    throw InputError(folder + ": no LANG.running.txt in it; scripts/training-corpus writes them");
}

std::vector<compose::PageText> PageTexts::pages() const {
  std::vector<compose::PageText> all;
  for (const auto& source : sources_) {
    const auto words = [text = source.get()](int longest, Random& random) {
      return text->draw(longest, false, random);
    };
    all.push_back({words, source->script().code, source->script().right_to_left});
  }
  return all;
}

}  // namespace burnisher::train
