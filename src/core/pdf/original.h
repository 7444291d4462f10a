// A PDF that gets a text layer: its pages, pictures, annotations, forms, attachments and metadata
// stay as they are, object by object; text is laid invisibly over the pages that had none.
#pragma once

#include <memory>
#include <string>

#include "page/page.h"
#include "pdf/pdf.h"

namespace burnisher::pdf {

class OriginalPdf {
 public:
  // Throws InputError for a signed file, which any change would break, and for a wrong password;
  // FormatError for one that is damaged; OutputError when `path` cannot be written.
  OriginalPdf(const std::string& original, const std::string& password, const Sink& sink);
  ~OriginalPdf();

  // Words lie at their places in the scan, the picture of the page as it was drawn.
  void add(const Page& page);
  // Fields left empty stay as they are.
  void finish(const About& about);
  const PdfSizes& sizes() const;  // after `finish`

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::pdf
