// EPUB 3: chapters from headings, contents, tables, pictures, notes, and a list of the printed
// pages. Pages go in, the file is written at the end.
#pragma once

#include <memory>
#include <string>

#include "base/files.h"
#include "export/book_settings.h"
#include "export/flow.h"

namespace burnisher::exporting {

class Epub {
 public:
  // Throws OutputError.
  Epub(const Sink& sink, const BookSettings& settings, const FlowSettings& flow);
  ~Epub();
  void add(const Page& page, const Illustrations& pictures = {});
  void finish();

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::exporting
