// The built program, run as its users run it: on files in a temporary folder.
#pragma once

#include <string>
#include <vector>

#include "testing/printed_page.h"

namespace burnisher::tests {

struct Outcome {
  int code = -1;
  std::string out, err;
};

// Runs a shell command; `$B` in it is the program.
Outcome shell(const std::string& command);

// The same within the folder.
Outcome in(const testing::TemporaryFolder& folder, const std::string& command);

// White space as single blanks, soft hyphens as hyphens: what counts of a text in any viewer.
std::string folded(const std::string& text);

bool contains(const std::string& text, const std::string& part);
std::string content_of(const std::string& path);
void put(const std::string& path, const std::string& content);

// How much two pictures look alike: the darkness they share, 0-1, seen at a third of the other's
// size. `finer`: how many pixels of the picture stand for one of the other's, either way.
double likeness(const std::string& picture, const std::string& other, int finer = 1);

// A page of the keeper's log as a scan, turned by `degrees`; PNG with 300 dpi.
std::string log_page(const testing::TemporaryFolder& folder, const std::string& name,
                     double degrees = 0);
// The lines printed on it.
const std::vector<std::string>& log_lines();

}  // namespace burnisher::tests
