// The whole way from scans to finished documents: pages go through all stages side by side on all
// cores, and into their documents in order. Memory stays constant with the number of pages.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/progress.h"
#include "clean/clean.h"
#include "correct/correct.h"
#include "layout/segment.h"
#include "page/block_kind.h"
#include "recognise/recognise.h"
#include "run/delivery.h"
#include "run/hold.h"
#include "run/upright.h"

namespace burnisher::run {

// What becomes of PDF pages that carry real text already.
enum class ExistingText {
  kKeep,     // not read again: the text is taken as it is
  kReplace,  // read anew from their picture
  kStop,     // nothing is done
};

struct RunSettings {
  std::vector<std::string> inputs;   // files and folders
  std::string pages;                 // range within every input file; empty: all
  std::vector<std::string> outputs;  // one document of all inputs for each of these...
  std::string output_folder;         // ...or one document for each input file, here,
  std::vector<OutputKind> kinds;     // of these kinds
  std::string model;
  std::string languages_folder;  // language models; empty: none
  recognise::Arithmetic arithmetic = recognise::arithmetic_of_processor();
  std::vector<std::string> languages;  // BCP 47
  Delivery delivery;
  ExistingText existing_text = ExistingText::kKeep;
  std::string steps_folder;  // every stage's picture goes here; empty: nowhere
  int threads = 0;           // 0: all cores
  double look_below = 0.75;  // mean confidence below which a page wants a person
  ScanLimits limits;
  clean::CleanSettings clean;
  layout::SegmentSettings segment;
  KindChoice kinds_wanted;  // blocks of other kinds are left out of every document
  recognise::RecogniseSettings recognise;
  UprightSettings upright;
  const correct::Lexicon* lexicon = nullptr;  // null: words are not looked up
  correct::ReadingHabits habits;
  correct::CorrectSettings correct;
  std::vector<HoldRule> hold;  // what makes a document wait for a person
  bool thumbnails = false;     // of every page, in the report
  std::string job_folder;      // PAGE XML and picture of every page go here; empty: nowhere
};

struct PageReport {
  std::string file;
  int number = 1;
  int part = 0;  // of a spread: 1 left, 2 right
  bool failed = false;
  double seconds = 0;
  double dpi = 0;
  double skew = 0;
  double curl = 0;  // largest bend taken out, pixels
  int turn = 0;     // degrees counter-clockwise it was turned by to stand upright
  double turn_confidence = 0;
  bool blank = false;
  std::vector<std::string> languages;  // read in, the commonest first
  int words = 0;
  int suspects = 0;
  std::vector<correct::Change> changes;  // repairs
  std::vector<std::string> held;         // why its document waits for a person
  double confidence = 0;
  std::string printed_number;             // the page number on it; empty: none was found
  std::vector<std::string> notes;         // what was done or assumed
  std::vector<std::string> look;          // why a person should look at it; or why it failed
  std::shared_ptr<const Gray> thumbnail;  // on request
};

struct RunReport {
  std::vector<PageReport> pages;
  std::vector<std::string> written;                          // files
  std::vector<std::string> waiting;                          // those of them that wait for a person
  std::vector<std::pair<std::string, std::string>> remarks;  // file, what its reader should know
  std::vector<std::string> problems;  // inputs and outputs that failed as a whole
  double seconds = 0;

  bool nothing_done() const;
  bool all_well() const;
};

// Throws SettingsError for settings that make no sense, and InputError/FormatError for the model;
// everything that concerns single files or pages is in the report.
RunReport run(const RunSettings& settings, Progress& progress);

}  // namespace burnisher::run
