#include "find/page_words.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::find {
namespace {

constexpr double kSteps = 255;     // of a probability
constexpr size_t kMostOthers = 6;  // readings of a word that are kept
constexpr double kLeastShare = 0.002;

enum DoubtFlag : uint8_t { kHasBefore = 1, kByPerson = 2, kOthersShift = 4 };

void put(std::string& to, uint64_t value) {
  for (; value >= 0x80; value >>= 7) to += static_cast<char>(0x80 | (value & 0x7F));
  to += static_cast<char>(value);
}

// Small numbers of either sign become small ones without.
void put_signed(std::string& to, int64_t value) {
  put(to, (static_cast<uint64_t>(value) << 1) ^ static_cast<uint64_t>(value >> 63));
}

int64_t signed_at(std::string_view bytes, size_t& at) {
  const uint64_t value = number_at(bytes, at);
  return static_cast<int64_t>(value >> 1) ^ -static_cast<int64_t>(value & 1);
}

// A box as seen from where the one before it ended.
struct BoxCoder {
  int64_t x = 0, y = 0;
  void put_box(std::string& to, const Box& box) {
    const int64_t x0 = std::llround(box.x0), y0 = std::llround(box.y0), x1 = std::llround(box.x1),
                  y1 = std::llround(box.y1);
    put_signed(to, x0 - x);
    put_signed(to, y0 - y);
    put_signed(to, x1 - x0);
    put_signed(to, y1 - y0);
    x = x1;
    y = y0;
  }
  Box box_at(std::string_view bytes, size_t& at) {
    const int64_t x0 = x + signed_at(bytes, at), y0 = y + signed_at(bytes, at),
                  x1 = x0 + signed_at(bytes, at), y1 = y0 + signed_at(bytes, at);
    x = x1;
    y = y0;
    return {static_cast<double>(x0), static_cast<double>(y0), static_cast<double>(x1),
            static_cast<double>(y1)};
  }
};

uint8_t step_of(double probability) {
  return static_cast<uint8_t>(std::lround(kSteps * std::clamp(probability, 0.0, 1.0)));
}

IndexedWord indexed(const Word& word, const Page& page, const FormOf& form_of) {
  IndexedWord one;
  one.form = form_of(word.text);
  one.by_person = word.corrected == CorrectedBy::kPerson;
  if (word.corrected != CorrectedBy::kNobody && !word.before.empty() && word.before != word.text)
    one.before = form_of(word.before);
  if (one.by_person)
    one.error_probability = 0;
  else
    one.error_probability =
        word.error_probability > 0 ? word.error_probability : 1 - word.confidence;
  for (const OtherReading& reading : word.readings) {
    if (one.by_person || one.others.size() == kMostOthers) break;
    if (reading.share >= kLeastShare && reading.text != word.text && !reading.text.empty())
      one.others.push_back({form_of(reading.text), reading.share});
  }
  one.page = word.box;
  one.scan = placed(word.box, page, Positions::kScan);
  return one;
}

// A word that ends a line and goes on at the beginning of the next.
void join_halves(PageWords& words, const std::vector<const std::string*>& texts, size_t line,
                 size_t next, const FormOf& form_of) {
  const size_t last = words.lines[line].end - 1, first = words.lines[next].first;
  if (!ends_with_hyphen(utf32_of(*texts[last]))) return;
  const std::vector<char32_t> after = decode_utf8(*texts[first]);
  if (!after.empty() && is_letter(after.front()))
    words.words[last].joined = form_of(joined_halves(*texts[last], *texts[first]));
}

// Within blocks, and from one block of running text to the next.
void join_all_halves(PageWords& words, const std::vector<const std::string*>& texts,
                     const FormOf& form_of) {
  size_t before = words.lines.size();  // the last line of running text so far; none
  for (const IndexedBlock& block : words.blocks) {
    const bool main = block.kind == BlockKind::kText;
    if (main && before < words.lines.size())
      join_halves(words, texts, before, block.first, form_of);
    if (main) before = block.end - 1;
    if (block.kind == BlockKind::kTable) continue;
    for (size_t l = block.first; l + 1 < block.end; ++l)
      join_halves(words, texts, l, l + 1, form_of);
  }
}

}  // namespace

std::string joined_halves(const std::string& first, const std::string& second) {
  std::u32string whole = utf32_of(first);
  whole.back() = U'\u00AD';
  whole += utf32_of(second);
  return utf8_of(whole);
}

PageWords page_words(const Page& page, const FormOf& form_of) {
  PageWords result;
  std::vector<const std::string*> texts;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    IndexedBlock indexed_block{block.kind, result.lines.size(), 0};
    for (const Line& line : block.lines) {
      if (line.words.empty()) continue;
      IndexedLine one;
      one.first = result.words.size();
      for (const Word& word : line.words) {
        if (word.text.empty()) continue;
        result.words.push_back(indexed(word, page, form_of));
        texts.push_back(&word.text);
      }
      one.end = result.words.size();
      one.page = line.box;
      one.scan = placed(line.box, page, Positions::kScan);
      one.right_to_left = line.right_to_left();
      if (one.end > one.first) result.lines.push_back(one);
    }
    indexed_block.end = result.lines.size();
    if (indexed_block.end == indexed_block.first) continue;
    result.blocks.push_back(indexed_block);
  }
  join_all_halves(result, texts, form_of);
  return result;
}

std::pair<const Line*, const Word*> word_on(const Page& page, size_t place) {
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines)
      for (const Word& word : line.words)
        if (!word.text.empty() && place-- == 0) return {&line, &word};
  }
  return {nullptr, nullptr};
}

PackedWords packed(const PageWords& words) {
  PackedWords to;
  BoxCoder on_page, on_scan;
  for (const IndexedBlock& block : words.blocks) {
    put(to.forms, (static_cast<uint64_t>(block.kind) << 2) | kBlockTag);
    for (size_t l = block.first; l < block.end; ++l) {
      const IndexedLine& line = words.lines[l];
      put(to.forms, (static_cast<uint64_t>(line.right_to_left) << 2) | kLineTag);
      on_page.put_box(to.places, line.page);
      on_scan.put_box(to.places, line.scan);
      on_page.x = std::llround(line.page.x0);
      on_scan.x = std::llround(line.scan.x0);
      for (size_t w = line.first; w < line.end; ++w) {
        const IndexedWord& word = words.words[w];
        put(to.forms, (static_cast<uint64_t>(word.form) << 2) | kWordTag);
        if (word.joined != 0) put(to.forms, (static_cast<uint64_t>(word.joined) << 2) | kJoinedTag);
        to.doubts += static_cast<char>(step_of(word.error_probability));
        to.doubts += static_cast<char>((word.before != 0 ? kHasBefore : 0) |
                                       (word.by_person ? kByPerson : 0) |
                                       (word.others.size() << kOthersShift));
        if (word.before != 0) put(to.doubts, word.before);
        for (const OtherForm& other : word.others) {
          put(to.doubts, other.form);
          to.doubts += static_cast<char>(step_of(other.share));
        }
        on_page.put_box(to.places, word.page);
        on_scan.put_box(to.places, word.scan);
      }
    }
  }
  return to;
}

PageWords unpacked(std::string_view forms, std::string_view doubts, std::string_view places) {
  PageWords to;
  BoxCoder on_page, on_scan;
  size_t doubt = 0, place = 0;
  const auto close_line = [&] {
    if (!to.lines.empty()) to.lines.back().end = to.words.size();
    if (!to.blocks.empty()) to.blocks.back().end = to.lines.size();
  };
  for (size_t at = 0; at < forms.size();) {
    const uint64_t one = number_at(forms, at);
    const uint64_t value = one >> 2;
    switch (static_cast<Tag>(one & 3)) {
      case kBlockTag:
        close_line();
        to.blocks.push_back({static_cast<BlockKind>(value), to.lines.size(), to.lines.size()});
        break;
      case kLineTag: {
        close_line();
        IndexedLine line;
        line.first = line.end = to.words.size();
        line.right_to_left = value != 0;
        if (!places.empty()) {
          line.page = on_page.box_at(places, place);
          line.scan = on_scan.box_at(places, place);
          on_page.x = std::llround(line.page.x0);
          on_scan.x = std::llround(line.scan.x0);
        }
        to.lines.push_back(line);
        break;
      }
      case kJoinedTag:
        if (!to.words.empty()) to.words.back().joined = static_cast<FormNumber>(value);
        break;
      case kWordTag: {
        IndexedWord word;
        word.form = static_cast<FormNumber>(value);
        if (doubt + 1 < doubts.size()) {
          word.error_probability = static_cast<uint8_t>(doubts[doubt++]) / kSteps;
          const auto flags = static_cast<uint8_t>(doubts[doubt++]);
          word.by_person = (flags & kByPerson) != 0;
          if ((flags & kHasBefore) != 0)
            word.before = static_cast<FormNumber>(number_at(doubts, doubt));
          for (int i = 0; i < flags >> kOthersShift && doubt < doubts.size(); ++i) {
            OtherForm other;
            other.form = static_cast<FormNumber>(number_at(doubts, doubt));
            if (doubt < doubts.size()) other.share = static_cast<uint8_t>(doubts[doubt++]) / kSteps;
            word.others.push_back(other);
          }
        }
        if (!places.empty()) {
          word.page = on_page.box_at(places, place);
          word.scan = on_scan.box_at(places, place);
        }
        if (to.lines.empty()) throw FormatError("the index is damaged: a word without a line");
        to.words.push_back(std::move(word));
        break;
      }
    }
  }
  close_line();
  return to;
}

void each_other(std::string_view doubts, const std::function<void(FormNumber)>& visit) {
  for (size_t at = 0; at + 1 < doubts.size();) {
    ++at;
    const auto flags = static_cast<uint8_t>(doubts[at++]);
    if ((flags & kHasBefore) != 0) visit(static_cast<FormNumber>(number_at(doubts, at)));
    for (int i = 0; i < flags >> kOthersShift; ++i) {
      visit(static_cast<FormNumber>(number_at(doubts, at)));
      ++at;
    }
  }
}

}  // namespace burnisher::find
