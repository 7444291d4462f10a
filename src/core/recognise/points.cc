#include "recognise/points.h"

#include <algorithm>
#include <set>

#include "base/unicode.h"
#include "recognise/scripts.h"

namespace burnisher::recognise {
namespace {

const std::set<char32_t>& all_points() {
  static const std::set<char32_t> points = [] {
    std::set<char32_t> all;
    for (const Script& script : scripts()) {
      for (const char32_t c : decode_utf8(script.points)) all.insert(c);
    }
    return all;
  }();
  return points;
}

bool is_point(char32_t c) {
  return all_points().count(c) > 0;
}

// NFC keeps letters and points apart.
std::string without_points(const std::string& text) {
  std::vector<char32_t> kept;
  for (const char32_t c : decode_utf8(text))
    if (!is_point(c)) kept.push_back(c);
  return encode_utf8(kept);
}

}  // namespace

void drop_points(Page& page) {
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      if (line.script != "Hebr" && line.script != "Arab") continue;
      for (Word& word : line.words) {
        const std::string bare = without_points(word.text);
        if (bare.empty() || bare == word.text) continue;
        word.text = bare;
        word.glyphs.erase(std::remove_if(word.glyphs.begin(), word.glyphs.end(),
                                         [](const Glyph& g) { return is_point(g.character); }),
                          word.glyphs.end());
        for (OtherReading& other : word.readings) other.text = without_points(other.text);
      }
    }
  }
}

}  // namespace burnisher::recognise
