#include "train/page_texts.h"

namespace burnisher::train {

PageTexts::PageTexts(const std::string& folder, bool held) {
  const recognise::Alphabet alphabet(recognise::latin_characters());
  sources_.push_back(std::make_unique<TextSource>(folder, alphabet, held));
  for (const std::string& tag : TextSource::languages_in(folder))
    sources_.push_back(std::make_unique<TextSource>(folder, alphabet, held, tag));
}

std::vector<compose::TextSupply> PageTexts::supplies() const {
  std::vector<compose::TextSupply> all;
  for (const auto& source : sources_) {
    all.emplace_back([text = source.get()](int longest, Random& random) {
      return text->draw(longest, false, random);
    });
  }
  return all;
}

}  // namespace burnisher::train
