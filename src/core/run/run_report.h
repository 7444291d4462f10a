// What a run did, page by page and file by file.
#pragma once

#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "base/error.h"
#include "correct/correct.h"
#include "page/barcode.h"
#include "page/fields.h"
#include "raster/image.h"

namespace burnisher::run {

struct PageReport {
  std::string file;
  int number = 1;
  int part = 0;           // of a spread: 1 left, 2 right
  int pages_in_file = 0;  // 0: not known
  bool failed = false;
  ErrorCode failure = ErrorCode::kOther;  // of failed pages; what it was is in `look`
  double seconds = 0;
  double dpi = 0;
  double skew = 0;
  double perspective = 0;  // degrees that parallels ran together by, taken out
  double curl = 0;         // largest bend taken out, pixels
  int turn = 0;            // degrees counter-clockwise it was turned by to stand upright
  double turn_confidence = 0;
  bool blank = false;
  std::string unread;  // why nothing was read on a page that is not blank
  int set_aside = 0;   // blocks that looked like text and were not: stamps, scribble, stains
  std::vector<std::shared_ptr<const Gray>> aside;  // pictures of the first of them, on request
  std::vector<std::string> languages;              // read in, the commonest first
  std::vector<std::string> without_dictionary;     // of them
  int words = 0;
  int suspects = 0;
  std::vector<correct::Change> changes;  // repairs
  std::vector<std::string> held;         // why its document waits for a person
  double confidence = 0;
  std::string printed_number;             // the page number on it; empty: none was found
  std::vector<Barcode> barcodes;          // where they were looked for; page pixels
  std::vector<std::string> notes;         // what was done or assumed
  std::vector<std::string> look;          // why a person should look at it; or why it failed
  std::shared_ptr<const Gray> thumbnail;  // on request
};

struct RunReport {
  std::vector<PageReport> pages;
  std::vector<std::string> written;                          // files
  std::vector<std::string> waiting;                          // those of them that wait for a person
  std::vector<std::pair<std::string, std::string>> remarks;  // file, what its reader should know
  std::vector<Problem> problems;        // files, and pages missing in documents
  DescriptiveFields fields;             // that the documents were given
  std::vector<std::string> up_to_date;  // documents of a job that were left as they are
  int read = 0;                         // scans, by a worker
  double seconds = 0;
  bool cancelled = false;  // not all pages were worked on

  bool nothing_done() const;
  bool all_well() const;
};

// Of the scans of these pages, as their files are now: of files with many pages, by the share of
// them that is here; files that are gone count nothing.
size_t source_bytes_of(const std::vector<PageReport>& pages);

// "page 3 of box.tif", or the file's name alone where it is the first.
std::string place_of(const PageReport& report);

}  // namespace burnisher::run
