// The commands. Each `add_...` describes its command to the argument parser and leaves behind what
// is to be done when it was called; the exit code is what that returns.
#pragma once

#include <CLI/CLI.hpp>

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "clean/clean.h"
#include "cli/console.h"
#include "correct/correct.h"
#include "layout/segment.h"
#include "page/block_kind.h"
#include "page/scan.h"
#include "recognise/recognise.h"

namespace burnisher::cli {

// 0 all done; 1 done, but pages failed or wait for a person; 2 wrong usage; 3 nothing was done.
enum ExitCode { kAllDone = 0, kSomeLeft = 1, kUsage = 2, kNothing = 3 };

struct Context {
  Console console;
  std::function<int()> action;  // of the command that was called
};

void add_run(CLI::App& app, Context& context);
void add_survey(CLI::App& app, Context& context);
void add_clean(CLI::App& app, Context& context);
void add_segment(CLI::App& app, Context& context);
void add_stencil(CLI::App& app, Context& context);
void add_recognise(CLI::App& app, Context& context);
void add_correct(CLI::App& app, Context& context);
void add_proof(CLI::App& app, Context& context);
void add_amend(CLI::App& app, Context& context);
void add_lexicon(CLI::App& app, Context& context);
void add_export(CLI::App& app, Context& context);
void add_check(CLI::App& app, Context& context);
void add_score(CLI::App& app, Context& context);
void add_train(CLI::App& app, Context& context);
void add_recipes(CLI::App& app, Context& context);

// Options that several commands share.
void add_quiet(CLI::App& command, Context& context);
void add_limits(CLI::App& command, ScanLimits& limits);
void add_cleaning(CLI::App& command, clean::CleanSettings& settings);
void add_layout(CLI::App& command, layout::SegmentSettings& settings);
void add_kinds(CLI::App& command, KindChoice& choice);
void add_model(CLI::App& command, std::string& path);

// The model that came with the program, or an empty path.
std::string shipped_model();
// `given` or the shipped one; throws SettingsError when there is none.
std::string model_to_use(const std::string& given);

// Splits "en,de" at the commas.
std::vector<std::string> split(const std::string& list);

// Where spelling dictionaries are installed.
std::vector<std::string> dictionary_folders();
// What the recogniser is known to mix up, beside the shipped model. Throws SettingsError.
std::string shipped_habits();
// The user's own list of right words.
std::string user_word_list();
// The lexicon a command looks words up in: --words, --lang.
struct LexiconOptions {
  std::vector<std::string> lists;
  std::string languages;
  std::unique_ptr<correct::Lexicon> open() const;
};
void add_word_lists(CLI::App& command, LexiconOptions& options);
void add_lexicon_options(CLI::App& command, LexiconOptions& options);
std::string missing_dictionary(const std::string& language);
void add_doubt(CLI::App& command, correct::CorrectSettings& settings);
void add_repair(CLI::App& command, std::string& repair);
correct::Repair repair_named(const std::string& name);

// Where files that were read go when they are changed: --out-dir, --overwrite.
struct ResultPlace {
  std::string folder;
  bool overwrite = false;
  void add(CLI::App& command);
  void check() const;  // throws SettingsError when nothing says where
  void write(const std::string& path, const std::string& bytes) const;
};

// Where the language models lie that came with the program; "" when it has none beside it.
std::string shipped_languages();
// How the letters are read: --lang, --long-s, --arithmetic.
struct ReadingOptions {
  std::string languages, long_s = "keep", arithmetic = "auto";
  bool modern_s() const { return long_s == "modern"; }
  recognise::Arithmetic arithmetic_wanted() const;
};
void add_reading(CLI::App& command, ReadingOptions& options);
void choose_languages(const std::vector<std::string>& tags, recognise::RecogniseSettings& settings,
                      Console& console);
// Throws SettingsError for what is no BCP 47 tag; warns about scripts the shipped model cannot
// read.
void check_languages(const std::vector<std::string>& languages, Console& console);

// One page of one input with the name its results get: NAME, or NAME-0007 when the file has
// several.
std::string page_name(const ScanFile& file, int page);

// For every wanted page of the inputs: `work(file, page)`, pages side by side on `threads` threads.
// Returns the exit code; failures are reported on the console.
int for_each_page(const std::vector<std::string>& inputs, const std::string& pages,
                  const ScanLimits& limits, int threads, Context& context,
                  const std::function<void(const ScanFile&, int)>& work);

}  // namespace burnisher::cli
