#include "recognise/ideographs.h"

#include <unicode/ucnv.h>

#include <set>

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr char32_t kFirstIdeograph = 0x4E00, kLastIdeograph = 0x9FFF;
constexpr char32_t kFirstSyllable = 0xAC00, kLastSyllable = 0xD7A3;

struct Rows {
  const char* encoding;  // as ICU names it
  unsigned first, last;  // leading bytes
  char32_t from, to;     // what is taken of them
};

// What two-byte characters of these rows stand for.
std::vector<char32_t> characters_of(const Rows& rows) {
  UErrorCode status = U_ZERO_ERROR;
  UConverter* const converter = ucnv_open(rows.encoding, &status);
  if (U_FAILURE(status))
    throw SettingsError(std::string("ICU does not know the encoding ") + rows.encoding);
  ucnv_setToUCallBack(converter, UCNV_TO_U_CALLBACK_STOP, nullptr, nullptr, nullptr, &status);
  std::vector<char32_t> found;
  for (unsigned lead = rows.first; lead <= rows.last; ++lead) {
    for (unsigned trail = 0x40; trail <= 0xFE; ++trail) {
      const char bytes[2] = {static_cast<char>(lead), static_cast<char>(trail)};
      const char* at = bytes;
      UErrorCode result = U_ZERO_ERROR;
      ucnv_resetToUnicode(converter);
      const UChar32 c = ucnv_getNextUChar(converter, &at, bytes + 2, &result);
      const auto character = static_cast<char32_t>(c);
      if (U_SUCCESS(result) && at == bytes + 2 && character >= rows.from && character <= rows.to)
        found.push_back(character);
    }
  }
  ucnv_close(converter);
  return found;
}

const Rows kSimplified{"GB2312", 0xB0, 0xF7, kFirstIdeograph, kLastIdeograph};
const Rows kTraditional{"Big5", 0xA4, 0xC6, kFirstIdeograph, kLastIdeograph};
const Rows kJapanese{"EUC-JP", 0xB0, 0xF4, kFirstIdeograph, kLastIdeograph};
const Rows kKana{"EUC-JP", 0xA4, 0xA5, 0x3041, 0x30FE};
const Rows kHanja{"EUC-KR", 0xCA, 0xFD, kFirstIdeograph, kLastIdeograph};
const Rows kSyllables{"EUC-KR", 0xB0, 0xC8, kFirstSyllable, kLastSyllable};

const char* const kAscii =
    " !\"#$%&'()*+,-./0123456789:;<=>?@ABCDEFGHIJKLMNOPQRSTUVWXYZ[\\]^_`"
    "abcdefghijklmnopqrstuvwxyz{|}~";
// Accented letters are those of pinyin and of romanised Japanese.
const char* const kSigns =
    "‘’“”–—…‥•†‡§°·©®€£¥±×÷√∞∴∵≒≠≦≧≤≥≪≫∠⊥∑∫α β γ μ π Ω ′″※〒〓→←↑↓⇒⇔〆々〇〃ー・ゝゞヽヾ゛゜"
    "、。〈〉《》「」『』【】〔〕〖〗〜～①②③④⑤⑥⑦⑧⑨⑩⑪⑫⑬⑭⑮⑯⑰⑱⑲⑳ⅠⅡⅢⅣⅤⅥⅦⅧⅨⅩⅪⅫⅰⅱⅲⅳⅴⅵⅶⅷⅸⅹ"
    "㈠㈡㈢㈣㈤㈱㎜㎝㎞㎎㎏㎡㎥℃℉‰№℡■□▲△▼▽◆◇○◎●★☆♀♂─│┌┐└┘├┤┬┴┼";
const char* const kAccented = "āáǎàēéěèīíǐìōóǒòūúǔùüâêîôûäöß";

// Each once, in the order they come.
std::string joined(const std::vector<std::vector<char32_t>>& lists) {
  std::set<char32_t> seen;
  std::vector<char32_t> all;
  for (const auto& list : lists) {
    for (const char32_t c : list)
      if (seen.insert(c).second) all.push_back(c);
  }
  return encode_utf8(all);
}

std::vector<char32_t> range(char32_t first, char32_t last) {
  std::vector<char32_t> all;
  for (char32_t c = first; c <= last; ++c) all.push_back(c);
  return all;
}

std::vector<char32_t> signs() {
  std::vector<char32_t> all = decode_utf8(std::string(kAscii) + kSigns);
  for (const char32_t c : range(0xFF01, 0xFF5E)) all.push_back(c);  // full width
  for (const char32_t c : decode_utf8("￥￠￡")) all.push_back(c);
  return all;
}

}  // namespace

std::string characters_of_language(const std::string& tag) {
  if (tag == "zh-Hans") return encode_utf8(characters_of(kSimplified));
  if (tag == "zh-Hant") return encode_utf8(characters_of(kTraditional));
  if (tag == "ja") return joined({characters_of(kJapanese), characters_of(kKana)});
  if (tag == "ko") return encode_utf8(characters_of(kSyllables));
  throw SettingsError("no standard lists the characters of the language '" + tag + "'");
}

std::string ideographic_characters() {
  return joined({signs(), decode_utf8(kAccented), characters_of(kKana), range(0x3105, 0x3129),
                 characters_of(kSimplified), characters_of(kTraditional), characters_of(kJapanese),
                 characters_of(kHanja)});
}

std::string korean_characters() {
  return joined({signs(), range(0x3131, 0x3163), range(kFirstSyllable, kLastSyllable)});
}

}  // namespace burnisher::recognise
