// The type case as one self-contained page, by mouse or by keyboard alone, without a network: piles
// of glyph pictures to name, pictures to take out, join, part or leave out, and whole lines with
// their cuts. It saves the table that `burnisher teach` learns from (teach/namings.h).
#pragma once

#include <string>
#include <vector>

#include "teach/namings.h"
#include "teach/type_case.h"

namespace burnisher::report {

struct TypeCaseSheet {
  std::string title;
  const teach::TypeCase* type_case = nullptr;
  const std::vector<teach::Naming>* namings = nullptr;  // said before; shown as named
  std::string letters;                                  // to pick from, UTF-8
  size_t most_lines = 0;  // evenly drawn; 0: all. Lines with something named are always there
};

struct TypeCaseCounts {
  size_t lines = 0, glyphs = 0, piles = 0;
};

// Throws OutputError.
TypeCaseCounts write_type_case(const TypeCaseSheet& sheet, const std::string& path, bool overwrite);

}  // namespace burnisher::report
