// UTF-8 in and out, and the few Unicode questions the core asks (ICU answers them).
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace burnisher {

// Malformed bytes become U+FFFD.
std::vector<char32_t> decode_utf8(std::string_view text);
std::string encode_utf8(char32_t character);
std::string encode_utf8(const std::vector<char32_t>& characters);
// The same as strings, which can be searched and cut.
std::u32string utf32_of(std::string_view text);
std::string utf8_of(const std::u32string& text);

// How many bytes the well-formed sequence at `at` has; 0 where none begins.
size_t utf8_length_at(std::string_view text, size_t at);

// The same text fit for XML, JSON and HTML: what is malformed or a control character other than tab
// and line end becomes U+FFFD.
std::string sound_utf8(std::string_view text);

// Canonical composition (NFC), the form of all text Burnisher writes.
std::string to_nfc(const std::string& text);

// The characters of an 8-bit encoding by byte, as in ISO8859-2; empty for names not known.
std::vector<char32_t> table_of_encoding(const std::string& name);

// The characters of a word from left to right. Its own direction decides, figures in it keep
// theirs.
std::vector<char32_t> in_visual_order(const std::string& text, bool& right_to_left);

// Whether a word's end parts it, as it may at the end of a line: "light-".
bool ends_with_hyphen(const std::u32string& word);

bool is_assigned(char32_t character);  // Unicode has given it a meaning
// ISO 15924 code of the character's script: "Latn", "Zyyy" for what many scripts share, "Zinh" for
// marks that take the script of their letter. What Chinese and Japanese are written in is "Hani",
// kana and bopomofo, too.
std::string script_of(char32_t character);
// The script (ISO 15924) that a language (BCP 47) is mostly written in: "ru" -> "Cyrl", "ja" and
// "zh-Hant" -> "Hani", "ko" -> "Hang"; "" when it is not known.
std::string script_of_language(const std::string& tag);
bool language_runs_right_to_left(const std::string& tag);
// Of texts whose words and lines stand together without blanks: Chinese characters, kana, and their
// punctuation.
bool is_ideographic(char32_t character);
bool is_letter(char32_t character);
bool is_digit(char32_t character);
bool is_upper(char32_t character);
char32_t to_upper(char32_t character);
char32_t to_lower(char32_t character);

}  // namespace burnisher
