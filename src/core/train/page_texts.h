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
  // `held`: of the texts, the part kept for validation; `scripts`: ISO 15924 codes of those wanted,
  // none: every one that `folder` has texts of. Throws InputError.
  PageTexts(const std::string& folder, bool held, const std::vector<std::string>& scripts = {});
  // They refer to this object.
  std::vector<compose::PageText> pages() const;

 private:
  std::vector<std::unique_ptr<const TextSource>> sources_;
};

}  // namespace burnisher::train
