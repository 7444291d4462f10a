// job.json: what a job is made of, so that it can be gone on with from its folder alone. All paths
// are as seen from the job's folder.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "job/digest.h"

namespace burnisher::job {

// A file that holds scans.
struct ScanSource {
  std::string file;
  FileStamp stamp;
  std::string digest;
  int pages = 0;
  std::vector<std::pair<std::string, std::string>> fields = {};  // descriptive, of its own
};

// A document that was made of the job.
struct MadeDocument {
  std::string file;
  FileStamp stamp;   // of the file as it was written; not there: it was about to be written
  std::string made;  // digest of all that it was made of; "": pages are missing in it
  // Of a PDF: the job's pages in it (as in NAME-0007), and on which of its pages, from 1.
  std::vector<std::pair<std::string, int>> sheets = {};
};

// What a person said of single pages.
struct PageWish {
  std::optional<int> turn;  // degrees counter-clockwise that its scan is turned by
  bool leave_out = false;   // out of every document
};

struct JobFile {
  std::vector<std::string> inputs;  // files and folders as they were named
  // Options as they were given, by their long names: for going on without naming them again.
  std::vector<std::pair<std::string, std::vector<std::string>>> settings;
  std::vector<std::pair<std::string, std::string>> fields;  // descriptive
  std::vector<ScanSource> scans;                            // in the order of their pages
  std::vector<std::string> order;  // pages' names (as in NAME-0007), in the document's order
  std::vector<MadeDocument> documents;
  std::map<std::string, PageWish> wishes;  // by names, as in NAME-0007 (a scan's turn) and -left
};

std::string written_job(const JobFile& job);
// Throws FormatError.
JobFile read_job(const std::string& text);
// The job file of a folder; nothing where the folder is no job. Throws FormatError.
std::optional<JobFile> job_file_in(const std::string& folder);

// An option as the job keeps it, its last value; "": it has none.
std::string setting_of(const JobFile& job, const std::string& name);

}  // namespace burnisher::job
