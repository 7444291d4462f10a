// The texts that pages are composed of: one language to a page, as on real ones, and now and then a
// mixture of everything lines are learnt from.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "compose/sheet.h"
#include "train/text_source.h"

namespace burnisher::train {

class PageTexts {
 public:
  // `held`: of the texts, the part kept for validation. Throws InputError.
  PageTexts(const std::string& folder, bool held);
  // They refer to this object.
  std::vector<compose::TextSupply> supplies() const;

 private:
  std::vector<std::unique_ptr<const TextSource>> sources_;
};

}  // namespace burnisher::train
