#include "recognise/ideograph_language.h"

#include <set>

#include "base/unicode.h"
#include "recognise/ideographs.h"

namespace burnisher::recognise {
namespace {

constexpr double kKana = 0.1;  // of the ideographs; Chinese names a Japanese product now and then

std::set<char32_t> standard(const char* tag) {
  const std::vector<char32_t> all = decode_utf8(characters_of_language(tag));
  return {all.begin(), all.end()};
}

bool is_kana(char32_t c) {
  return c >= 0x3041 && c <= 0x30FA;
}

}  // namespace

std::string language_of_ideographs(const std::vector<std::string>& texts) {
  static const std::set<char32_t> simplified = standard("zh-Hans"),
                                  traditional = standard("zh-Hant");
  double kana = 0, ideographs = 0;
  int only_simplified = 0, only_traditional = 0;
  for (const std::string& text : texts) {
    for (const char32_t c : decode_utf8(text)) {
      kana += is_kana(c);
      if (c < 0x4E00 || c > 0x9FFF) continue;
      ++ideographs;
      const bool first = simplified.count(c) > 0, second = traditional.count(c) > 0;
      only_simplified += first && !second;
      only_traditional += second && !first;
    }
  }
  if (kana > kKana * ideographs) return "ja";
  return only_simplified > only_traditional   ? "zh-Hans"
         : only_traditional > only_simplified ? "zh-Hant"
                                              : "";
}

}  // namespace burnisher::recognise
