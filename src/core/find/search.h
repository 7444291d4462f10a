// Every place of what is sought, in the order of the documents.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "correct/confusion_model.h"
#include "find/index.h"
#include "find/term.h"
#include "find/where.h"

namespace burnisher::find {

struct SearchSettings {
  Folding folding;
  bool inside = false;      // in the middle of words, too
  bool near = false;        // misread, too
  bool expression = false;  // what is sought is a regular expression (ICU's) over a line's text
  bool as_read = false;     // also what stood there before it was corrected
  double least_probability = 0.1;  // of a hit; of use with `near`
  std::vector<Condition> where;
  std::vector<correct::Confusion> confusions;  // for `near`
};

// What speaks for a word that was not read, as the probability is made of it.
struct Evidence {
  double error_probability = 0;  // of the word as it was read
  double likelihood = 0;         // of what was seen if it is the sought word
  double letters = 0;            // of the sought word
  double occurrences = 0;        // of what was read, on all pages: what is there often is a word
  double others = 0;             // of the sought word as it is, on all pages
};
// 1, ln of the odds that the reading is wrong, ln of the likelihood, the same for each letter,
// letters, ln of the numbers of occurrences.
constexpr size_t kFeatures = 7;
std::array<double, kFeatures> features_of(const Evidence& evidence);
double probability_of(const Evidence& evidence);

// Words on one page that a hit consists of, by their places on it.
struct HitPart {
  int64_t page = 0;  // see IndexedPage
  int position = 1;
  std::vector<size_t> words;
};

struct Hit {
  size_t sought = 0;    // place among what is sought
  size_t document = 0;  // place among the index's documents
  // How likely it is that what is sought stands there: of what was read so, how sure the reading
  // is; of what was read otherwise, how likely that is a misreading of it.
  double probability = 1;
  bool misread = false;        // found in spite of what was read
  Evidence evidence;           // of its first word, where that was read otherwise
  std::vector<HitPart> parts;  // one; two where it runs over the end of a page
};

// `sought`: each a word, or several with spaces, which stand one after the other; lines, pages and
// hyphens at line ends may lie between. Words of running text are followed from block to block and
// page to page, others within their block. Throws SettingsError for what cannot be sought.
std::vector<Hit> search(const Index& index, const std::vector<std::string>& sought,
                        const SearchSettings& settings);

}  // namespace burnisher::find
