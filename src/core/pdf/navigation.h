// Ways through a PDF: bookmarks, page labels, links from contents pages, what a viewer shows first.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::pdf {

struct Bookmark {
  std::string title;
  int page = 1;  // of the document, from 1
  int level = 1;
  double top = -1;  // points from the lower edge; below 0: the page's upper edge
};

// Lines of title, page and level, parted by tabs; the level may be left out, # begins a comment.
// Throws InputError/FormatError naming file and line.
std::vector<Bookmark> read_bookmarks(const std::string& path);

// The number printed on a page; value 0: none.
struct PageNumber {
  int value = 0;
  bool roman = false;
};

// From page `first` on (from 1) the labels are prefix + number, counted up from `start`.
struct LabelRange {
  int first = 1;
  char style = 'D';  // D 1 2 3, r i ii iii, R I II III, a, A; 0: the prefix alone
  std::string prefix;
  int start = 1;
};

// "1-6:i,7-:1": ranges of pages with the label of their first. Throws SettingsError.
std::vector<LabelRange> labels_named(const std::string& text);

// Labels as printed: numbers that at least two pages agree on carry over to the pages beside them
// that show none. Empty when no page tells.
std::vector<LabelRange> labels_read(const std::vector<PageNumber>& numbers);

std::string label_of(const std::vector<LabelRange>& ranges, int page);
// The page (from 1) with this label; 0: none.
int page_labelled(const std::vector<LabelRange>& ranges, int pages, const std::string& label);

// A line of a contents page and the page number at its end.
struct ContentsLine {
  Box box;  // page pixels
  std::string label;
};

// The lines of a page of contents; empty when it is none.
std::vector<ContentsLine> contents_of(const Page& page);

enum class Opening { kPage, kBookmarks, kThumbnails };

}  // namespace burnisher::pdf
