// What things are called in a job, and the file that says what the job is.
#pragma once

#include <string>
#include <utility>

#include "job/job_file.h"
#include "page/page.h"
#include "run/scan_list.h"

namespace burnisher::run {

// NAME-0007, NAME-0007-left: what files of this page are called in a job. Whatever in the scan's
// name is no sound text is replaced.
std::string page_name_of(const Page& page);
// The same of a scan: NAME-0007.
std::string scan_name_of(const ScanTask& task);

// Of the page of a scan that is `part` of it.
std::string name_with_part(const ScanTask& task, int part);

// The scan's name of a page's, and its part: of NAME-0007-left NAME-0007 and 1.
std::pair<std::string, int> scan_and_part(const std::string& page_name);

}  // namespace burnisher::run
