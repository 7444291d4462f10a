// The stages of one page, and the pictures of what each of them did.
#pragma once

#include <string>

#include "clean/clean.h"
#include "run/documents.h"
#include "run/job_folder.h"
#include "run/run.h"

namespace burnisher::run {

struct PageResult {
  FinishedPage finished;
  PageReport report;
};

// Reads and works on one scan: one page, or two of a spread. What goes wrong with it ends up in the
// report, not in an exception. `job`: null where none is kept.
std::vector<PageResult> work_on(const ScanFile& file, int page, const layout::PageNetwork& network,
                                const recognise::Recogniser& recogniser, const Wanted& wanted,
                                const RunSettings& settings, const RunTools& tools,
                                const JobFolder* job);

// What shows of a page by itself: its words, suspects and how sure they are.
PageReport report_of(const Page& page);
std::shared_ptr<const Gray> thumbnail_of(const Picture& picture);

// FOLDER/NAME-0007-1-scan.png, -2-page.png, -3-bitonal.png, -4-overlay.png.
void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const layout::Sight& sight,
                const std::string& folder);

}  // namespace burnisher::run
