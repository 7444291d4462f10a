// What the commands share that look words up: lists of words, languages, dictionaries.
#include "base/error.h"
#include "cli/commands.h"

namespace burnisher::cli {

void add_lexicon_options(CLI::App& command, LexiconOptions& options) {
  command
      .add_option("--words", options.lists,
                  "lists of right words, one word a line; the user's own list (see `burnisher "
                  "lexicon`) always counts")
      ->type_name("FILE")
      ->take_all();
  command
      .add_option("--lang", options.languages,
                  "languages of the text, as in en,de (default: those of the lines)")
      ->type_name("TAGS");
}

std::unique_ptr<correct::Lexicon> LexiconOptions::open() const {
  auto lexicon = std::make_unique<correct::Lexicon>(dictionary_folders());
  lexicon->add_list(correct::WordList::read(user_word_list()));
  for (const std::string& path : lists) {
    if (!std::filesystem::exists(path)) throw InputError(path + ": is not there");
    lexicon->add_list(correct::WordList::read(path));
  }
  return lexicon;
}

std::string missing_dictionary(const std::string& language) {
  return "no dictionary is installed for '" + language +
         "': its words are not looked up (a hunspell dictionary of the language helps)";
}

}  // namespace burnisher::cli
