// The languages whose habits of spelling are known, and which of them a text is in.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "recognise/language_model.h"

namespace burnisher::recognise {

class Languages {
 public:
  // `files`: language models by their languages. They are read when they are first needed, and
  // checked then.
  explicit Languages(const std::map<std::string, std::string>& files);
  ~Languages();

  const std::vector<std::string>& tags() const { return tags_; }
  bool knows(const std::string& tag) const;

  // The language of each line, by the letter sequences of the line and of those near it; "" where
  // there are too few letters to tell. `among`: languages that may occur; empty: all.
  std::vector<std::string> guess(const std::vector<std::string>& lines,
                                 const std::vector<std::string>& among) const;

  // How well a line is spelled in that of the languages it is spelled best in: the mean natural
  // logarithm of its letters' probabilities. Nothing where it has too few letters to tell.
  std::optional<double> spelled(const std::string& line,
                                const std::vector<std::string>& among) const;

  // Null for languages not known. Safe to call from many threads.
  std::shared_ptr<const LanguageModel> model(const std::string& tag) const;

 private:
  struct Cache;
  std::vector<std::string> tags_;
  std::unique_ptr<Cache> cache_;
};

}  // namespace burnisher::recognise
