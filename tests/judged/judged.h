// The pages that reading is judged by: composed once, committed as pictures with their truth, and
// read by every test run. What is measured on them may not fall below the floors in floors.tsv, and
// what is read on them is the version of reading (as_read.txt).
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "compose/page_maker.h"

namespace burnisher::judged {

// One measure: "lines", "characters Latn" ..., as a share, 0-1; larger is better.
using Measures = std::vector<std::pair<std::string, double>>;

struct Judgement {
  Measures measures;
  Measures pages;       // characters right, page by page
  std::string as_read;  // every page with its blocks' kinds and its lines
};

// Reads NAME.jpg beside NAME.xml in `folder` as `burnisher run` does by default, and holds it
// against the truth. `models`: the folder of the shipped ones. Throws Error.
Judgement judge(const std::string& folder, const std::string& models);

// The geometry alone, on pages composed anew with maps painted from their truth.
Measures judge_geometry(const std::string& folder);

// Composes the pages of `folder`/texts into `folder`.
void compose_pages(const std::string& folder);

// Name and floor, as floors.tsv has them. Throws InputError/FormatError.
Measures read_floors(const std::string& path);

// What multiplies: results differ in the last place between processors of different kinds.
std::string kind_of_processor();

}  // namespace burnisher::judged
