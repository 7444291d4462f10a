// The whole way from scans to finished documents: pages go through all stages side by side on all
// cores, and into their documents in order. Memory stays constant with the number of pages.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "base/progress.h"
#include "correct/correct.h"
#include "page/block_kind.h"
#include "run/delivery.h"
#include "run/hold.h"
#include "run/run_report.h"
#include "run/split.h"
#include "run/stages.h"

namespace burnisher::run {

// What becomes of PDF pages that carry real text already.
enum class ExistingText {
  kKeep,     // not read again: the text is taken as it is
  kReplace,  // read anew from their picture
  kStop,     // nothing is done
};

// What a run works with, opened before; all of it must outlive the run.
struct RunTools {
  const correct::Lexicon* lexicon = nullptr;  // null: words are not looked up
  std::string lexicon_digest;                 // changes when its words do
  // What each script's bundle mixes up (ISO 15924).
  std::map<std::string, correct::ConfusionModel> confusion_models;
  // Decides about hyphens at line ends; may be empty.
  std::function<bool(const std::string& word, const std::string& language)> is_word;
};

// Options by name, as the command line had them.
using GivenOptions = std::vector<std::pair<std::string, std::vector<std::string>>>;

struct RunSettings {
  std::vector<std::string> inputs;         // files and folders
  std::string pages;                       // range within every input file; empty: all
  std::vector<std::string> outputs;        // one document of all inputs for each of these...
  std::string output_folder;               // ...or one document for each input file, here,
  std::vector<OutputKind> kinds;           // of these kinds
  SplitRule split;                         // with the folder: where a batch is cut
  std::vector<recognise::Bundle> bundles;  // that read, as Recogniser takes them
  std::string page_model;                  // of the network that sees pages
  recognise::Precision precision = recognise::precision_of_processor();
  std::vector<std::string> languages;  // BCP 47
  Delivery delivery;
  ExistingText existing_text = ExistingText::kKeep;
  std::string steps_folder;  // every stage's picture goes here; empty: nowhere
  int threads = 0;           // 0: all cores
  double look_below = 0.75;  // mean confidence below which a page wants a person
  ScanLimits limits;
  StageSettings stages;
  KindChoice kinds_wanted;  // blocks of other kinds are left out of every document
  correct::CorrectSettings correct;
  std::vector<HoldRule> hold;  // what makes a document wait for a person
  bool thumbnails = false;     // of every page, in the report
  std::string job_folder;      // keeps all that was read, see job_session.h; empty: nowhere
  bool as_read = false;        // with a job: what an earlier version or other models read stays
  bool afresh = false;         // with a job: everything is done again, a person's changes go aside
  // With a job, for its file: options as they were given, and descriptive fields.
  GivenOptions given;
  DescriptiveFields fields;                                 // of all documents
  std::map<std::string, DescriptiveFields> fields_by_file;  // more, by the scans' file names
};

// What a run with a job is going to do, without doing it: one line, and one for each scan that is
// not up to date.
std::vector<std::string> explain(const RunSettings& settings, const RunTools& tools);

// Makes the job, or brings its file up to date, and reads nothing: for workers to begin on.
void prepare(const RunSettings& settings, const RunTools& tools);

// Reads scans of a job until none is left to read, or `progress` is cancelled; delivers nothing.
// Several workers may be at work on one job, on one machine or on many that see its folder. Scans
// that could not be read are among the report's problems.
RunReport work(const RunSettings& settings, const RunTools& tools, Progress& progress);

// Throws SettingsError for settings that make no sense, and InputError/FormatError for the model;
// everything that concerns single files or pages is in the report.
RunReport run(const RunSettings& settings, const RunTools& tools, Progress& progress);

}  // namespace burnisher::run
