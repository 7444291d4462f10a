// The texts of training lines: running text and words of many languages, and what prose lacks:
// numbers, codes, prices, dates, addresses, rare letters, capitals, punctuation, leaders.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "base/random.h"
#include "recognise/alphabet.h"
#include "recognise/scripts.h"

namespace burnisher::train {

class TextSource {
 public:
  // Reads every LANG.running.txt and LANG.words.txt of `folder`. The last 7 % of each file are
  // kept for validation: `held` draws from them alone. Throws InputError.
  // `prose_of`: only this language, and mostly running text, as printed pages are; "": everything.
  // `script` (ISO 15924): texts of this script; for another than Latin also some Latin lines, and
  // Latin words and figures inside lines.
  TextSource(const std::string& folder, const recognise::Alphabet& alphabet, bool held,
             const std::string& prose_of = "", const std::string& script = "Latn");

  const recognise::Script& script() const { return script_; }

  // The languages of a script (ISO 15924) that have running text in `folder`.
  static std::vector<std::string> languages_in(const std::string& folder,
                                               const std::string& script = "Latn");

  // One line of at most `longest` characters, none of them outside the alphabet, no space at its
  // ends and none doubled.
  std::vector<char32_t> draw(int longest, bool damaged, Random& random) const;

 private:
  struct Language {
    std::string tag;
    std::vector<std::string> running;
    std::vector<std::string> words;
    bool own = true;  // of the script; others are guests in its lines
    std::vector<char32_t>
        standard;  // characters of a script of squares, as its standard lists them
  };

  const Language& language(bool with_running, Random& random) const;
  const Language& drawn(bool with_running, bool own, Random& random) const;
  std::vector<char32_t> prose(int longest, Random& random) const;
  std::vector<char32_t> running(int longest, Random& random) const;
  std::vector<char32_t> words(int longest, Random& random) const;
  std::vector<char32_t> cut_out(std::vector<char32_t> paragraph, int longest, Random& random) const;
  std::vector<char32_t> any_character(int longest, Random& random) const;
  std::vector<char32_t> line_of_squares(int longest, Random& random) const;
  void widen(std::vector<char32_t>& line, Random& random) const;
  std::vector<char32_t> rare_letters(int longest, Random& random) const;
  std::vector<char32_t> punctuated(int longest, Random& random) const;
  std::vector<char32_t> leader(int longest, Random& random) const;
  std::vector<char32_t> figures(int longest, Random& random) const;
  std::vector<char32_t> any_line(int longest, bool damaged, Random& random) const;
  void put_guests_in(std::vector<char32_t>& line, Random& random) const;
  void use_own_digits(std::vector<char32_t>& line, Random& random) const;
  void close_verses(std::vector<char32_t>& line, Random& random) const;
  void put_points_on(std::vector<char32_t>& line, Random& random) const;
  std::vector<char32_t> cleaned(std::vector<char32_t> line) const;
  std::vector<char32_t> fitted(std::vector<char32_t> line, int longest) const;

  recognise::Alphabet alphabet_;
  const recognise::Script& script_;
  bool prose_ = false;
  std::vector<Language> languages_;
  std::vector<char32_t> rare_;   // non-ASCII letters of the alphabet
  std::vector<char32_t> signs_;  // everything that is neither letter nor digit nor space
};

}  // namespace burnisher::train
