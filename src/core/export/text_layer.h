// The invisible text of a PDF page: one text object for each line, each word stretched to its box,
// real spaces between, the codes of the characters numbered as they occur in the document.
#pragma once

#include <map>
#include <string>

#include "page/page.h"

namespace burnisher::exporting {

// Characters get codes 1, 2, 3... in the order they are first used.
class CharacterCodes {
 public:
  int code_of(char32_t character);
  const std::map<int, char32_t>& characters() const { return by_code_; }
  // The ToUnicode CMap (Adobe Technical Note 5411).
  std::string to_unicode() const;

 private:
  std::map<char32_t, int> codes_;
  std::map<int, char32_t> by_code_;
};

// PDF operators that place all words of the page; positions in points from the lower left corner.
std::string text_layer(const Page& page, CharacterCodes& codes);

}  // namespace burnisher::exporting
