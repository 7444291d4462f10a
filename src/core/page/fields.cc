#include "page/fields.h"

#include <algorithm>
#include <iterator>

namespace burnisher {

bool is_dublin_core(const std::string& name) {
  static const char* const kElements[] = {"contributor", "coverage", "creator",    "date",
                                          "description", "format",   "identifier", "language",
                                          "publisher",   "relation", "rights",     "source",
                                          "subject",     "title",    "type"};
  return std::find(std::begin(kElements), std::end(kElements), name) != std::end(kElements);
}

}  // namespace burnisher
