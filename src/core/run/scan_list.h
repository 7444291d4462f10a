// Which scans a run is to read, in their order.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/error.h"
#include "intake/scan_file.h"
#include "page/fields.h"
#include "page/page_order.h"

namespace burnisher::run {

struct ScanPlace {
  std::shared_ptr<const ScanFile> file;
  int page = 1;
};

struct ScanTask {
  std::shared_ptr<const ScanFile> file;
  int page = 1;
  bool last_of_file = false;
  std::string document = {};  // key of the document it goes into, where each file makes its own
  bool last_of_document = false;
  std::vector<ScanPlace> beside = {};  // see run/leaves.h
};

// What one document is made of where not all inputs make one: a file, or a part of a batch.
struct ListedDocument {
  std::string key;   // of a file, its path
  std::string stem;  // for names
  DescriptiveFields fields;
  int number = 1;  // of a batch's documents
};

struct ScanList {
  std::vector<ScanTask> tasks;
  std::vector<std::string> files;  // that have pages among them
  std::vector<ListedDocument> documents;
  bool split = false;             // documents are parts of a batch, see run/split.h
  std::vector<Problem> problems;  // inputs that could not be opened
};

// `inputs`: files and folders. `range`: pages of every file, as PageRange has it; empty: all.
ScanList scans_in(const std::vector<std::string>& inputs, const std::string& range,
                  const ScanLimits& limits);

// Some scans replaced by files, then all in the order asked for (empty: as they are). Throws
// SettingsError for pages that are not there, and what opening a file throws.
void rearrange(const std::vector<Replacement>& replacements, const std::string& order,
               const ScanLimits& limits, ScanList& scans);

}  // namespace burnisher::run
