// Where a job stands, told from its folder alone.
#pragma once

#include <string>
#include <vector>

#include "job/worker.h"

namespace burnisher::run {

struct JobStatus {
  struct Failure {
    std::string scan, why;
  };
  struct Waiting {
    std::string page;
    std::vector<std::string> why;
  };
  struct Document {
    std::string file;  // as seen from the job's folder
    bool there = false, as_written = false;
  };

  int scans = 0;                 // that the job is made of
  int read = 0;                  // of them; what changed since is told by `run --explain`
  std::vector<Failure> failed;   // could not be read
  int pages = 0, delivered = 0;  // of the scans that are read; those with PAGE XML
  int blank = 0, by_person = 0;  // of the pages
  std::vector<Waiting> waiting;  // pages held for a person
  std::vector<Waiting> look;     // pages worth a look
  int words = 0, suspects = 0;   // as they were delivered
  int decided = 0;               // decisions about words that the job keeps
  std::vector<Document> documents;
  std::vector<job::WorkerState> workers;  // at work now
  double scans_per_minute = 0;            // of all workers together; 0: none is at work
  double minutes_left = 0;
};

// Throws InputError where the folder is no job, FormatError for one that cannot be read.
JobStatus status_of(const std::string& folder);

// Whether somebody is at work on the job now; false where the folder is none (yet).
bool at_work(const std::string& folder);

}  // namespace burnisher::run
