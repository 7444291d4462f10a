#include "base/unicode.h"

#include <unicode/normalizer2.h>
#include <unicode/ubidi.h>
#include <unicode/uchar.h>
#include <unicode/ucnv.h>
#include <unicode/uloc.h>
#include <unicode/unistr.h>
#include <unicode/uscript.h>
#include <unicode/utf8.h>
#include <algorithm>

namespace burnisher {

std::vector<char32_t> decode_utf8(std::string_view text) {
  std::vector<char32_t> characters;
  characters.reserve(text.size());
  const auto* bytes = reinterpret_cast<const uint8_t*>(text.data());
  const auto length = static_cast<int32_t>(text.size());
  for (int32_t i = 0; i < length;) {
    UChar32 c;
    U8_NEXT_OR_FFFD(bytes, i, length, c);
    characters.push_back(static_cast<char32_t>(c));
  }
  return characters;
}

std::string encode_utf8(char32_t character) {
  uint8_t bytes[U8_MAX_LENGTH];
  int32_t length = 0;
  UBool failed = false;
  U8_APPEND(bytes, length, U8_MAX_LENGTH, static_cast<UChar32>(character), failed);
  if (failed) return "\xEF\xBF\xBD";
  return std::string(reinterpret_cast<char*>(bytes), static_cast<size_t>(length));
}

std::string encode_utf8(const std::vector<char32_t>& characters) {
  std::string text;
  for (char32_t c : characters) text += encode_utf8(c);
  return text;
}

std::u32string utf32_of(std::string_view text) {
  const std::vector<char32_t> list = decode_utf8(text);
  return {list.begin(), list.end()};
}

std::string utf8_of(const std::u32string& text) {
  std::string result;
  for (const char32_t c : text) result += encode_utf8(c);
  return result;
}

bool ends_with_hyphen(const std::u32string& word) {
  // Also the sign of unfinished words in typescript, and the double hyphen of blackletter.
  return word.size() > 2 &&
         std::u32string_view(U"-\u2010\u00AD\u00AC\u2E17").find(word.back()) !=
             std::u32string_view::npos &&
         is_letter(word[word.size() - 2]);
}

size_t utf8_length_at(std::string_view text, size_t at) {
  const auto* bytes = reinterpret_cast<const uint8_t*>(text.data());
  auto i = static_cast<int32_t>(at);
  UChar32 c;
  U8_NEXT(bytes, i, static_cast<int32_t>(text.size()), c);
  return c < 0 ? 0 : static_cast<size_t>(i) - at;
}

std::string sound_utf8(std::string_view text) {
  constexpr const char* kReplacement = "\xEF\xBF\xBD";
  std::string out;
  out.reserve(text.size());
  for (size_t at = 0; at < text.size();) {
    const size_t length = utf8_length_at(text, at);
    const auto first = static_cast<unsigned char>(text[at]);
    const bool control =
        length == 1 &&
        ((first < 0x20 && first != '\t' && first != '\n' && first != '\r') || first == 0x7F);
    // U+FFFE and U+FFFF are no characters of XML either.
    const bool none = length == 3 && text.substr(at, 2) == "\xEF\xBF" &&
                      static_cast<unsigned char>(text[at + 2]) >= 0xBE;
    if (length == 0 || control || none)
      out += kReplacement;
    else
      out += text.substr(at, length);
    at += length == 0 ? 1 : length;
  }
  return out;
}

std::string to_nfc(const std::string& text) {
  UErrorCode status = U_ZERO_ERROR;
  const icu::Normalizer2* nfc = icu::Normalizer2::getNFCInstance(status);
  const icu::UnicodeString composed = nfc->normalize(icu::UnicodeString::fromUTF8(text), status);
  std::string result;
  return U_FAILURE(status) ? text : composed.toUTF8String(result);
}

std::vector<char32_t> table_of_encoding(const std::string& name) {
  UErrorCode status = U_ZERO_ERROR;
  UConverter* converter = ucnv_open(name.c_str(), &status);
  if (U_FAILURE(status)) return {};
  std::vector<char32_t> table;
  for (int byte = 0; byte < 256; ++byte) {
    const char bytes[] = {static_cast<char>(byte), 0};
    const char* from = bytes;
    status = U_ZERO_ERROR;
    table.push_back(static_cast<char32_t>(ucnv_getNextUChar(converter, &from, bytes + 1, &status)));
    if (U_FAILURE(status)) table.back() = U'\uFFFD';
  }
  ucnv_close(converter);
  return table;
}

std::vector<char32_t> in_visual_order(const std::string& text, bool& right_to_left) {
  constexpr char32_t kFirstRightToLeft = 0x590;
  std::vector<char32_t> characters = decode_utf8(text);
  right_to_left = false;
  if (std::none_of(characters.begin(), characters.end(),
                   [](char32_t c) { return c >= kFirstRightToLeft; }))
    return characters;
  const icu::UnicodeString logical = icu::UnicodeString::fromUTF8(text);
  UBiDi* bidi = ubidi_open();
  UErrorCode status = U_ZERO_ERROR;
  ubidi_setPara(bidi, logical.getBuffer(), logical.length(), UBIDI_DEFAULT_LTR, nullptr, &status);
  right_to_left = U_SUCCESS(status) && (ubidi_getParaLevel(bidi) & 1) != 0;
  icu::UnicodeString seen;
  const int32_t room = 2 * logical.length() + 1;
  const int32_t count = ubidi_writeReordered(bidi, seen.getBuffer(room), room, 0, &status);
  seen.releaseBuffer(U_FAILURE(status) ? 0 : count);
  ubidi_close(bidi);
  if (U_FAILURE(status)) return characters;
  std::string result;
  return decode_utf8(seen.toUTF8String(result));
}

bool is_assigned(char32_t character) {
  return u_isdefined(static_cast<UChar32>(character));
}
std::string script_of(char32_t character) {
  UErrorCode status = U_ZERO_ERROR;
  const UScriptCode script = uscript_getScript(static_cast<UChar32>(character), &status);
  if (U_FAILURE(status)) return "Zzzz";
  if (script == USCRIPT_HIRAGANA || script == USCRIPT_KATAKANA || script == USCRIPT_BOPOMOFO)
    return "Hani";
  return uscript_getShortName(script);
}
std::string script_of_language(const std::string& tag) {
  UErrorCode status = U_ZERO_ERROR;
  char likely[ULOC_FULLNAME_CAPACITY] = "", script[ULOC_SCRIPT_CAPACITY] = "";
  uloc_addLikelySubtags(tag.c_str(), likely, sizeof likely, &status);
  uloc_getScript(likely, script, sizeof script, &status);
  if (U_FAILURE(status)) return "";
  const std::string code = script;
  if (code == "Hans" || code == "Hant" || code == "Jpan") return "Hani";
  return code == "Kore" ? "Hang" : code;
}
bool language_runs_right_to_left(const std::string& tag) {
  return uloc_isRightToLeft(tag.c_str());
}
bool is_ideographic(char32_t character) {
  constexpr char32_t kFirstSign = 0x3001, kLastSign = 0x303F, kFirstWide = 0xFF01,
                     kLastWide = 0xFF65;
  return (character >= kFirstSign && character <= kLastSign) ||
         (character >= kFirstWide && character <= kLastWide) || script_of(character) == "Hani" ||
         character == U'ー' || character == U'・';
}
bool is_letter(char32_t character) {
  return u_isalpha(static_cast<UChar32>(character));
}
bool is_digit(char32_t character) {
  return u_isdigit(static_cast<UChar32>(character));
}
bool is_upper(char32_t character) {
  return u_isupper(static_cast<UChar32>(character));
}

char32_t to_upper(char32_t character) {
  return static_cast<char32_t>(u_toupper(static_cast<UChar32>(character)));
}
char32_t to_lower(char32_t character) {
  return static_cast<char32_t>(u_tolower(static_cast<UChar32>(character)));
}

}  // namespace burnisher
