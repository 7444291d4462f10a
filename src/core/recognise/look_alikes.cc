#include "recognise/look_alikes.h"

#include <algorithm>
#include <map>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

struct LookAlike {
  char32_t latin, cyrillic, greek;  // 0: none
};

constexpr LookAlike kLookAlikes[] = {
    {U'A', U'А', U'Α'}, {U'B', U'В', U'Β'}, {U'C', U'С', 0},    {U'E', U'Е', U'Ε'},
    {U'H', U'Н', U'Η'}, {U'I', U'І', U'Ι'}, {U'J', U'Ј', 0},    {U'K', U'К', U'Κ'},
    {U'M', U'М', U'Μ'}, {U'N', 0, U'Ν'},    {U'O', U'О', U'Ο'}, {U'P', U'Р', U'Ρ'},
    {U'S', U'Ѕ', 0},    {U'T', U'Т', U'Τ'}, {U'X', U'Х', U'Χ'}, {U'Y', U'У', U'Υ'},
    {U'Z', 0, U'Ζ'},    {U'a', U'а', 0},    {U'c', U'с', 0},    {U'e', U'е', 0},
    {U'i', U'і', 0},    {U'j', U'ј', 0},    {U'o', U'о', U'ο'}, {U'p', U'р', 0},
    {U's', U'ѕ', 0},    {U'u', 0, U'υ'},    {U'v', 0, U'ν'},    {U'x', U'х', 0},
    {U'y', U'у', 0},
};

char32_t of(const LookAlike& form, const std::string& script) {
  if (script == "Latn") return form.latin;
  if (script == "Cyrl") return form.cyrillic;
  return script == "Grek" ? form.greek : 0;
}

// The row that a letter is in; null when nothing looks like it.
const LookAlike* row_of(char32_t c) {
  const auto has = [c](const LookAlike& f) {
    return c == f.latin || c == f.cyrillic || c == f.greek;
  };
  const auto found = std::find_if(std::begin(kLookAlikes), std::end(kLookAlikes), has);
  return found == std::end(kLookAlikes) ? nullptr : &*found;
}

// The script that the word's letters are to be of; "" when they may stay as they are.
std::string script_wanted(const Word& word, const std::string& line_script) {
  std::map<std::string, int> own, alike;
  int letters = 0;
  for (const Glyph& glyph : word.glyphs) {
    if (!is_letter(glyph.character)) continue;
    ++letters;
    ++(row_of(glyph.character) == nullptr ? own : alike)[script_of(glyph.character)];
  }
  if (own.empty()) return alike.size() > 1 || letters == 1 ? line_script : "";
  return std::max_element(own.begin(), own.end(),
                          [](const auto& a, const auto& b) { return a.second < b.second; })
      ->first;
}

}  // namespace

void settle_look_alikes(Line& line) {
  for (Word& word : line.words) {
    const std::string script = script_wanted(word, line.script);
    std::vector<char32_t> text;
    for (Glyph& glyph : word.glyphs) {
      const LookAlike* const row = row_of(glyph.character);
      const char32_t wanted = row == nullptr || script.empty() ? 0 : of(*row, script);
      if (wanted != 0) glyph.character = wanted;
      text.push_back(glyph.character);
    }
    word.text = to_nfc(encode_utf8(text));
  }
}

}  // namespace burnisher::recognise
