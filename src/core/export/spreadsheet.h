// The tables of a document for spreadsheets: CSV (RFC 4180, UTF-8) and XLSX.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/files.h"
#include "page/page.h"

namespace burnisher::exporting {

// A cell's text as a number, where nothing else can be meant: digits with at most one decimal point
// or, as in "1.234,50" and "1,234.50", separators of thousands. "007", "3/4" and dates are none,
// nor is "1,234": half of the world would read it otherwise.
std::optional<double> number_in(const std::string& text);

// Rows of one table. Texts with commas, quotes or line ends are quoted.
std::string csv_of(const Block& table);

// A workbook being written, one sheet for every table. Throws OutputError.
class Workbook {
 public:
  explicit Workbook(const Sink& sink);
  ~Workbook();
  void add(const Block& table, const std::string& sheet_name);
  void finish();

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::exporting
