// The lexicon: the words that are right. Installed spelling dictionaries (hunspell's: inflections,
// compounds, capitals), the user's own lists, and the document's own words.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <unordered_map>
#include <unordered_set>
#include <vector>

namespace burnisher::correct {

// A user's list: one word a line, # begins a comment. Kept sorted when written.
class WordList {
 public:
  // A missing file is an empty list. Throws InputError/FormatError for one that cannot be read.
  static WordList read(const std::string& path);
  void write(const std::string& path) const;

  bool contains(const std::string& word) const { return words_.count(word) > 0; }
  bool add(const std::string& word);     // false: it was there
  bool remove(const std::string& word);  // false: it was not there
  const std::vector<std::string>& comments() const { return comments_; }
  std::vector<std::string> sorted() const;

 private:
  std::vector<std::string> comments_;
  std::unordered_set<std::string> words_;
};

// Safe to ask from many threads at once.
class Lexicon {
 public:
  // `folders`: where NAME.aff and NAME.dic lie; earlier ones first.
  explicit Lexicon(std::vector<std::string> folders);
  ~Lexicon();
  Lexicon(const Lexicon&) = delete;
  Lexicon& operator=(const Lexicon&) = delete;

  // Languages (primary tags: "de") that a dictionary is installed for.
  std::vector<std::string> installed() const;
  // Loads the dictionary of a language when it is first asked for.
  bool has(const std::string& language) const;
  // Begins to load the dictionaries of languages that will be asked for, beside other work.
  void prepare(const std::vector<std::string>& languages) const;

  void add_list(const WordList& list);

  // Whether `word` (without punctuation round it) is right in one of the languages, or in a list.
  // Capitals at the beginning and throughout, possessives, apostrophes and hyphens are understood.
  bool knows(const std::string& word, const std::vector<std::string>& languages) const;
  bool listed(const std::string& word) const;

  // The dictionary's own proposals, for words that nothing better is known for. Slow.
  std::vector<std::string> proposals(const std::string& word, const std::string& language) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::correct
