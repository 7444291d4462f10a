#include "find/folding.h"

#include <unicode/normalizer2.h>
#include <unicode/uchar.h>

#include <map>

#include "base/unicode.h"

namespace burnisher::find {
namespace {

// Marks that a letter can stand without. Indic vowel signs are not among them.
bool is_accent(char32_t c) {
  return (c >= 0x0300 && c <= 0x036F) || (c >= 0x0483 && c <= 0x0487) ||
         (c >= 0x0591 && c <= 0x05C7 && c != 0x05BE && c != 0x05C0 && c != 0x05C3) ||
         (c >= 0x0610 && c <= 0x061A) || (c >= 0x064B && c <= 0x065F) || c == 0x0670 ||
         (c >= 0x06D6 && c <= 0x06ED &&
          u_charType(static_cast<UChar32>(c)) == U_NON_SPACING_MARK) ||
         (c >= 0x1DC0 && c <= 0x1DFF) || (c >= 0x20D0 && c <= 0x20FF);
}

// Letters with a stroke through them, which Unicode does not take apart.
const std::map<char32_t, const char32_t*>& stroked() {
  static const std::map<char32_t, const char32_t*> letters = {
      {U'ø', U"o"}, {U'Ø', U"O"}, {U'ł', U"l"}, {U'Ł', U"L"}, {U'đ', U"d"}, {U'Đ', U"D"},
      {U'ħ', U"h"}, {U'Ħ', U"H"}, {U'ı', U"i"}, {U'ŧ', U"t"}, {U'Ŧ', U"T"}};
  return letters;
}

const std::map<char32_t, const char32_t*>& spellings() {
  static const std::map<char32_t, const char32_t*> letters = {
      // Latin print of before 1800, ligatures.
      {U'ſ', U"s"},
      {U'v', U"u"},
      {U'V', U"U"},
      {U'j', U"i"},
      {U'J', U"I"},
      {U'ß', U"ss"},
      {U'ẞ', U"SS"},
      {U'æ', U"ae"},
      {U'Æ', U"AE"},
      {U'œ', U"oe"},
      {U'Œ', U"OE"},
      {U'ĳ', U"ii"},
      {U'ﬀ', U"ff"},
      {U'ﬁ', U"fi"},
      {U'ﬂ', U"fl"},
      {U'ﬃ', U"ffi"},
      {U'ﬄ', U"ffl"},
      {U'ﬅ', U"st"},
      {U'ﬆ', U"st"},
      {U'ꝛ', U"r"},
      {U'⸗', U""},
      {U'-', U""},
      // Arabic script.
      {U'أ', U"ا"},
      {U'إ', U"ا"},
      {U'آ', U"ا"},
      {U'ٱ', U"ا"},
      {U'ى', U"ي"},
      {U'ی', U"ي"},
      {U'ئ', U"ي"},
      {U'ؤ', U"و"},
      {U'ک', U"ك"},
      {U'ڭ', U"ك"},
      {U'ة', U"ه"},
      {U'ۀ', U"ه"},
      {U'ہ', U"ه"},
      {U'ھ', U"ه"},
      {U'ۃ', U"ه"},
      {U'ـ', U""},
      {U'\u200C', U""},
      {U'\u200D', U""},
      // Hebrew.
      {U'ך', U"כ"},
      {U'ם', U"מ"},
      {U'ן', U"נ"},
      {U'ף', U"פ"},
      {U'ץ', U"צ"},
      {U'־', U""},
      // Greek.
      {U'ς', U"σ"},
      {U'ϐ', U"β"},
      {U'ϑ', U"θ"},
      {U'ϕ', U"φ"},
      {U'ϰ', U"κ"},
      {U'ϱ', U"ρ"},
      // Cyrillic.
      {U'ѣ', U"е"},
      {U'Ѣ', U"Е"},
      {U'і', U"и"},
      {U'І', U"И"},
      {U'ѳ', U"ф"},
      {U'Ѳ', U"Ф"},
      {U'ѵ', U"и"},
      {U'Ѵ', U"И"},
      {U'ё', U"е"},
      {U'Ё', U"Е"},
      {U'ъ', U""},
      {U'Ъ', U""},
      // Devanagari: the dot below.
      {U'\u093C', U""}};
  return letters;
}

// Always: what looks the same to who types it.
char32_t plain_sign(char32_t c) {
  switch (c) {
    case U'’':
    case U'‘':
    case U'ʼ':
    case U'′':
    case U'´':
    case U'`':
      return U'\'';
    case U'“':
    case U'”':
    case U'„':
    case U'″':
      return U'"';
    case U'‐':
    case U'‑':
    case U'‒':
    case U'–':
    case U'—':
    case U'−':
      return U'-';
    case U'\u00A0':
    case U'\u202F':
    case U'\u2009':
      return U' ';
    default:
      return c;
  }
}

}  // namespace

Folder::Folder(const Folding& folding) : folding_(folding) {
  for (char32_t c = 0; c < 0x80; ++c) {
    const std::u32string one = worked_out(c);
    plain_[c] = one.size() == 1 ? one.front() : 0;
  }
}

std::u32string Folder::worked_out(char32_t character) const {
  if (character == U'\u00AD' || character == U'\u200B' || character == U'\u200E' ||
      character == U'\u200F' || character == U'\uFEFF')
    return {};
  const char32_t c = plain_sign(character);
  std::u32string letters(1, c);
  if (folding_.ignore_spelling) {
    if (u_isdigit(static_cast<UChar32>(c)))
      letters = std::u32string(
          1, U'0' + static_cast<char32_t>(u_charDigitValue(static_cast<UChar32>(c))));
    const auto found = spellings().find(c);
    if (found != spellings().end()) letters = found->second;
  }
  if (folding_.ignore_accents) {
    std::u32string bare;
    for (const char32_t one : letters) {
      const auto found = stroked().find(one);
      if (found != stroked().end()) {
        bare += found->second;
        continue;
      }
      UErrorCode status = U_ZERO_ERROR;
      icu::UnicodeString parts;
      const icu::Normalizer2* nfd = icu::Normalizer2::getNFDInstance(status);
      if (U_FAILURE(status) || !nfd->getDecomposition(static_cast<UChar32>(one), parts)) {
        if (!is_accent(one)) bare += one;
        continue;
      }
      for (int32_t i = 0; i < parts.length(); i = parts.moveIndex32(i, 1)) {
        const auto part = static_cast<char32_t>(parts.char32At(i));
        if (!is_accent(part)) bare += part;
      }
    }
    // Letters that only their accent told apart from those that spelling joins.
    letters.clear();
    for (const char32_t one : bare) {
      const auto found = folding_.ignore_spelling ? spellings().find(one) : spellings().end();
      if (found != spellings().end())
        letters += found->second;
      else
        letters += one;
    }
  }
  if (folding_.ignore_case)
    for (char32_t& one : letters)
      one = static_cast<char32_t>(u_foldCase(static_cast<UChar32>(one), U_FOLD_CASE_DEFAULT));
  return letters;
}

const std::u32string& Folder::folded(char32_t character) {
  if (character >= 0x3000) return other_ = worked_out(character);
  if (!known_[character]) {
    table_[character] = worked_out(character);
    known_[character] = true;
  }
  return table_[character];
}

void Folder::append(char32_t character, std::u32string& to) {
  to += folded(character);
}

std::u32string Folder::folded(std::string_view text) {
  std::u32string result;
  result.reserve(text.size());
  bool ascii = true;
  for (const char c : text) ascii = ascii && static_cast<unsigned char>(c) < 0x80;
  if (!ascii) {
    for (const char32_t c : decode_utf8(text)) result += folded(c);
    return result;
  }
  for (const char c : text) {
    const char32_t plain = plain_[static_cast<size_t>(c)];
    if (plain != 0)
      result += plain;
    else
      result += folded(static_cast<char32_t>(c));
  }
  return result;
}

bool in_word(char32_t c) {
  if (c < 0x80) return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z');
  const auto character = static_cast<UChar32>(c);
  return u_isalnum(character) || (U_GET_GC_MASK(character) & U_GC_M_MASK) != 0;
}

std::pair<size_t, size_t> core_of(const std::u32string& word) {
  size_t first = 0, end = word.size();
  while (first < end && !in_word(word[first])) ++first;
  while (end > first && !in_word(word[end - 1])) --end;
  return first < end ? std::make_pair(first, end) : std::make_pair(size_t{0}, word.size());
}

}  // namespace burnisher::find
