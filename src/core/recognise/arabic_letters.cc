#include "recognise/arabic_letters.h"

#include <algorithm>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr char32_t kYeh = 0x64A, kYehWithoutDots = 0x649, kFarsiYeh = 0x6CC;
constexpr char32_t kKaf = 0x643, kKeheh = 0x6A9;
constexpr char32_t kArabicZero = 0x660, kPersianZero = 0x6F0;

bool writes_persian_letters(const std::string& language) {
  for (const char* other : {"fa", "ur", "ps", "ug", "ckb", "sd"}) {
    if (language == other || language.rfind(std::string(other) + "-", 0) == 0) return true;
  }
  return false;
}

bool only_persian(char32_t c) {
  return std::u32string(U"پچژگٹڈڑںےھہ").find(c) != std::u32string::npos;
}

// Whether the letter is joined to the next one: any but hamza; marks stand between.
bool joined_to_next(const std::vector<char32_t>& text, size_t at) {
  constexpr char32_t kHamza = 0x621;
  size_t next = at + 1;
  while (next < text.size() &&
         ((text[next] >= 0x64B && text[next] <= 0x655) || text[next] == 0x670))
    ++next;
  return next < text.size() && text[next] != kHamza && is_letter(text[next]) &&
         script_of(text[next]) == "Arab";
}

// 4, 5 and 6 have forms of their own.
bool same_form(char32_t digit, char32_t zero) {
  return digit >= zero && digit <= zero + 9 && (digit < zero + 4 || digit > zero + 6);
}

void settle(const std::string& language, Word& word) {
  std::vector<char32_t> text;
  for (const Glyph& glyph : word.glyphs) text.push_back(glyph.character);
  const std::vector<char32_t> settled = in_letters_of(language, text);
  if (settled == text) return;
  for (size_t i = 0; i < settled.size(); ++i) word.glyphs[i].character = settled[i];
  word.text = to_nfc(encode_utf8(settled));
}

}  // namespace

std::vector<char32_t> in_letters_of(const std::string& language,
                                    const std::vector<char32_t>& text) {
  std::vector<char32_t> settled = text;
  const bool persian = writes_persian_letters(language);
  for (size_t i = 0; i < text.size(); ++i) {
    char32_t& c = settled[i];
    const bool yeh = c == kYeh || c == kYehWithoutDots || c == kFarsiYeh;
    if (persian) {
      if (yeh) c = kFarsiYeh;
      if (c == kKaf) c = kKeheh;
      if (same_form(c, kArabicZero)) c += kPersianZero - kArabicZero;
    } else {
      if (yeh && joined_to_next(text, i)) c = kYeh;
      if (c == kFarsiYeh) c = kYehWithoutDots;
      if (c == kKeheh) c = kKaf;
      if (same_form(c, kPersianZero)) c -= kPersianZero - kArabicZero;
    }
  }
  return settled;
}

void settle_arabic_letters(Line& line) {
  std::string language = line.language;
  if (language.empty()) {
    for (const Word& word : line.words) {
      const std::vector<char32_t> text = decode_utf8(word.text);
      if (std::any_of(text.begin(), text.end(), only_persian)) language = "fa";
    }
  }
  for (Word& word : line.words) {
    settle(language, word);
    for (OtherReading& other : word.readings)
      other.text = encode_utf8(in_letters_of(language, decode_utf8(other.text)));
  }
}

}  // namespace burnisher::recognise
