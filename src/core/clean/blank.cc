#include "clean/blank.h"

#include "clean/letter_rows.h"
#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr int kFewestLetters = 2;  // a page with fewer is blank
constexpr double kJoined = 4;      // so much wider than high: letters that touch, three of them

// Letters or figures that stand each alone, as in a puzzle or a table of marks.
constexpr int kFewestAlike = 3;
constexpr int kLeastAlike = 9;   // pixels
constexpr double kAlike = 0.15;  // of the text height

}  // namespace

int letters_on(const Bitonal& ink, double text_height) {
  if (text_height <= 0) return 0;
  const std::vector<Component> list = components_of(ink).list;
  const std::vector<LetterRow> rows = letter_rows(list, text_height);
  int letters = 0, alike = 0;
  for (size_t i = 0; i < list.size(); ++i) {
    if (!of_letter_size(list[i], text_height)) continue;
    if (list[i].width() > kJoined * list[i].height()) letters += 2;
    letters += !rows[i].alone();
    alike += list[i].height() >= kLeastAlike &&
             std::abs(list[i].height() - text_height) < kAlike * text_height;
  }
  return std::max(letters, alike >= kFewestAlike ? alike : 0);
}

bool is_blank(const Bitonal& ink, double text_height) {
  return letters_on(ink, text_height) < kFewestLetters;
}

}  // namespace burnisher::clean
