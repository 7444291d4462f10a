// A person's marks about the layout, into a job.
#pragma once

#include <string>
#include <vector>

#include "layout/marks.h"

namespace burnisher::run {

struct LayoutOutcome {
  int applied = 0, already = 0;       // pages
  std::vector<std::string> problems;  // pages that are not there, or look otherwise since
};

// Changes the PAGE XML of the job's pages; the next run reads what that leaves to be read, and
// nothing else. Turns and pages left out go into its file. Applying marks twice changes nothing.
// Throws InputError where the folder is no job, OutputError.
LayoutOutcome amend_layout(const std::string& folder, const std::vector<layout::PageMarks>& marks);

}  // namespace burnisher::run
