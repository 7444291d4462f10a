// What was made of one scan, and what it was made from: kept in a job beside the result, as a build
// system keeps what a target was built from.
#pragma once

#include <string>
#include <vector>

#include "job/digest.h"

namespace burnisher::job {

// What a reading depends on. Two readings with equal sources are equal.
struct Sources {
  std::string scan;      // digest of its file, with its number in that
  std::string settings;  // digest of all settings that cleaning, layout and reading look at
  std::string models;    // digest of what reads
  std::string program;   // version of the stages themselves
};

// One page of the scan. What is said of a page here and does not stand in its PAGE XML.
struct PageRecord {
  int part = 0;         // of a spread: 1 left, 2 right
  std::string reading;  // digest of the PAGE XML in read/
  FileStamp stamp;      // of the page's own PAGE XML when it was last looked at
  // Digests of the page's own PAGE XML as the program wrote it last, the newest first. Two, because
  // a run may end between the record and the file.
  std::vector<std::string> written;
  bool person = false;  // has been changed by a person (or another program) since it was read
  bool blank = false;
  bool other_side = false;  // see clean::CleanResult
  std::string unread;       // the same
  double skew = 0, perspective = 0, curl = 0;
  std::vector<std::string> notes;
  // Of the last delivery, for `status`.
  int words = 0, suspects = 0;
  std::vector<std::string> held, look;
};

struct ScanRecord {
  Sources sources;
  std::string failure;  // empty: it was read
  bool kept = false;    // a PDF page whose own text was taken
  int turn = 0;         // degrees counter-clockwise
  double turn_confidence = 0;
  double seconds = 0;
  std::vector<std::string> misfits;
  std::vector<PageRecord> pages;
};

// JSON, documented in docs/jobs.md.
std::string written_record(const ScanRecord& record);
// Throws FormatError for what is none, cut short for example.
ScanRecord read_record(const std::string& text);

}  // namespace burnisher::job
