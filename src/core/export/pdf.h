// PDF with the page picture and an invisible text layer that lies exactly on the words: select,
// copy and search work, the page looks like the scan. Pages are added one after the other; their
// pictures wait in a file, not in memory, until the end.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::exporting {

// A page picture in the form it has in the PDF.
struct CodedPicture {
  enum class Kind { kJpeg, kG4 } kind = Kind::kJpeg;
  bool colour = false;
  int width = 0, height = 0;
  std::vector<uint8_t> bytes;
};

// Bitonal pages as CCITT G4, the others as JPEG of `quality` 1-100.
CodedPicture coded(const Picture& picture, int quality);

struct PdfSettings {
  std::string title;
  std::string language;  // BCP 47; empty: not stated
  int jpeg_quality = 60;
};

class PdfWriter {
 public:
  // The file appears under its name only with `finish`. Throws OutputError.
  PdfWriter(const std::string& path, bool overwrite, const PdfSettings& settings);
  ~PdfWriter();

  // `picture` shows the whole page; words lie at their page positions.
  void add(const Page& page, const CodedPicture& picture);
  void finish();

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::exporting
