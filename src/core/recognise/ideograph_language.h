// Chinese in simplified or in traditional characters, or Japanese: told from the characters, which
// need no spelling for it.
#pragma once

#include <string>
#include <vector>

namespace burnisher::recognise {

// "ja" where there are kana among the ideographs, else "zh-Hans" or "zh-Hant", whichever standard
// (GB 2312, Big5) lists more of them; "" without ideographs, or where both list the same.
std::string language_of_ideographs(const std::vector<std::string>& texts);

}  // namespace burnisher::recognise
