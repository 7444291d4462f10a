// What a person decided about words, kept as a table that the proof sheet writes, that a
// spreadsheet or a script can make, and that is applied to results again and again: a decision is
// tied to the place of the word in the scan, to what was read there and to what the word looks
// like, so that it survives another cleaning or another reading.
//
// Tab-separated, UTF-8, with a heading; columns may stand in any order, others are ignored:
//   id          of the word, may be empty
//   file        the scan's name without folders
//   page        its number within that file, from 1
//   x y width height   of the word, in pixels of the scan
//   look        16 hexadecimal digits: the word's picture in short; may be empty
//   read        what was read
//   decision    right (it is as read), change (to `text`; an empty text removes it), lexicon (it is
//               right and belongs into the user's list), open (not decided)
//   text        the right word or words
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::correct {

enum class Verdict { kRight, kChange, kLexicon, kOpen };

struct Decision {
  std::string id, file;
  int page = 1;
  Box box;  // in the scan
  std::string hash, read;
  Verdict verdict = Verdict::kOpen;
  std::string text;
  int row = 0;  // of the table, from 1; for messages
};

// Throws InputError/FormatError naming the file and the row.
std::vector<Decision> read_decisions(const std::string& path);
std::string decisions_table(const std::vector<Decision>& decisions);
const char* name_of(Verdict verdict);

// The picture of a word in short: whether it darkens from left to right in each cell of a grid.
std::string perceptual_hash(const Gray& page, const Box& box);
// In how many of the 64 cells two pictures differ; 64 when one of them is not known.
int hash_distance(const std::string& look, const std::string& other);

// The word's identity as the proof sheet gives it.
std::string id_of(const Page& page, const Box& scan_box, const std::string& read);

struct Outcome {
  int applied = 0, already = 0;
  std::vector<std::string> problems;       // what does not fit, with the row
  std::vector<std::string> lexicon_words;  // to be added to the user's list
};

// Applies the decisions about these pages' scans. `picture`: the page picture for the looks of
// words; may give an empty one. Applying twice changes nothing. `taken`: which decisions met their
// page, by place in `decisions`.
Outcome apply_decisions(const std::vector<Decision>& decisions,
                        const std::function<Gray(size_t page)>& picture,
                        const std::vector<Page*>& pages, std::vector<bool>& taken);

}  // namespace burnisher::correct
