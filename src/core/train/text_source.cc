#include "train/text_source.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "base/error.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "recognise/ideographs.h"
#include "train/text_patterns.h"

namespace burnisher::train {
namespace {

using Text = std::vector<char32_t>;

constexpr double kHeldShare = 0.07;    // of the texts, to validate on
constexpr double kGuestLines = 0.1;    // share of Latin lines where another script is learnt
constexpr double kGuestWords = 0.18;   // share of its lines with Latin words or figures in them
constexpr double kOwnDigits = 0.6;     // share of its lines whose digits are the script's own
constexpr double kPointed = 0.07;      // share of its lines with points on the letters
constexpr double kDoubleDanda = 0.15;  // of the dandas
constexpr double kAnyCharacter = 0.6;  // share of lines of squares that are drawn from the standard
constexpr double kAnySyllable = 0.25;  // of these in Korean, from all that can be formed
constexpr double kWide = 0.12;         // share of lines of squares whose ASCII is of full width
constexpr char32_t kNonJoiner = 0x200C;
constexpr size_t kMostEntries = 120000;  // entries kept of one file: more adds no variety

void append(Text& line, const Text& more) {
  line.insert(line.end(), more.begin(), more.end());
}

}  // namespace

std::vector<std::string> TextSource::languages_in(const std::string& folder,
                                                  const std::string& script) {
  std::vector<std::string> tags;
  std::error_code failed;
  for (const auto& entry : std::filesystem::directory_iterator(folder, failed)) {
    const std::filesystem::path stem = entry.path().stem();
    const bool running = entry.path().extension() == ".txt" && stem.extension() == ".running";
    if (running && script_of_language(stem.stem()) == script) tags.push_back(stem.stem());
  }
  std::sort(tags.begin(), tags.end());
  return tags;
}

TextSource::TextSource(const std::string& folder, const recognise::Alphabet& alphabet, bool held,
                       const std::string& prose_of, const std::string& script)
    : alphabet_(alphabet), script_(recognise::script_named(script)), prose_(!prose_of.empty()) {
  namespace fs = std::filesystem;
  std::map<std::string, Language> found;
  std::vector<fs::path> files;
  std::error_code failed;
  for (const auto& entry : fs::directory_iterator(folder, failed)) files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  for (const fs::path& path : files) {
    if (path.extension() != ".txt") continue;
    const std::string kind = path.stem().extension();
    const std::string tag = path.stem().stem();
    if (prose_ && tag != prose_of) continue;
    const std::string of = script_of_language(tag);
    if (of != script && of != "Latn") continue;
    std::ifstream file(path);
    std::vector<std::string> lines;
    for (std::string line; std::getline(file, line);) lines.push_back(line);
    const auto cut = static_cast<size_t>(static_cast<double>(lines.size()) * (1 - kHeldShare));
    std::vector<std::string> part(lines.begin() + static_cast<long>(held ? cut : 0),
                                  held ? lines.end() : lines.begin() + static_cast<long>(cut));
    if (part.size() > kMostEntries) {
      const size_t step = part.size() / kMostEntries + 1;
      std::vector<std::string> thinned;
      for (size_t i = 0; i < part.size(); i += step) thinned.push_back(part[i]);
      part = thinned;
    }
    found[tag].tag = tag;
    found[tag].own = of == script;
    if (found[tag].own && script_.squares != nullptr && found[tag].standard.empty())
      found[tag].standard = decode_utf8(recognise::characters_of_language(tag));
    (kind == ".running" ? found[tag].running : found[tag].words) = part;
  }
  bool any_own = false;
  for (auto& [tag, language] : found) {
    any_own = any_own || language.own;
    languages_.push_back(std::move(language));
  }
  if (!any_own) {
    throw InputError(folder + ": no LANG.running.txt or LANG.words.txt in " + script_.name +
                     " script in it; scripts/training-corpus writes them");
  }
  for (int k = 1; k < alphabet_.class_count(); ++k) {
    const char32_t c = alphabet_.character(k);
    const bool of_script = script_.code == "Latn" || script_of(c) == script_.code;
    if (c > 127 && is_letter(c) && of_script) rare_.push_back(c);
    if (!is_letter(c) && !is_digit(c) && !is_mark(c) && c != U' ' && c != kNonJoiner)
      signs_.push_back(c);
  }
}

const TextSource::Language& TextSource::language(bool with_running, Random& random) const {
  const bool guests = script_.code != "Latn" && random.chance(kGuestLines);
  return drawn(with_running, !guests, random);
}

const TextSource::Language& TextSource::drawn(bool with_running, bool own, Random& random) const {
  double total = 0;
  const auto weight = [&](const Language& l) {
    if (l.own != own) return 0.0;
    const size_t size = with_running ? l.running.size() : l.words.size();
    return std::pow(static_cast<double>(size), 0.4) * (l.tag == "en" ? 2.5 : 1);
  };
  for (const Language& l : languages_) total += weight(l);
  const auto of_script = [&](const Language& l) { return l.own == own; };
  const auto first = std::find_if(languages_.begin(), languages_.end(), of_script);
  if (total == 0) return first == languages_.end() ? languages_.front() : *first;
  double at = random.uniform() * total;
  for (const Language& l : languages_) {
    at -= weight(l);
    if (at <= 0 && weight(l) > 0) return l;
  }
  return *first;
}

Text TextSource::running(int longest, Random& random) const {
  const Language& from = language(true, random);
  if (from.running.empty()) return words(longest, random);
  const auto one = [&] {
    return decode_utf8(from.running[static_cast<size_t>(random.index(from.running.size()))]);
  };
  Text paragraph = one();
  // Most texts of the other scripts are short messages.
  while (from.own && script_.code != "Latn" && static_cast<int>(paragraph.size()) < longest &&
         random.chance(0.7)) {
    if (script_.spaced) paragraph.push_back(U' ');
    append(paragraph, one());
  }
  if (from.own && !script_.spaced) return cut_out(std::move(paragraph), longest, random);
  size_t start = 0;
  if (paragraph.size() > static_cast<size_t>(longest)) {
    start = static_cast<size_t>(random.index(paragraph.size() - static_cast<size_t>(longest) / 2));
    while (start > 0 && paragraph[start - 1] != U' ') --start;
  }
  size_t end = std::min(paragraph.size(), start + static_cast<size_t>(longest));
  const size_t hard_end = end;
  while (end < paragraph.size() && end > start && paragraph[end] != U' ') --end;
  bool hyphen = false;
  if (end == start || random.chance(0.12)) {
    // A word broken at the line's end.
    end = hard_end;
    hyphen = end < paragraph.size() && is_letter(paragraph[end]) && is_letter(paragraph[end - 1]);
  }
  Text line(paragraph.begin() + static_cast<long>(start),
            paragraph.begin() + static_cast<long>(end));
  if (hyphen) line.push_back(U'-');
  if (random.chance(0.55)) make_typographic(line, random);
  if ((from.tag == "en" || from.tag == "de") && random.chance(0.06)) use_long_s(line);
  return line;
}

// Without words kept apart a line ends anywhere.
Text TextSource::cut_out(Text paragraph, int longest, Random& random) const {
  if (paragraph.size() <= static_cast<size_t>(longest)) return paragraph;
  const auto start = random.index(static_cast<int>(paragraph.size()) - longest / 2);
  const auto end = std::min(static_cast<int>(paragraph.size()), start + longest);
  return Text(paragraph.begin() + start, paragraph.begin() + end);
}

// Each character of a language's standard as often as any other, so that rare ones are learnt.
Text TextSource::any_character(int longest, Random& random) const {
  constexpr char32_t kFirst = 0xAC00;
  constexpr int kSyllables = 11172;
  const Language& from = drawn(true, true, random);
  if (from.standard.empty()) return words(longest, random);
  const bool any = script_.code == "Hang" && random.chance(kAnySyllable);
  Text line;
  while (static_cast<int>(line.size()) < longest) {
    line.push_back(any ? kFirst + static_cast<char32_t>(random.index(kSyllables))
                       : from.standard[static_cast<size_t>(random.index(from.standard.size()))]);
    if (random.chance(0.06) && !signs_.empty())
      line.push_back(signs_[static_cast<size_t>(random.index(signs_.size()))]);
    if (script_.spaced && random.chance(0.2)) line.push_back(U' ');
  }
  return line;
}

Text TextSource::line_of_squares(int longest, Random& random) const {
  const double kind = random.uniform();
  Text line = kind < kAnyCharacter ? any_character(longest, random)
              : kind < 0.93        ? running(longest, random)
              : kind < 0.96        ? words(longest, random)
                                   : figures(longest, random);
  if (line.empty()) line = any_character(longest, random);
  if (random.chance(kGuestWords)) put_guests_in(line, random);
  if (random.chance(kWide)) widen(line, random);
  return line;
}

void TextSource::widen(Text& line, Random& random) const {
  const bool figures_too = random.chance(0.5);
  for (char32_t& c : line)
    if (c > U' ' && c <= U'~' && (figures_too || !is_digit(c))) c += 0xFF01 - U'!';
}

Text TextSource::words(int longest, Random& random) const {
  const Language& from = language(false, random);
  Text line;
  while (!from.words.empty()) {
    const Text word = decode_utf8(from.words[static_cast<size_t>(random.index(from.words.size()))]);
    if (static_cast<int>(line.size() + word.size()) + 1 > longest) break;
    if (!line.empty()) {
      const char* between[] = {" ", " ", " ", ", ", "-", "; ", ". ", " / "};
      append(line, decode_utf8(between[random.index(8)]));
    }
    append(line, word);
  }
  return line;
}

Text TextSource::rare_letters(int longest, Random& random) const {
  Text line = random.chance(0.5) ? words(longest, random) : running(longest, random);
  const double share = random.uniform(0.06, 0.35);
  const bool large = random.chance(0.15);
  for (char32_t& c : line) {
    if (rare_.empty() || !is_letter(c) || !random.chance(share)) continue;
    const bool upper = is_upper(c) || large;
    // A letter of the same case; a handful of draws nearly always finds one.
    for (int attempt = 0; attempt < 8; ++attempt) {
      const char32_t drawn = rare_[static_cast<size_t>(random.index(rare_.size()))];
      if (is_upper(drawn) != upper) continue;
      c = drawn;
      break;
    }
  }
  return line;
}

Text TextSource::punctuated(int longest, Random& random) const {
  const Text base = running(longest, random);
  Text line;
  for (char32_t c : base) {
    if (c == U' ' && !signs_.empty() && random.chance(0.3)) {
      const char32_t sign = signs_[static_cast<size_t>(random.index(signs_.size()))];
      if (random.chance(0.5)) line.push_back(U' ');
      line.push_back(sign);
      if (random.chance(0.6)) line.push_back(U' ');
    } else {
      line.push_back(c);
    }
    if (static_cast<int>(line.size()) >= longest) break;
  }
  return line;
}

Text TextSource::leader(int longest, Random& random) const {
  Text line = running(std::max(6, longest / 2), random);
  line.push_back(U' ');
  // Printed with or without space between the dots (typeset.cc), always labelled without.
  line.insert(line.end(), static_cast<size_t>(3 + random.index(std::max(1, longest / 2))), U'.');
  if (random.chance(0.8)) line.push_back(U' ');
  append(line, filled("9##", random));
  return line;
}

Text TextSource::figures(int longest, Random& random) const {
  Text line;
  do {
    if (!line.empty()) line.push_back(U' ');
    const int kind = random.index(10);
    if (kind == 0) {
      append(line, abbreviation(random));
    } else if (kind == 1) {
      append(line, words(12, random));
    } else {
      append(line, figure_of_print(random));
    }
  } while (static_cast<int>(line.size()) < longest && random.chance(0.6));
  return line;
}

// Printable and in the alphabet: look-alikes are folded, the rest is left out.
Text TextSource::cleaned(Text line) const {
  Text kept;
  for (char32_t c : line) {
    if (c == 0x00A0 || c == 0x2009 || c == 0x202F || c == U'\t') c = U' ';
    if (c == 0x0163) c = U'ț';
    if (c == 0x0162) c = U'Ț';
    if (c == 0x2010 || c == 0x2011) c = U'-';
    if (c == 0x2015) c = U'—';
    if (alphabet_.class_of(c) == 0) continue;
    if (is_mark(c) && (kept.empty() || kept.back() == U' ')) continue;
    if (c == U' ' && (kept.empty() || kept.back() == U' ')) continue;
    kept.push_back(c);
  }
  while (!kept.empty() && kept.back() == U' ') kept.pop_back();
  return kept;
}

// At most `longest` characters, none at its ends a space; may be left empty.
Text TextSource::fitted(Text line, int longest) const {
  line = cleaned(std::move(line));
  if (static_cast<int>(line.size()) <= longest) return line;
  line.resize(static_cast<size_t>(longest));
  return cleaned(std::move(line));
}

Text TextSource::prose(int longest, Random& random) const {
  for (;;) {
    const double kind = random.uniform();
    Text line = kind < 0.8    ? running(longest, random)
                : kind < 0.92 ? figures(longest, random)
                              : words(longest, random);
    if (random.chance(0.04)) capitalise(line);
    line = fitted(std::move(line), longest);
    if (!line.empty()) return line;
  }
}

Text TextSource::any_line(int longest, bool damaged, Random& random) const {
  // Random accents can't be made out on worn paper, where what is likely has to help.
  const double rare = damaged ? 0.03 : 0.1;
  for (;;) {
    int length = std::min(longest, 6 + random.index(65));
    if (script_.squares != nullptr) {
      const int squares = 1 + random.index(longest);
      Text line = fitted(line_of_squares(squares, random), longest);
      if (!line.empty()) return line;
      continue;
    }
    const double kind = random.uniform();
    Text line;
    if (kind < 0.64 - rare) {
      line = running(length, random);
    } else if (kind < 0.73 - rare) {
      line = words(length, random);
    } else if (kind < 0.73) {
      line = rare_letters(length, random);
    } else if (kind < 0.84) {
      line = figures(length, random);
    } else if (kind < 0.885) {
      line = punctuated(length, random);
    } else if (kind < 0.90) {
      line = leader(length, random);
    } else {
      length = 1 + random.index(8);
      line = random.chance(0.4)   ? filled(random.chance(0.5) ? "9#" : "9##", random)
             : random.chance(0.5) ? words(length + 4, random)
                                  : running(length + 4, random);
    }
    const double letter_case = random.uniform();
    if (letter_case < 0.06) capitalise(line);
    if (letter_case > 0.97) capitalise_words(line);
    if (script_.code != "Latn") {
      if (random.chance(kGuestWords)) put_guests_in(line, random);
      if (random.chance(kOwnDigits)) use_own_digits(line, random);
      if (random.chance(kPointed)) put_points_on(line, random);
      if (script_.code == "Deva") close_verses(line, random);
    }
    line = fitted(std::move(line), longest);
    if (!line.empty()) return line;
  }
}

Text TextSource::draw(int longest, bool damaged, Random& random) const {
  return prose_ ? prose(longest, random) : any_line(longest, damaged, random);
}

// One word of the line gives way to a few Latin ones or to figures.
void TextSource::put_guests_in(Text& line, Random& random) const {
  std::vector<size_t> spaces;
  for (size_t i = 0; i < line.size(); ++i)
    if (line[i] == U' ' || !script_.spaced) spaces.push_back(i);
  if (spaces.size() < 3) return;
  const auto at = static_cast<size_t>(random.index(spaces.size() - 1));
  Text guests;
  if (random.chance(0.6)) {
    const Language& from = drawn(true, false, random);
    const int count = 1 + random.index(3);
    if (from.running.empty()) return;
    const Text text =
        decode_utf8(from.running[static_cast<size_t>(random.index(from.running.size()))]);
    size_t end = 0;
    for (int i = 0; i < count && end < text.size(); ++i)
      end = static_cast<size_t>(
          std::find(text.begin() + static_cast<long>(std::min(end + 1, text.size())), text.end(),
                    U' ') -
          text.begin());
    guests.assign(text.begin(), text.begin() + static_cast<long>(end));
  } else {
    guests = figure_of_print(random);
  }
  Text with(line.begin(), line.begin() + static_cast<long>(spaces[at]) + 1);
  const bool apart = !script_.spaced && random.chance(0.4);
  if (apart) with.push_back(U' ');
  append(with, guests);
  if (apart) with.push_back(U' ');
  with.insert(with.end(), line.begin() + static_cast<long>(spaces[at + 1]), line.end());
  line = with;
}

void TextSource::use_own_digits(Text& line, Random& random) const {
  Text own = decode_utf8(script_.digits);
  if (own.empty()) return;
  // Persian and Urdu have a set of their own.
  if (script_.code == "Arab" && random.chance(0.4))
    for (char32_t& d : own) d = d - 0x660 + 0x6F0;
  for (char32_t& c : line)
    if (c >= U'0' && c <= U'9') c = own[c - U'0'];
}

// Programs' messages and manuals hold no verse: now and then a danda is a double one.
void TextSource::close_verses(Text& line, Random& random) const {
  for (char32_t& c : line)
    if (c == U'।' && random.chance(kDoubleDanda)) c = U'॥';
}

// Points on letters as they stand in verse, primers and scripture; which, matters little here.
void TextSource::put_points_on(Text& line, Random& random) const {
  const Text points = decode_utf8(script_.points);
  if (points.empty()) return;
  const double share = random.uniform(0.15, 0.8);
  Text pointed;
  for (size_t i = 0; i < line.size(); ++i) {
    pointed.push_back(line[i]);
    const bool bare = i + 1 == line.size() || !is_mark(line[i + 1]);
    if (bare && is_letter(line[i]) && script_of(line[i]) == script_.code && random.chance(share))
      pointed.push_back(points[static_cast<size_t>(random.index(points.size()))]);
  }
  line = pointed;
}

}  // namespace burnisher::train
