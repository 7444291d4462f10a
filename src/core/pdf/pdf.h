// PDF from pages: a picture, or nothing but text, with a text layer that lies exactly on the words,
// tags that tell a screen reader what is what, bookmarks, labels and links. Pages are added one
// after the other; what they need waits in a file, not in memory, until the end.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/files.h"
#include "page/page.h"
#include "pdf/about.h"
#include "pdf/navigation.h"
#include "pdf/picture.h"

namespace burnisher::pdf {

struct PdfSettings {
  About about;
  PictureSettings picture;
  bool archive = false;  // PDF/A-2u
  bool headings_as_bookmarks = true;
  std::vector<Bookmark> bookmarks;  // instead of the headings, when there are any
  bool labels_as_read = true;
  std::vector<LabelRange> labels;  // instead of those read
  Opening opening = Opening::kPage;
};

// One sheet of the PDF: a page, or in a facsimile a scan with the one or two pages on it.
struct Sheet {
  int width = 0, height = 0;  // pixels, upright
  double dpi = 300;
  int turn = 0;  // degrees counter-clockwise the picture is turned by to stand upright
  std::shared_ptr<const PagePicture> picture;
  std::vector<const Page*> pages;
  std::vector<PlaneMap> to_sheet;  // for each page: its pixels to those of the sheet
  PageNumber number;               // printed on it
};

// Where the bytes of the file are, for reports.
struct PdfSizes {
  size_t pictures = 0, ink = 0, text = 0, all = 0;
  size_t sources = 0;  // of the scans, where known
  int pages = 0;
};

class PdfWriter {
 public:
  // The file appears under its name only with `finish`. Throws OutputError.
  PdfWriter(const Sink& sink, const PdfSettings& settings);
  ~PdfWriter();

  void add(const Sheet& sheet);
  // A page (from 1) of another PDF, as it is.
  void add_original(const std::string& file, const std::string& password, int page);
  void finish();
  const PdfSizes& sizes() const;  // after `finish`

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::pdf
