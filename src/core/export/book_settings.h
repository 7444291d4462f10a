// What an e-book or a document for a word processor says of itself.
#pragma once

#include <string>

#include "page/fields.h"

namespace burnisher::exporting {

struct BookSettings {
  std::string title, author;
  std::string language;  // BCP 47; empty: as the text says
  std::string date;      // as in 1923-04-17; empty: none
  DescriptiveFields more = {};
};

}  // namespace burnisher::exporting
