// The characters that Chinese, Japanese and Korean are printed in, from the national standards that
// list them.
#pragma once

#include <string>
#include <vector>

namespace burnisher::recognise {

// A standard's ideographs or syllables, UTF-8, in its own order.
//   "zh-Hans"  GB 2312-1980, both levels
//   "zh-Hant"  Big5 (1984), first level
//   "ja"       JIS X 0208-1990, both levels, with the kana
//   "ko"       KS X 1001-1992: syllables
// Throws SettingsError for any other tag.
std::string characters_of_language(const std::string& tag);

// Everything a network for Chinese and Japanese tells apart: the ideographs of these standards and
// of KS X 1001, kana, bopomofo, their punctuation and signs, full-width letters and figures.
std::string ideographic_characters();
// The 11,172 syllables of modern Korean, its single letters, and the same signs.
std::string korean_characters();

}  // namespace burnisher::recognise
