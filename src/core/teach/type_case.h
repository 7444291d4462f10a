// A type case: the pictures of glyphs that are found on pages, line by line, for a person to name.
// Places along a line are in x-heights from the left end of its baseline, so that they mean the
// same in every frame that strips are cut to.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"
#include "recognise/reader.h"
#include "recognise/strip.h"

namespace burnisher::teach {

struct GlyphPicture {
  double x0 = 0, x1 = 0;  // of its ink, x-heights along the line
  std::string read;       // what the line reads there, in printed order; "": nothing
  double confidence = 0;  // 0-1
};

struct CaseLine {
  std::string file;   // its PAGE XML, without folder and ending
  int number = 1;     // of the line in that file, from 1
  Point start;        // left end of its baseline, page pixels
  double height = 0;  // x-height, page pixels
  Gray strip;         // the line as the network sees it (recognise/strip.h)
  std::string read;   // the whole line, as it is read
  double confidence = 0;
  std::vector<GlyphPicture> glyphs;  // from left to right, disjoint
  std::vector<double> spaces;        // between words, x-heights along the line
};

struct TypeCase {
  recognise::StripFrame frame;
  std::string script;  // ISO 15924, of the bundle that read
  std::vector<CaseLine> lines;
};

// A strip's column and a place along the line.
double column_of(double place, const recognise::StripFrame& frame);
double place_of_column(double column, const recognise::StripFrame& frame);

struct CasePage {
  std::string file;  // without folder and ending
  const Page* page = nullptr;
};

// Reads and cuts the lines of all pages, those that were set aside as no text too: a script nobody
// knows looks like none. `every_script` false: lines that were surely read in a script that the
// reader's bundle is not for are left out. `picture`: of a page, asked for once and let go.
// `advance`: after each.
TypeCase type_case_of(const std::vector<CasePage>& pages,
                      const std::function<Gray(size_t page)>& picture,
                      const recognise::Reader& reader, bool every_script,
                      const std::function<void(size_t)>& advance);

}  // namespace burnisher::teach
