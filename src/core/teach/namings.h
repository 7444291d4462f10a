// What a person said about glyphs and lines: the table that a type case saves.
//
//   file  line  x  y  from  to  what  text        (tab-separated, UTF-8, one heading line)
//
// file, line: PAGE XML without ending, and the line's number in it, from 1; x, y: left end of its
// baseline in page pixels, by which it is found when numbers changed. from, to: along the line, in
// x-heights (empty for a whole line). what: `glyph` (text is what the picture says), `broken` (not
// to be learnt) or `line` (text is the whole line). A later row about the same place counts.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"
#include "teach/type_case.h"

namespace burnisher::teach {

struct Naming {
  enum class What { kGlyph, kBroken, kLine };
  std::string file;
  int line = 1;
  Point start;
  double from = 0, to = 0;
  What what = What::kGlyph;
  std::string text;  // NFC, in logical order
};

// Throws InputError/FormatError naming file and row.
std::vector<Naming> read_namings(const std::string& path);
std::string write_namings(const std::vector<Naming>& namings);

// Said again: later ones count where they overlap earlier ones by more than half.
std::vector<Naming> latest(std::vector<Naming> namings);

// The line of the case that a naming is about; null: there is none.
const CaseLine* line_of(const Naming& naming, const TypeCase& type_case);

}  // namespace burnisher::teach
