// What was named, as pages that `burnisher train --transcribed` takes: the runs of named glyphs of
// each page of the document, one below the other, with PAGE XML that says what they are.
#pragma once

#include <string>
#include <vector>

#include "teach/case_examples.h"

namespace burnisher::teach {

// FOLDER/NAME.png and NAME.xml for every page of the document that something is named on. Returns
// how many lines were written. Throws OutputError.
size_t write_example_pages(const CaseExamples& examples, const std::string& folder, bool overwrite);

}  // namespace burnisher::teach
