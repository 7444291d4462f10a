// Why a page that nothing was read on is not blank.
#pragma once

#include <string>

#include "clean/clean.h"

namespace burnisher::run {

// What speaks for something standing on a page, whether or not it could be read. What the page
// network sees does not: on a page with nothing on it, it sees text in the paper's grain.
struct Evidence {
  int letters = 0;  // components of letter size in rows or columns, or three of one size
  double size = 0;  // their usual height, in x-heights of 10-point type at the page's resolution
  double contrast = 0;  // of the ink that was found, share of the paper's brightness
  double pattern = 0;   // share of the page, 0-1, where brightness changes over the distances that
                        // letters and lines do
  double slope = 0;  // steepest edges there are, share of the contrast in a pixel; below 0.1 soft
};

Evidence evidence_on(const clean::CleanResult& cleaned);

// A whole sentence without file and page; "": nothing speaks against its being blank.
std::string unread_reason(const Evidence& evidence);

}  // namespace burnisher::run
