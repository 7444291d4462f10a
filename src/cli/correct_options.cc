// What the commands share that correct words: the lexicon, repairs, and where changed files go.
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"

namespace burnisher::cli {

namespace fs = std::filesystem;

void add_word_lists(CLI::App& command, LexiconOptions& options) {
  command
      .add_option("--words", options.lists,
                  "lists of right words, one word a line; the user's own list (see `burnisher "
                  "lexicon`) always counts")
      ->type_name("FILE")
      ->take_all();
}

void add_lexicon_options(CLI::App& command, LexiconOptions& options) {
  add_word_lists(command, options);
  command
      .add_option("--lang", options.languages,
                  "languages of the text, as in en,de (default: those of the lines)")
      ->type_name("TAGS");
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

std::string missing_dictionary(const std::string& language) {
  return "no dictionary is installed for '" + language +
         "': its words are not looked up (a hunspell dictionary of the language helps)";
}

correct::Repair repair_named(const std::string& name) {
  if (name == "off") return correct::Repair::kOff;
  return name == "all" ? correct::Repair::kAll : correct::Repair::kSafe;
}

void add_repair(CLI::App& command, std::string& repair) {
  command
      .add_option("--repair", repair,
                  "mend words that are not in the lexicon; safe: only where the recogniser saw "
                  "the right word, too, and nothing else fits; never figures or codes")
      ->check(CLI::IsMember({"off", "safe", "all"}))
      ->capture_default_str();
}

void add_doubt(CLI::App& command, correct::CorrectSettings& settings) {
  command
      .add_option("--doubt", settings.limit,
                  "words more likely wrong than this are suspects, 0 to 1 (default: as learnt)")
      ->check(CLI::Range(0.0, 1.0));
}

void ResultPlace::add(CLI::App& command) {
  command.add_option("--out-dir", folder, "the changed files go here")->type_name("DIR");
  command.add_flag("--overwrite", overwrite,
                   "replace files that are there already; without --out-dir the files themselves "
                   "are changed");
}

void ResultPlace::check() const {
  if (folder.empty() && !overwrite) {
    throw SettingsError(
        "say where the result goes: --out-dir DIR, or --overwrite to change the files themselves");
  }
}

void ResultPlace::write(const std::string& path, const std::string& bytes) const {
  if (folder.empty()) {
    write_file(path, bytes, true);
    return;
  }
  fs::create_directories(folder);
  write_file((fs::path(folder) / fs::path(path).filename()).string(), bytes, overwrite);
}

}  // namespace burnisher::cli
