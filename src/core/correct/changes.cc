#include "correct/changes.h"

#include <fmt/core.h>

#include <cmath>

namespace burnisher::correct {

std::string table_field(const std::string& text) {
  std::string out = text;
  for (char& c : out) {
    if (c == '\t' || c == '\n' || c == '\r') c = ' ';
  }
  return out;
}

std::string changes_table(const std::vector<Change>& changes) {
  std::string table = "file\tpage\tx\ty\twidth\theight\tbefore\tafter\treason\tline\n";
  for (const Change& c : changes) {
    table += fmt::format("{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\n", table_field(c.file), c.page,
                         std::lround(c.box.x0), std::lround(c.box.y0), std::lround(c.box.width()),
                         std::lround(c.box.height()), table_field(c.before), table_field(c.after),
                         c.reason, table_field(c.line));
  }
  return table;
}

}  // namespace burnisher::correct
