#include "teach/namings.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/unicode.h"

namespace burnisher::teach {
namespace {

const char* const kHeading = "file\tline\tx\ty\tfrom\tto\twhat\ttext";
constexpr size_t kColumns = 8;
constexpr size_t kLongest = 4000;  // bytes of a text
constexpr double kFarLine = 1.0;   // x-heights that a line's start may have moved

std::vector<std::string> columns_of(const std::string& row) {
  std::vector<std::string> columns;
  std::istringstream parts(row + "\t");
  for (std::string part; std::getline(parts, part, '\t');) columns.push_back(part);
  return columns;
}

Naming naming_of(const std::vector<std::string>& c) {
  const auto number = [](const std::string& text) {
    const auto value = number_in(text);
    if (!value) throw FormatError("'" + text + "' is no number");
    return *value;
  };
  Naming naming;
  naming.file = c[0];
  naming.line = static_cast<int>(number(c[1]));
  naming.start = {number(c[2]), number(c[3])};
  naming.text = to_nfc(c[7]);
  if (naming.text.size() > kLongest) throw FormatError("its text is too long");
  if (c[6] == "line") {
    naming.what = Naming::What::kLine;
    return naming;
  }
  if (c[6] != "glyph" && c[6] != "broken")
    throw FormatError("'" + c[6] + "' is none of glyph, broken, line");
  naming.what = c[6] == "glyph" ? Naming::What::kGlyph : Naming::What::kBroken;
  naming.from = number(c[4]);
  naming.to = number(c[5]);
  if (!(naming.to > naming.from)) throw FormatError("its end is not behind its beginning");
  if (naming.what == Naming::What::kGlyph && naming.text.empty())
    throw FormatError("a glyph without text");
  return naming;
}

bool same_line(const Naming& a, const Naming& b) {
  return a.file == b.file && a.line == b.line && a.start.x == b.start.x && a.start.y == b.start.y;
}

bool said_again(const Naming& before, const Naming& later) {
  if (!same_line(before, later)) return false;
  const bool line = before.what == Naming::What::kLine;
  if (line != (later.what == Naming::What::kLine)) return false;
  if (line) return true;
  const double both = std::min(before.to, later.to) - std::max(before.from, later.from);
  return both > 0.5 * std::min(before.to - before.from, later.to - later.from);
}

}  // namespace

std::vector<Naming> read_namings(const std::string& path) {
  const auto bytes = read_file(path);
  std::istringstream rows(std::string(bytes.begin(), bytes.end()));
  std::vector<Naming> namings;
  int number = 0;
  for (std::string row; std::getline(rows, row);) {
    ++number;
    if (!row.empty() && row.back() == '\r') row.pop_back();
    if (number == 1) {
      if (row != kHeading)
        throw FormatError(path + ": is no table of a type case; its first row is not '" +
                          std::string(kHeading) + "'");
      continue;
    }
    if (row.empty()) continue;
    const std::vector<std::string> columns = columns_of(row);
    try {
      if (columns.size() != kColumns)
        throw FormatError(fmt::format("{} columns, expected {}", columns.size(), kColumns));
      namings.push_back(naming_of(columns));
    } catch (const FormatError& cause) {
      throw FormatError(fmt::format("{}, row {}: {}", path, number, cause.what()));
    }
  }
  if (number == 0) throw FormatError(path + ": is empty");
  return namings;
}

std::string write_namings(const std::vector<Naming>& namings) {
  std::string table = std::string(kHeading) + "\n";
  for (const Naming& n : namings) {
    const bool line = n.what == Naming::What::kLine;
    const char* what = line ? "line" : n.what == Naming::What::kGlyph ? "glyph" : "broken";
    const std::string from = line ? "" : fmt::format("{:.3f}", n.from);
    const std::string to = line ? "" : fmt::format("{:.3f}", n.to);
    table += fmt::format("{}\t{}\t{:.1f}\t{:.1f}\t{}\t{}\t{}\t{}\n", n.file, n.line, n.start.x,
                         n.start.y, from, to, what, n.text);
  }
  return table;
}

std::vector<Naming> latest(std::vector<Naming> namings) {
  std::vector<Naming> kept;
  std::map<std::pair<std::string, int>, std::vector<size_t>> by_line;  // places in `kept`
  std::vector<bool> gone;
  for (Naming& naming : namings) {
    std::vector<size_t>& before = by_line[{naming.file, naming.line}];
    for (const size_t k : before) gone[k] = gone[k] || said_again(kept[k], naming);
    before.push_back(kept.size());
    kept.push_back(std::move(naming));
    gone.push_back(false);
  }
  std::vector<Naming> left;
  for (size_t i = 0; i < kept.size(); ++i)
    if (!gone[i]) left.push_back(std::move(kept[i]));
  return left;
}

const CaseLine* line_of(const Naming& naming, const TypeCase& type_case) {
  const CaseLine* nearest = nullptr;
  double least = 1e18;
  for (const CaseLine& line : type_case.lines) {
    if (line.file != naming.file) continue;
    const Point apart = line.start - naming.start;
    const double away = std::hypot(apart.x, apart.y) / std::max(1.0, line.height);
    if (away < least && away < kFarLine) {
      least = away;
      nearest = &line;
    }
  }
  return nearest;
}

}  // namespace burnisher::teach
