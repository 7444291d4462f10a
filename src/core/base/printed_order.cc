#include "base/printed_order.h"

#include <unicode/ubidi.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>
#include <unicode/uscript.h>

#include <algorithm>
#include <numeric>

namespace burnisher {
namespace {

constexpr char32_t kSignI = 0x93F, kNukta = 0x93C, kVirama = 0x94D;

// Whether the characters are printed as they are typed: the usual case, told without asking ICU.
bool is_plain(const std::vector<char32_t>& text) {
  return std::none_of(text.begin(), text.end(), [](char32_t c) {
    return (c >= 0x590 && c < 0x900) || c == kSignI || (c >= 0xFB1D && c < 0xFE00) ||
           (c >= 0xFE70 && c < 0xFF00) || (c >= 0x10800 && c < 0x11000) ||
           (c >= 0x1E800 && c < 0x1F000);
  });
}

bool is_devanagari_consonant(char32_t c) {
  return (c >= 0x915 && c <= 0x939) || (c >= 0x958 && c <= 0x95F);
}

// The start of the consonants that end at `end`: joined by viramas, each with or without nukta.
size_t start_of_consonants(const std::vector<PrintedCharacter>& line, size_t end) {
  size_t at = end;
  for (;;) {
    size_t before = at;
    if (before > 0 && line[before - 1].character == kNukta) --before;
    if (before == 0 || !is_devanagari_consonant(line[before - 1].character)) return at;
    at = before - 1;
    if (at == 0 || line[at - 1].character != kVirama) return at;
    --at;
  }
}

void put_sign_i_before(std::vector<PrintedCharacter>& line) {
  for (size_t i = 0; i < line.size(); ++i) {
    if (line[i].character != kSignI) continue;
    const size_t start = start_of_consonants(line, i);
    std::rotate(line.begin() + static_cast<long>(start), line.begin() + static_cast<long>(i),
                line.begin() + static_cast<long>(i) + 1);
  }
}

void put_sign_i_behind(std::vector<PrintedCharacter>& line) {
  for (size_t i = line.size(); i-- > 0;) {
    if (line[i].character != kSignI) continue;
    size_t end = i + 1;
    while (end < line.size() && is_devanagari_consonant(line[end].character)) {
      ++end;
      if (end < line.size() && line[end].character == kNukta) ++end;
      if (end + 1 >= line.size() || line[end].character != kVirama ||
          !is_devanagari_consonant(line[end + 1].character))
        break;
      ++end;
    }
    std::rotate(line.begin() + static_cast<long>(i), line.begin() + static_cast<long>(i) + 1,
                line.begin() + static_cast<long>(end));
  }
}

// A letter with its marks.
struct Cluster {
  size_t from = 0;
  size_t count = 0;
};

template <class CharacterAt>
std::vector<Cluster> clusters_of(size_t from, size_t count, const CharacterAt& at) {
  std::vector<Cluster> clusters;
  for (size_t i = from; i < from + count; ++i) {
    if (!clusters.empty() && is_mark(at(i)))
      ++clusters.back().count;
    else
      clusters.push_back({i, 1});
  }
  return clusters;
}

enum class Kind { kRight, kLeft, kNumber, kArabicNumber, kSeparator, kSign, kTerminator, kNeutral };

Kind kind_of(char32_t c) {
  switch (u_charDirection(static_cast<UChar32>(c))) {
    case U_RIGHT_TO_LEFT:
    case U_RIGHT_TO_LEFT_ARABIC:
      return Kind::kRight;
    case U_LEFT_TO_RIGHT:
      return Kind::kLeft;
    case U_EUROPEAN_NUMBER:
      return Kind::kNumber;
    case U_ARABIC_NUMBER:
      return Kind::kArabicNumber;
    case U_COMMON_NUMBER_SEPARATOR:
      return Kind::kSeparator;
    case U_EUROPEAN_NUMBER_SEPARATOR:
      return Kind::kSign;
    case U_EUROPEAN_NUMBER_TERMINATOR:
      return Kind::kTerminator;
    default:
      return Kind::kNeutral;
  }
}

// The end of the run from left to right that begins at `at` in a line from right to left; `at`
// where none does.
size_t end_of_left_run(const std::vector<Kind>& kinds, size_t at) {
  const size_t n = kinds.size();
  const auto is = [&](size_t i, Kind k) { return i < n && kinds[i] == k; };
  if (is(at, Kind::kLeft)) {
    size_t end = at + 1;
    const auto number = [&](size_t i) {
      return kinds[i] == Kind::kNumber || kinds[i] == Kind::kArabicNumber;
    };
    for (size_t i = end; i < n && kinds[i] != Kind::kRight; ++i)
      if (kinds[i] == Kind::kLeft || number(i)) end = i + 1;
    while (is(end, Kind::kTerminator) && number(end - 1)) ++end;
    return end;
  }
  size_t digits = at;
  while (is(digits, Kind::kTerminator)) ++digits;
  const Kind number = is(at, Kind::kArabicNumber) ? Kind::kArabicNumber : Kind::kNumber;
  if (!is(digits, number)) return at;
  size_t end = digits;
  while (is(end, number)) {
    while (is(end, number)) ++end;
    const bool joined =
        is(end, Kind::kSeparator) || (number == Kind::kNumber && is(end, Kind::kSign));
    if (joined && is(end + 1, number)) ++end;
  }
  if (number == Kind::kNumber)
    while (is(end, Kind::kTerminator)) ++end;
  return end;
}

// The end of the run from right to left that begins at `at` in a line from left to right.
size_t end_of_right_run(const std::vector<Kind>& kinds, size_t at) {
  if (kinds[at] != Kind::kRight) return at;
  size_t end = at + 1;
  for (size_t i = end; i < kinds.size() && kinds[i] != Kind::kLeft; ++i)
    if (kinds[i] == Kind::kRight) end = i + 1;
  return end;
}

}  // namespace

bool is_mark(char32_t character) {
  return (U_MASK(u_charType(static_cast<UChar32>(character))) & U_GC_M_MASK) != 0;
}

bool is_right_to_left(char32_t character) {
  return kind_of(character) == Kind::kRight;
}

bool runs_right_to_left(const std::vector<char32_t>& text) {
  if (is_plain(text)) return false;
  int right = 0, left = 0;
  for (const char32_t c : text) {
    const Kind kind = kind_of(c);
    right += kind == Kind::kRight;
    left += kind == Kind::kLeft;
  }
  return right > 0 && right >= left;
}

bool script_runs_right_to_left(const std::string& script) {
  UErrorCode status = U_ZERO_ERROR;
  UScriptCode code = USCRIPT_UNKNOWN;
  uscript_getCode(script.c_str(), &code, 1, &status);
  return U_SUCCESS(status) && uscript_isRightToLeft(code);
}

bool runs_right_to_left(const std::vector<char32_t>& text, const std::string& script) {
  if (is_plain(text)) return false;
  if (script.empty()) return runs_right_to_left(text);
  return script_runs_right_to_left(script) &&
         std::any_of(text.begin(), text.end(), is_right_to_left);
}

std::vector<DirectionRun> direction_runs(const std::vector<char32_t>& text, bool right_to_left) {
  if (!right_to_left && is_plain(text)) return {{0, text.size(), false}};
  const icu::UnicodeString logical = icu::UnicodeString::fromUTF32(
      reinterpret_cast<const UChar32*>(text.data()), static_cast<int32_t>(text.size()));
  UBiDi* bidi = ubidi_open();
  UErrorCode status = U_ZERO_ERROR;
  ubidi_setPara(bidi, logical.getBuffer(), logical.length(), right_to_left ? 1 : 0, nullptr,
                &status);
  const int32_t count = ubidi_countRuns(bidi, &status);
  std::vector<DirectionRun> runs;
  for (int32_t i = 0; U_SUCCESS(status) && i < count; ++i) {
    int32_t start = 0, length = 0;
    const UBiDiDirection direction = ubidi_getVisualRun(bidi, i, &start, &length);
    // UTF-16 units back to characters.
    runs.push_back({static_cast<size_t>(logical.countChar32(0, start)),
                    static_cast<size_t>(logical.countChar32(start, length)),
                    direction == UBIDI_RTL});
  }
  ubidi_close(bidi);
  return runs;
}

std::vector<PrintedCharacter> printed_order(const std::vector<char32_t>& text, bool right_to_left) {
  std::vector<PrintedCharacter> line;
  for (const DirectionRun& run : direction_runs(text, right_to_left)) {
    if (!run.right_to_left) {
      for (size_t i = run.from; i < run.from + run.count; ++i) line.push_back({text[i], i});
      continue;
    }
    auto clusters = clusters_of(run.from, run.count, [&](size_t i) { return text[i]; });
    std::reverse(clusters.begin(), clusters.end());
    for (const Cluster& c : clusters)
      for (size_t i = c.from; i < c.from + c.count; ++i)
        line.push_back({static_cast<char32_t>(u_charMirror(static_cast<UChar32>(text[i]))), i});
  }
  put_sign_i_before(line);
  return line;
}

std::vector<char32_t> as_printed(const std::vector<char32_t>& text) {
  if (is_plain(text)) return text;
  std::vector<char32_t> printed;
  for (const PrintedCharacter& c : printed_order(text, runs_right_to_left(text)))
    printed.push_back(c.character);
  return printed;
}

std::vector<char32_t> logical_order(const std::vector<char32_t>& printed, bool right_to_left,
                                    std::vector<size_t>* sources) {
  if (!right_to_left && is_plain(printed)) {
    if (sources != nullptr) {
      sources->resize(printed.size());
      std::iota(sources->begin(), sources->end(), size_t{0});
    }
    return printed;
  }
  const auto clusters = clusters_of(0, printed.size(), [&](size_t i) { return printed[i]; });
  std::vector<Kind> kinds;
  for (const Cluster& c : clusters) kinds.push_back(kind_of(printed[c.from]));
  // After Arabic letters, which stand to the right, European digits join as Arabic ones do (W2).
  bool arabic = false;
  for (size_t i = clusters.size(); i-- > 0;) {
    const auto first = static_cast<UChar32>(printed[clusters[i].from]);
    if (kinds[i] == Kind::kRight) arabic = u_charDirection(first) == U_RIGHT_TO_LEFT_ARABIC;
    if (kinds[i] == Kind::kNumber && arabic) kinds[i] = Kind::kArabicNumber;
  }
  std::vector<PrintedCharacter> line;
  const auto put = [&](const Cluster& c, bool mirrored) {
    for (size_t i = c.from; i < c.from + c.count; ++i)
      line.push_back({mirrored
                          ? static_cast<char32_t>(u_charMirror(static_cast<UChar32>(printed[i])))
                          : printed[i],
                      i});
  };
  // Clusters [from, to), which run from right to left but for the runs in them that don't.
  const auto put_from_the_right = [&](size_t from, size_t to) {
    std::vector<std::pair<size_t, size_t>> runs;  // of one direction, from the left
    for (size_t i = from; i < to;) {
      const size_t end = std::min(to, std::max(i + 1, end_of_left_run(kinds, i)));
      runs.emplace_back(i, end);
      i = end;
    }
    for (size_t r = runs.size(); r-- > 0;) {
      const bool mirrored = end_of_left_run(kinds, runs[r].first) == runs[r].first;
      for (size_t i = runs[r].first; i < runs[r].second; ++i) put(clusters[i], mirrored);
    }
  };
  if (right_to_left) {
    put_from_the_right(0, clusters.size());
  } else {
    for (size_t i = 0; i < clusters.size();) {
      const size_t end = end_of_right_run(kinds, i);
      if (end > i) {
        put_from_the_right(i, end);
        i = end;
      } else {
        put(clusters[i++], false);
      }
    }
  }
  put_sign_i_behind(line);
  std::vector<char32_t> text;
  if (sources != nullptr) sources->clear();
  for (const PrintedCharacter& c : line) {
    text.push_back(c.character);
    if (sources != nullptr) sources->push_back(c.source);
  }
  return text;
}

}  // namespace burnisher
