// The commands. Each `add_...` describes its command to the argument parser and leaves behind what
// is to be done when it was called; the exit code is what that returns.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/parallel.h"
#include "clean/clean.h"
#include "cli/command_line.h"
#include "cli/console.h"
#include "cli/model_places.h"
#include "cli/remedies.h"
#include "correct/correct.h"
#include "intake/scan_file.h"
#include "layout/segment.h"
#include "page/block_kind.h"
#include "pagefile/page_file.h"
#include "pagefile/page_xml.h"
#include "recognise/recognise.h"

namespace burnisher::cli {

// 0 all done; 1 done, but pages failed or wait for a person; 2 wrong usage; 3 nothing was done;
// 130 a person stopped it.
enum ExitCode { kAllDone = 0, kSomeLeft = 1, kUsage = 2, kNothing = 3, kStopped = 130 };

struct Context {
  Console console;
  ModelPlaces models;
  std::vector<std::string> arguments;  // of the command line, recipes taken in
};

void add_run(CommandLine& line, Context& context);
void add_survey(CommandLine& line, Context& context);
void add_clean(CommandLine& line, Context& context);
void add_segment(CommandLine& line, Context& context);
void add_stencil(CommandLine& line, Context& context);
void add_recognise(CommandLine& line, Context& context);
void add_correct(CommandLine& line, Context& context);
void add_proof(CommandLine& line, Context& context);
void add_amend(CommandLine& line, Context& context);
void add_lexicon(CommandLine& line, Context& context);
void add_export(CommandLine& line, Context& context);
void add_check(CommandLine& line, Context& context);
void add_score(CommandLine& line, Context& context);
void add_train(CommandLine& line, Context& context);
void add_models(CommandLine& line, Context& context);
void add_recipes(CommandLine& line, Context& context);
void add_work(CommandLine& line, Context& context);
void add_watch(CommandLine& line, Context& context);
void add_teach(CommandLine& line, Context& context);
void add_sheet(CommandLine& line, Context& context);
void add_serve(CommandLine& line, Context& context);
void add_find(CommandLine& line, Context& context);
void add_index(CommandLine& line, Context& context);
void add_status(CommandLine& line, Context& context);
void add_layout_sheet(CommandLine& line, Context& context);

// Options that several commands share.
void add_quiet(Command& command, Context& context);
void add_limits(Command& command, ScanLimits& limits);
void add_cleaning(Command& command, clean::CleanSettings& settings);
void add_leaves(Command& command, bool& leaves);
void add_layout(Command& command, layout::SegmentSettings& settings);
void add_kinds(Command& command, KindChoice& choice);
void add_models_folder(Command& command, Context& context);
void add_model(Command& command, Context& context, std::string& names);

// Splits "en,de" at the commas.
std::vector<std::string> split(const std::string& list);

// Where spelling dictionaries are installed.
std::vector<std::string> dictionary_folders();
// The user's own list of right words.
std::string user_word_list();
// The lexicon a command looks words up in: --words, --lang.
struct LexiconOptions {
  std::vector<std::string> lists;
  std::string languages;
  std::unique_ptr<correct::Lexicon> open() const;
  // Changes when what they hold does.
  std::string digest() const;
};
void add_word_lists(Command& command, LexiconOptions& options);
void add_lexicon_options(Command& command, LexiconOptions& options);
std::string missing_dictionary(const std::string& language);
void add_suspect_limit(Command& command, correct::CorrectSettings& settings);
void add_repair(Command& command, std::string& repair);
correct::Repair repair_named(const std::string& name);

// Read pages from files and folders; what cannot be read is told and left out.
struct PageFiles {
  std::vector<PageFile> files;
  bool failed = false;  // some could not be read
};
PageFiles read_page_files(const std::vector<std::string>& inputs, Console& console);

// Brings the indexes of those that are jobs up to date.
void refresh_indexes(const std::vector<std::string>& inputs, Console& console);

// Where files that were read go when they are changed: --out-dir, --overwrite.
struct ResultPlace {
  std::string folder;
  bool overwrite = false;
  void add(Command& command);
  void check() const;  // throws SettingsError when nothing says where
  // False: it could not be written, and that was told.
  bool write(const std::string& path, const std::string& bytes, Console& console) const;
};

// How the letters are read: --lang, --script, --long-s, --points, --precision.
struct ReadingOptions {
  std::string scripts, languages, long_s = "keep", points = "keep", precision = "auto";
  recognise::Precision precision_wanted() const;
};
void add_reading(Command& command, ReadingOptions& options);
// Of bundles that read the same script those that speak more of the languages named come first.
void prefer_speakers(const ReadingOptions& options, std::vector<recognise::Bundle>& bundles);
// Languages and scripts of the text. Throws SettingsError for what is none; says which languages no
// bundle reads or knows the spelling of.
void choose_languages(const ReadingOptions& options, const std::vector<recognise::Bundle>& bundles,
                      recognise::RecogniseSettings& settings, Context& context);
// Throws SettingsError for what is no BCP 47 tag.
void check_languages(const std::vector<std::string>& languages);

// One page of one input with the name its results get: NAME, or NAME-0007 when the file has
// several.
std::string page_name(const ScanFile& file, int page);

// A page picture, without blocks, taken up as cleaning left it where its PAGE XML lies beside it
// (see run::taken_up).
clean::CleanResult cleaned_picture(const ScanFile& file, int page, const Scan& picture);

// Throws OutputError.
void make_folder(const std::string& path);

struct PageLoop {
  std::vector<std::string> inputs;
  std::string pages;  // range; empty: all
  const ScanLimits& limits;
  int threads = 0;  // 0: all cores
};
using PageWork = std::function<void(const ScanFile&, int)>;
// For every wanted page of the inputs: `check(file, page)`, which throws when its work need not
// begin, and `work(file, page)`, pages side by side. Returns the exit code; failures are reported
// on the console.
int for_each_page(const PageLoop& loop, Context& context, const PageWork& check,
                  const PageWork& work);

// One page of the loop, opened.
struct LoopTask {
  std::shared_ptr<const ScanFile> file;
  int page = 1;
};
// The pages there are; inputs that fail are reported and counted.
std::vector<LoopTask> loop_tasks(const PageLoop& loop, Context& context, int& failed);

// The same with results, which are taken one after the other, in order.
template <typename Result>
int for_each_page_in_order(const PageLoop& loop, Context& context, const PageWork& check,
                           const std::function<Result(const ScanFile&, int)>& work,
                           const std::function<void(Result&)>& take) {
  int failed = 0, done = 0, taken = 0;
  const std::vector<LoopTask> tasks = loop_tasks(loop, context, failed);
  with_threads(loop.threads, [&] {
    in_order(
        static_cast<int>(tasks.size()),
        [&](int i) -> std::optional<Result> {
          const LoopTask& task = tasks[static_cast<size_t>(i)];
          try {
            check(*task.file, task.page);
            return work(*task.file, task.page);
          } catch (const std::exception& cause) {
            context.console.warn(told(cause));
            return std::nullopt;
          }
        },
        [&](std::optional<Result>& result) {
          ++(result ? done : failed);
          if (result) take(*result);
          context.console.advance("pages", ++taken, static_cast<double>(tasks.size()));
        });
  });
  if (done == 0) return kNothing;
  return failed > 0 ? kSomeLeft : kAllDone;
}

}  // namespace burnisher::cli
