// A job: a folder that keeps PAGE XML and picture of every page, and what a person decided about
// words.
#pragma once

#include <string>
#include <vector>

#include "correct/decisions.h"
#include "run/documents.h"

namespace burnisher::run {

class JobFolder {
 public:
  // Makes the folder where it is not there. Throws OutputError, and FormatError for decisions that
  // cannot be read.
  explicit JobFolder(const std::string& path);

  // Puts the page's picture there; returns the file's name. Throws OutputError.
  std::string keep_picture(const Picture& picture, const Page& page) const;

  // What a person decided about the page before is done again, and its PAGE XML written beside its
  // picture. Returns what did not fit. Throws OutputError.
  std::vector<std::string> keep(FinishedPage& page);

 private:
  std::string decisions_path() const;

  std::string path_;
  std::vector<correct::Decision> decisions_;
  std::vector<bool> decisions_taken_;
};

// NAME-0007, NAME-0007-left: what files of this page are called in a job. Whatever in the scan's
// name is no sound text is replaced.
std::string page_name_of(const Page& page);

}  // namespace burnisher::run
