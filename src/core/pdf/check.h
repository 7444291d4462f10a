// Looks at a PDF the way it will be relied upon: is it sound, can its text be found and copied,
// does it keep the rules of PDF/A-2 that Burnisher's files could break. The rules are listed in
// docs/delivery.md.
#pragma once

#include <string>
#include <vector>

namespace burnisher::pdf {

struct Finding {
  std::string rule;  // its short name, as in docs/delivery.md
  int page = 0;      // from 1; 0: the document
  std::string what;
};

struct Checked {
  int pages = 0;
  int pages_with_text = 0;
  bool archive = false;  // says that it is PDF/A
  bool tagged = false;
  std::vector<Finding> faults;   // broken rules: of PDF, and of PDF/A where the file says it is
  std::vector<Finding> missing;  // what would make it more useful
};

// Throws InputError/FormatError when there is nothing to look at. `archive`: as if it said that it
// is PDF/A.
Checked check(const std::string& path, bool archive);

}  // namespace burnisher::pdf
