#include "correct/decisions.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <optional>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/hash.h"
#include "base/numbers.h"
#include "base/unicode.h"
#include "correct/changes.h"
#include "correct/word_change.h"

namespace burnisher::correct {
namespace {

constexpr int kGrid = 8;                // cells a side of a perceptual hash
constexpr int kMostDifferent = 14;      // cells in which two pictures of one word may differ
constexpr double kLeastOverlap = 0.35;  // of two boxes of one word, of their union

std::vector<std::string> fields_of(const std::string& line) {
  std::vector<std::string> fields(1);
  for (const char c : line) {
    if (c == '\t')
      fields.emplace_back();
    else if (c != '\r')
      fields.back() += c;
  }
  // Spreadsheets put fields in quotation marks that need none, and double those within.
  for (std::string& field : fields) {
    if (field.size() < 2 || field.front() != '"' || field.back() != '"') continue;
    std::string inner;
    for (size_t i = 1; i + 1 < field.size(); ++i) {
      inner += field[i];
      if (field[i] == '"' && field[i + 1] == '"' && i + 2 < field.size()) ++i;
    }
    field = inner;
  }
  return fields;
}

std::optional<Verdict> verdict_named(const std::string& name) {
  for (const Verdict verdict :
       {Verdict::kRight, Verdict::kChange, Verdict::kLexicon, Verdict::kOpen}) {
    if (name == name_of(verdict)) return verdict;
  }
  if (name.empty()) return Verdict::kOpen;
  return std::nullopt;
}

std::string base_name(const std::string& path) {
  return std::filesystem::path(path).filename();
}

struct Found {
  Line* line = nullptr;
  size_t word = 0;
  double overlap = 0;
};

double shared(const Box& a, const Box& b) {
  const double both = overlap(a.x0, a.x1, b.x0, b.x1) * overlap(a.y0, a.y1, b.y0, b.y1);
  const double all = a.width() * a.height() + b.width() * b.height() - both;
  return both > 0 && all > 0 ? both / all : 0;
}

// The word at a place of the scan.
Found word_at(Page& page, const Box& scan_box) {
  Found best;
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      for (size_t w = 0; w < line.words.size(); ++w) {
        const double part = shared(placed(line.words[w].box, page, Positions::kScan), scan_box);
        if (part > best.overlap) best = {&line, w, part};
      }
    }
  }
  if (best.overlap < kLeastOverlap) return {};
  // Of several words that came of one, the first stands for them.
  const auto& words = best.line->words;
  while (best.word > 0 && words[best.word].corrected == CorrectedBy::kPerson &&
         words[best.word].before.empty())
    --best.word;
  return best;
}

// The words beginning at `first` that came of one that was changed to several.
std::string text_from(const Line& line, size_t first, size_t words) {
  std::string text;
  for (size_t w = first; w < std::min(line.words.size(), first + words); ++w)
    text += (text.empty() ? "" : " ") + line.words[w].text;
  return text;
}

size_t word_count(const std::string& text) {
  std::istringstream stream(text);
  size_t count = 0;
  for (std::string word; stream >> word;) ++count;
  return count;
}

std::string told(const Decision& d) {
  return fmt::format("row {}: \"{}\" at {},{} of {}", d.row, d.read, std::lround(d.box.x0),
                     std::lround(d.box.y0), d.file);
}

}  // namespace

const char* name_of(Verdict verdict) {
  switch (verdict) {
    case Verdict::kRight:
      return "right";
    case Verdict::kChange:
      return "change";
    case Verdict::kLexicon:
      return "lexicon";
    case Verdict::kOpen:
      break;
  }
  return "open";
}

std::vector<Decision> read_decisions(const std::string& path) {
  const auto bytes = read_file(path);
  std::string all(bytes.begin(), bytes.end());
  if (all.rfind("\xEF\xBB\xBF", 0) == 0) all.erase(0, 3);
  std::istringstream text(all);
  std::string line;
  std::getline(text, line);
  std::map<std::string, size_t> columns;
  const std::vector<std::string> heading = fields_of(line);
  for (size_t i = 0; i < heading.size(); ++i) columns[heading[i]] = i;
  for (const char* wanted :
       {"file", "page", "x", "y", "width", "height", "read", "decision", "text"}) {
    if (columns.count(wanted) == 0) {
      throw FormatError(
          fmt::format("{}: is no table of decisions: the column \"{}\" is missing in its first row",
                      path, wanted));
    }
  }
  std::vector<Decision> decisions;
  for (int row = 2; std::getline(text, line); ++row) {
    if (line.empty() || line == "\r") continue;
    const std::vector<std::string> fields = fields_of(line);
    const auto field = [&](const char* name) {
      const auto column = columns.find(name);
      return column == columns.end() || column->second >= fields.size() ? std::string()
                                                                        : fields[column->second];
    };
    const auto number = [&](const char* name) {
      const std::string value = field(name);
      const auto n = number_in(value);
      if (!n || std::fabs(*n) > kLargestNumber)
        throw FormatError(
            fmt::format("{}, row {}: \"{}\" is no number for {}", path, row, value, name));
      return *n;
    };
    Decision d;
    d.row = row;
    d.id = field("id");
    d.file = field("file");
    d.page = static_cast<int>(number("page"));
    d.box = {number("x"), number("y"), number("x") + number("width"),
             number("y") + number("height")};
    d.hash = field("hash");
    d.read = to_nfc(field("read"));
    d.text = to_nfc(field("text"));
    const auto verdict = verdict_named(field("decision"));
    if (!verdict) {
      throw FormatError(fmt::format(
          "{}, row {}: \"{}\" is no decision; known are right, change, lexicon and open", path, row,
          field("decision")));
    }
    d.verdict = *verdict;
    decisions.push_back(d);
  }
  return decisions;
}

std::string decisions_table(const std::vector<Decision>& decisions) {
  std::string table = "id\tfile\tpage\tx\ty\twidth\theight\thash\tread\tdecision\ttext\n";
  for (const Decision& d : decisions) {
    table += fmt::format("{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\n", d.id, table_field(d.file),
                         d.page, std::lround(d.box.x0), std::lround(d.box.y0),
                         std::lround(d.box.width()), std::lround(d.box.height()), d.hash,
                         table_field(d.read), name_of(d.verdict), table_field(d.text));
  }
  return table;
}

std::string perceptual_hash(const Gray& page, const Box& box) {
  const int x0 = static_cast<int>(box.x0), y0 = static_cast<int>(box.y0);
  const int width = static_cast<int>(box.width()), height = static_cast<int>(box.height());
  if (page.empty() || width < kGrid + 1 || height < kGrid || x0 < 0 || y0 < 0 ||
      x0 + width > page.width() || y0 + height > page.height())
    return "";
  const auto mean = [&](int column, int row) {
    const int left = x0 + width * column / (kGrid + 1),
              right = x0 + width * (column + 1) / (kGrid + 1);
    const int top = y0 + height * row / kGrid, bottom = y0 + height * (row + 1) / kGrid;
    long sum = 0;
    for (int y = top; y < bottom; ++y) {
      for (int x = left; x < right; ++x) sum += page.row(y)[x];
    }
    return static_cast<double>(sum) / std::max(1, (right - left) * (bottom - top));
  };
  uint64_t bits = 0;
  for (int row = 0; row < kGrid; ++row) {
    for (int column = 0; column < kGrid; ++column)
      bits = (bits << 1) | (mean(column, row) > mean(column + 1, row) ? 1u : 0u);
  }
  return fmt::format("{:016x}", bits);
}

int hash_distance(const std::string& look, const std::string& other) {
  if (look.size() != 16 || other.size() != 16) return 64;
  uint64_t bits =
      std::strtoull(look.c_str(), nullptr, 16) ^ std::strtoull(other.c_str(), nullptr, 16);
  int count = 0;
  for (; bits != 0; bits &= bits - 1) ++count;
  return count;
}

std::string id_of(const Page& page, const Box& scan_box, const std::string& read) {
  const uint64_t hash =
      hash_of(fmt::format("{}|{}|{}|{}|{}", base_name(page.file), page.number,
                          std::lround(scan_box.x0), std::lround(scan_box.y0), read));
  return fmt::format("w{:010x}", hash & 0xFFFFFFFFFFull);
}

namespace {

// The two pages of a spread are one scan: each answers for its own half.
bool holds(const Page& page, const Box& scan_box) {
  if (page.part == 0) return true;
  const Point p = page.geometry.to_scan.back(scan_box.centre());
  return p.x >= 0 && p.y >= 0 && p.x < page.width && p.y < page.height;
}

// One round of applying decisions to pages.
class Application {
 public:
  Application(const std::function<Gray(size_t)>& picture, const std::vector<Page*>& pages)
      : picture_(picture), pages_(pages) {}

  // False: the decision is about none of these pages.
  bool apply(const Decision& d) {
    bool page_met = false;
    const Place place = place_of(d, page_met);
    if (page_met && d.verdict != Verdict::kOpen) settle(d, place);
    return page_met;
  }

  Outcome outcome;

 private:
  struct Place {
    Found found;
    size_t page = 0;
  };

  Place place_of(const Decision& d, bool& page_met) const {
    Place best;
    for (size_t p = 0; p < pages_.size(); ++p) {
      if (base_name(pages_[p]->file) != d.file || pages_[p]->number != d.page) continue;
      if (!holds(*pages_[p], d.box)) continue;
      page_met = true;
      const Found here = word_at(*pages_[p], d.box);
      if (here.overlap > best.found.overlap) best = {here, p};
    }
    return best;
  }

  void settle(const Decision& d, const Place& place) {
    const std::string wanted = d.verdict == Verdict::kChange ? d.text : d.read;
    const Found& found = place.found;
    if (found.line == nullptr) {
      if (wanted.empty())
        ++outcome.already;
      else
        outcome.problems.push_back(told(d) + ": no word is there any more");
      return;
    }
    if (d.verdict == Verdict::kLexicon) outcome.lexicon_words.push_back(d.read);
    const Word& word = found.line->words[found.word];
    if (word.corrected == CorrectedBy::kPerson &&
        text_from(*found.line, found.word, std::max<size_t>(1, word_count(wanted))) == wanted) {
      ++outcome.already;
      return;
    }
    if (!is_the_same(d, place, word, wanted)) {
      outcome.problems.push_back(
          fmt::format("{}: now \"{}\" stands there, and it looks different; left as it is", told(d),
                      word.text));
      return;
    }
    replace_word(*found.line, found.word, wanted, CorrectedBy::kPerson);
    if (!wanted.empty()) {
      Word& settled = found.line->words[found.word];
      settled.error_probability = 0;
      settled.reasons = 0;
    }
    ++outcome.applied;
  }

  // By its text, or else by what it looks like.
  bool is_the_same(const Decision& d, const Place& place, const Word& word,
                   const std::string& wanted) {
    if (word.text == d.read || word.before == d.read || word.text == wanted) return true;
    if (pictures_.count(place.page) == 0) pictures_[place.page] = picture_(place.page);
    const std::string hash = perceptual_hash(pictures_[place.page], word.box);
    return hash_distance(hash, d.hash) <= kMostDifferent;
  }

  const std::function<Gray(size_t)>& picture_;
  const std::vector<Page*>& pages_;
  std::map<size_t, Gray> pictures_;
};

}  // namespace

Outcome apply_decisions(const std::vector<Decision>& decisions,
                        const std::function<Gray(size_t page)>& picture,
                        const std::vector<Page*>& pages, std::vector<bool>& taken) {
  taken.resize(decisions.size(), false);
  Application application(picture, pages);
  for (size_t i = 0; i < decisions.size(); ++i) {
    if (application.apply(decisions[i])) taken[i] = true;
  }
  return application.outcome;
}

}  // namespace burnisher::correct
