// What the commands share that correct words: the lexicon, repairs, and where changed files go.
#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "find/gather.h"
#include "job/digest.h"

namespace burnisher::cli {

namespace fs = std::filesystem;

void add_word_lists(Command& command, LexiconOptions& options) {
  command
      .option("--words", options.lists,
              "lists of right words, one word a line; the user's own list (see `burnisher "
              "lexicon`) always counts")
      .type_name("FILE")
      .take_all();
}

void add_lexicon_options(Command& command, LexiconOptions& options) {
  add_word_lists(command, options);
  command
      .option("--lang", options.languages,
              "languages of the text, as in en,de (default: those of the lines)")
      .type_name("TAGS");
}

std::unique_ptr<correct::Lexicon> LexiconOptions::open() const {
  auto lexicon = std::make_unique<correct::Lexicon>(dictionary_folders());
  lexicon->add_list(correct::WordList::read(user_word_list()));
  for (const std::string& path : lists) {
    if (!fs::exists(path)) throw InputError(path + ": is not there");
    lexicon->add_list(correct::WordList::read(path));
  }
  return lexicon;
}

std::string LexiconOptions::digest() const {
  std::string all;
  std::vector<std::string> files = lists;
  files.push_back(user_word_list());
  for (const std::string& file : files)
    if (fs::exists(file)) all += job::digest_of_file(file);
  // Dictionaries are large and seldom change: size and time tell.
  for (const std::string& folder : dictionary_folders()) {
    std::error_code status;
    std::vector<std::string> stamps;
    for (const auto& entry : fs::directory_iterator(folder, status)) {
      const job::FileStamp stamp = job::stamp_of(entry.path().string());
      stamps.push_back(entry.path().filename().string() + " " + std::to_string(stamp.size) + " " +
                       std::to_string(stamp.modified));
    }
    std::sort(stamps.begin(), stamps.end());
    for (const std::string& stamp : stamps) all += stamp;
  }
  return job::digest_of(all);
}

std::string missing_dictionary(const std::string& language) {
  return "no dictionary is installed for '" + language +
         "': its words are not looked up (a hunspell dictionary of the language helps)";
}

correct::Repair repair_named(const std::string& name) {
  if (name == "off") return correct::Repair::kOff;
  return name == "all" ? correct::Repair::kAll : correct::Repair::kSafe;
}

void add_repair(Command& command, std::string& repair) {
  command
      .option("--repair", repair,
              "mend words that are not in the lexicon; safe: only where the recogniser saw "
              "the right word, too, and nothing else fits; never figures or codes")
      .one_of({"off", "safe", "all"})
      .default_shown();
}

void add_suspect_limit(Command& command, correct::CorrectSettings& settings) {
  command
      .option("--suspect-above", settings.limit,
              "words more likely wrong than this are suspects, 0 to 1 (default: as learnt)")
      .between(0.0, 1.0);
}

void refresh_indexes(const std::vector<std::string>& inputs, Console& console) {
  for (const std::string& input : inputs) find::refresh_index_of_job(input, console);
}

PageFiles read_page_files(const std::vector<std::string>& inputs, Console& console) {
  PageFiles read;
  std::vector<Problem> problems;
  const std::vector<std::string> paths = page_files(inputs, problems);
  for (const std::string& path : paths) {
    try {
      read.files.push_back(read_page_file(path));
    } catch (const std::exception& cause) {
      problems.push_back(problem_of(cause));
    }
  }
  for (const Problem& problem : problems) console.warn(told(problem));
  read.failed = !problems.empty();
  return read;
}

void ResultPlace::add(Command& command) {
  command.option("--out-dir", folder, "the changed files go here").type_name("DIR");
  command.flag("--overwrite", overwrite,
               "replace files that are there already; without --out-dir the files themselves "
               "are changed");
}

void ResultPlace::check() const {
  if (folder.empty() && !overwrite) {
    throw SettingsError(
        "say where the result goes: --out-dir DIR, or --overwrite to change the files themselves");
  }
}

bool ResultPlace::write(const std::string& path, const std::string& bytes, Console& console) const {
  try {
    if (!folder.empty()) make_folder(folder);
    const fs::path target =
        folder.empty() ? fs::path(path) : fs::path(folder) / fs::path(path).filename();
    write_file(target.string(), bytes, folder.empty() || overwrite);
    return true;
  } catch (const Error& cause) {
    console.warn(told(cause));
    return false;
  }
}

}  // namespace burnisher::cli
