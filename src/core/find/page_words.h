// The words of a page as the index keeps them: numbers of word forms in reading order, what is
// doubtful about them, and their places. Three strings of bytes, so that a search reads no more
// than it needs.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "page/page.h"

namespace burnisher::find {

using FormNumber = uint32_t;

// Another text that may stand in a word's place.
struct OtherForm {
  FormNumber form = 0;
  double share = 0;  // see OtherReading
};

struct IndexedWord {
  FormNumber form = 0;
  FormNumber joined =
      0;  // of both halves of a word parted at the line's end, on the first; 0: none
  FormNumber before = 0;         // what was read before it was corrected; 0: nothing else
  double error_probability = 0;  // in 255ths
  bool by_person = false;
  std::vector<OtherForm> others;
  Box page, scan;  // whole pixels
};

struct IndexedLine {
  size_t first = 0, end = 0;  // its words
  Box page, scan;
  bool right_to_left = false;
};

struct IndexedBlock {
  BlockKind kind = BlockKind::kText;
  size_t first = 0, end = 0;  // its lines
};

struct PageWords {
  std::vector<IndexedBlock> blocks;
  std::vector<IndexedLine> lines;
  std::vector<IndexedWord> words;
};

// Gives the number of a form (from 1), which it remembers.
using FormOf = std::function<FormNumber(const std::string&)>;

// Noise is left out. Halves of a word parted at a line's end are joined with a soft hyphen between
// them, which may be a hyphen of the word's own. A word that was never corrected is as doubtful as
// the recogniser was unsure.
PageWords page_words(const Page& page, const FormOf& form_of);

struct PackedWords {
  std::string forms, doubts, places;
};
PackedWords packed(const PageWords& words);

// Visits every form on a page, joined ones too, without unpacking it. False from `visit` ends it.
template <typename Visit>
void each_form(std::string_view forms, const Visit& visit);

// Throws FormatError for what was not packed so. Empty `doubts` or `places`: not looked at.
PageWords unpacked(std::string_view forms, std::string_view doubts, std::string_view places);

// Visits every other form on a page: readings and what stood there before.
void each_other(std::string_view doubts, const std::function<void(FormNumber)>& visit);

// The word that `page_words` puts at this place, and its line; null for none.
std::pair<const Line*, const Word*> word_on(const Page& page, size_t place);

// Both halves, with a soft hyphen in place of the hyphen.
std::string joined_halves(const std::string& first, const std::string& second);

// What stands in the packed forms: the number above two bits that say what it is.
enum Tag : uint32_t { kWordTag = 0, kJoinedTag = 1, kLineTag = 2, kBlockTag = 3 };

// A number of seven bits a byte, low ones first (LEB128); 0 and the end for what is cut short.
inline uint64_t number_at(std::string_view bytes, size_t& at) {
  uint64_t value = 0;
  for (int shift = 0; at < bytes.size() && shift < 64; shift += 7) {
    const auto byte = static_cast<uint8_t>(bytes[at++]);
    value |= static_cast<uint64_t>(byte & 0x7F) << shift;
    if (byte < 0x80) return value;
  }
  return value;
}

template <typename Visit>
void each_form(std::string_view forms, const Visit& visit) {
  for (size_t at = 0; at < forms.size();) {
    const uint64_t one = number_at(forms, at);
    const auto tag = static_cast<Tag>(one & 3);
    if ((tag == kWordTag || tag == kJoinedTag) && !visit(static_cast<FormNumber>(one >> 2))) return;
  }
}

}  // namespace burnisher::find
