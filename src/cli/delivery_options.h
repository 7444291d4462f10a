// What documents are to be like: the options that `run` and `export` share.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "cli/command_line.h"
#include "correct/lexicon.h"
#include "run/delivery.h"

namespace burnisher::cli {

struct DeliveryOptions {
  std::string face, size = "normal", bookmarks = "headings", labels = "read";
  std::string opening = "page", marks, line_ends = "lf";
  std::string report;  // file; empty: none
  std::vector<std::string> replacements;
  run::Delivery delivery;

  void add(Command& command);
  // Takes what was said over into `delivery`.
  void settle(const std::vector<std::string>& languages);

 private:
  // What would fail after the last page, or on every one, is said before the first: files that are
  // missing or cannot be made, typefaces. Throws InputError or OutputError.
  void look_ahead() const;
  void add_pdf(Command& command);
  void add_text(Command& command);
};

// Whether a word is right, in its own language or else in one of `languages`. Empty without a
// lexicon, which must outlive it.
using WordCheck = std::function<bool(const std::string& word, const std::string& language)>;
WordCheck word_check(const correct::Lexicon* lexicon, const std::vector<std::string>& languages);

}  // namespace burnisher::cli
