// OpenDocument text (ODF 1.3) for going on with in a word processor: headings, paragraphs, lists,
// tables, pictures with their captions, notes, a bookmark at the beginning of every printed page.
#pragma once

#include <memory>
#include <string>

#include "base/files.h"
#include "export/book_settings.h"
#include "export/flow.h"

namespace burnisher::exporting {

class Odt {
 public:
  // Throws OutputError.
  Odt(const Sink& sink, const BookSettings& settings, const FlowSettings& flow);
  ~Odt();
  void add(const Page& page, const Illustrations& pictures = {});
  void finish();

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::exporting
