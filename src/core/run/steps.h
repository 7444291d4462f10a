// The stages of one page, and the pictures of what each of them did.
#pragma once

#include <memory>
#include <mutex>
#include <string>

#include "base/progress.h"
#include "clean/clean.h"
#include "run/documents.h"
#include "run/job_session.h"
#include "run/run.h"

namespace burnisher::run {

struct PageResult {
  FinishedPage finished;
  PageReport report;
};

// What sees pages and what reads lines, opened when the first page needs it.
class Readers {
 public:
  explicit Readers(const RunSettings& settings) : settings_(settings) {}
  // Both throw what opening a model throws.
  const layout::PageNetwork& network() const;
  const recognise::Recogniser& recogniser() const;
  PixelBudget& pixels() const { return pixels_; }

 private:
  const RunSettings& settings_;
  mutable PixelBudget pixels_;
  mutable std::mutex guard_;
  mutable std::unique_ptr<layout::PageNetwork> network_;
  mutable std::unique_ptr<recognise::Recogniser> recogniser_;
};

// Reads and works on one scan: one page, or two of a spread. What goes wrong with it ends up in the
// report, not in an exception. `job`: what was read before is taken up from there, and what is read
// is put down; null where none is kept. Nothing when `progress` was cancelled while another worker
// was at the scan.
std::vector<PageResult> work_on(const ScanTask& task, const Readers& readers, const Wanted& wanted,
                                const RunSettings& settings, const RunTools& tools,
                                const JobSession* job, const Progress& progress);

// The same up to what a job keeps of a reading; nothing is delivered. Returns why it failed; "": it
// did not.
std::string read_into(const JobSession& job, const ScanTask& task, const Readers& readers,
                      const RunSettings& settings);

// What shows of a page by itself: its words, suspects and how sure they are.
PageReport report_of(const Page& page);
std::shared_ptr<const Gray> thumbnail_of(const Picture& picture);
// Of the first few blocks that were set aside as no text.
std::vector<std::shared_ptr<const Gray>> pictures_set_aside(const Picture& picture,
                                                            const Page& page);

// FOLDER/NAME-0007-1-scan.png, -2-page.png, -3-bitonal.png, -4-overlay.png. `page`: as it was read.
void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const Page& page,
                const layout::PageMaps& maps, const std::string& folder);

}  // namespace burnisher::run
