#include "recognise/scripts.h"

#include "base/error.h"
#include "base/unicode.h"
#include "recognise/alphabet.h"
#include "recognise/ideographs.h"

namespace burnisher::recognise {
namespace {

const char* const kAscii =
    " !\"#$%&'()*+,-./0123456789:;<=>?@ABCDEFGHIJKLMNOPQRSTUVWXYZ[\\]^_`"
    "abcdefghijklmnopqrstuvwxyz{|}~";
const char* const kSigns = "‘’‚“”„‹›«»–—…•†§°·©®™€£×±−′″½¼¾²³";

struct Range {
  char32_t first, last;
};

// Those characters of the ranges that are assigned and that NFC leaves as they are.
std::string characters_in(std::initializer_list<Range> ranges) {
  std::string characters;
  for (const Range& r : ranges) {
    for (char32_t c = r.first; c <= r.last; ++c) {
      const std::string one = encode_utf8(c);
      if (is_assigned(c) && to_nfc(one) == one) characters += one;
    }
  }
  return characters;
}

std::vector<Script> all_scripts() {
  const std::string common = std::string(kAscii) + kSigns;
  std::vector<Script> all;
  all.push_back({"Latn", "Latin", false, latin_characters(), "", "", {}});
  // Russian to Macedonian, the letters of before 1918, and those of Kazakh, Tatar, Tajik,
  // Mongolian.
  all.push_back({"Cyrl",
                 "Cyrillic",
                 false,
                 common +
                     characters_in({{0x400, 0x45F},
                                    {0x462, 0x463},
                                    {0x46A, 0x46B},
                                    {0x472, 0x475},
                                    {0x490, 0x493},
                                    {0x496, 0x497},
                                    {0x49A, 0x49B},
                                    {0x4A2, 0x4A3},
                                    {0x4AE, 0x4B3},
                                    {0x4B6, 0x4B7},
                                    {0x4BA, 0x4BB},
                                    {0x4D8, 0x4D9},
                                    {0x4E2, 0x4E3},
                                    {0x4E8, 0x4E9},
                                    {0x4EE, 0x4EF}}) +
                     "№₴₽",
                 "",
                 "",
                 {}});
  all.push_back({"Grek",
                 "Greek",
                 false,
                 common +
                     characters_in({{0x37B, 0x37D},
                                    {0x384, 0x3CE},
                                    {0x3D0, 0x3D1},
                                    {0x3D5, 0x3D6},
                                    {0x3DA, 0x3DB},
                                    {0x1F00, 0x1FFE}}) +
                     "ʹ͵",
                 "",
                 "",
                 {}});
  const std::string hebrew_points = characters_in({{0x5B0, 0x5BD}, {0x5C1, 0x5C2}, {0x5C7, 0x5C7}});
  all.push_back(
      {"Hebr",
       "Hebrew",
       true,
       common +
           characters_in(
               {{0x5BE, 0x5BE}, {0x5C0, 0x5C0}, {0x5C3, 0x5C3}, {0x5D0, 0x5EA}, {0x5F0, 0x5F4}}) +
           hebrew_points + "₪",
       "",
       hebrew_points,
       {}});
  // Madda and hamza belong to their letter.
  const std::string harakat = characters_in({{0x64B, 0x652}, {0x670, 0x670}});
  all.push_back({"Arab",
                 "Arabic",
                 true,
                 common +
                     characters_in({{0x60C, 0x60C}, {0x61B, 0x61B}, {0x61F, 0x61F}, {0x621, 0x63A},
                                    {0x641, 0x64A}, {0x660, 0x66D}, {0x671, 0x671}, {0x679, 0x679},
                                    {0x67E, 0x67E}, {0x686, 0x686}, {0x688, 0x688}, {0x691, 0x691},
                                    {0x698, 0x698}, {0x6A9, 0x6A9}, {0x6AD, 0x6AD}, {0x6AF, 0x6AF},
                                    {0x6BA, 0x6BA}, {0x6BE, 0x6BE}, {0x6C0, 0x6C3}, {0x6CC, 0x6CC},
                                    {0x6D2, 0x6D4}, {0x6F0, 0x6F9}, {0x653, 0x655}}) +
                     encode_utf8(0x200C) + harakat + "﴾﴿",
                 "٠١٢٣٤٥٦٧٨٩",
                 harakat,
                 {48, 17.3, 32.5}});
  all.push_back(
      {"Deva",
       "Devanagari",
       false,
       common +
           characters_in(
               {{0x900, 0x939}, {0x93C, 0x94D}, {0x950, 0x950}, {0x960, 0x970}, {0x972, 0x972}}) +
           "₹",
       "०१२३४५६७८९",
       "",
       {48, 20, 33}});
  const StripFrame squares{48, 18, 37};  // 36 pixels, and 6 above and below for what is not known
  all.push_back(
      {"Hani", "Chinese and Japanese", false, "", "", "", squares, ideographic_characters, false});
  all.push_back({"Hang", "Korean", false, "", "", "", squares, korean_characters, true});
  return all;
}

}  // namespace

const std::vector<Script>& scripts() {
  static const std::vector<Script> all = all_scripts();
  return all;
}

const Script& script_named(const std::string& code) {
  std::string known;
  for (const Script& s : scripts()) {
    if (s.code == code) return s;
    known += (known.empty() ? "" : ", ") + s.code + " (" + s.name + ")";
  }
  throw SettingsError("the script '" + code + "' is not known; known are " + known);
}

}  // namespace burnisher::recognise
