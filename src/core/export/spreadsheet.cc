#include "export/spreadsheet.h"

#include <xlsxwriter.h>

#include <algorithm>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/pattern.h"
#include "page/table.h"

namespace burnisher::exporting {
namespace {

std::string without_separators(std::string digits) {
  digits.erase(
      std::remove_if(digits.begin(), digits.end(), [](char c) { return c == ',' || c == '.'; }),
      digits.end());
  return digits;
}

// "−12" and "–12" are negative, too.
std::string with_plain_minus(const std::string& text) {
  for (const char* minus : {"−", "–"}) {
    if (text.rfind(minus, 0) == 0) return "-" + text.substr(std::string(minus).size());
  }
  return text;
}

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
  std::string out = "\"";
  for (char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
  return out + "\"";
}

}  // namespace

std::optional<double> number_in(const std::string& given) {
  constexpr size_t kMostDigits = 24;  // more than a spreadsheet keeps
  const std::string text = with_plain_minus(given);
  if (text.size() > kMostDigits) return std::nullopt;
  // Digits in groups of three with one kind of separator, then decimals after the other kind.
  static const Pattern kGrouped("([+-]?)([1-9][0-9]{0,2}(?:,[0-9]{3})+)\\.([0-9]+)");
  static const Pattern kGroupedOtherWay("([+-]?)([1-9][0-9]{0,2}(?:\\.[0-9]{3})+),([0-9]+)");
  static const Pattern kGroupedTwice("([+-]?)([1-9][0-9]{0,2}(?:([.,])[0-9]{3}(?:\\3[0-9]{3})+))");
  static const Pattern kPlain("[+-]?(0|[1-9][0-9]*)(\\.[0-9]+)?");
  // Three decimals after a comma might be thousands.
  static const Pattern kDecimalComma("[+-]?(0|[1-9][0-9]*),([0-9]{1,2}|[0-9]{4,})");
  // "1.234" may be a thousand as well as one and a bit.
  static const Pattern kPerhapsThousands("[+-]?[1-9][0-9]{0,2}\\.[0-9]{3}");
  if (kPlain.matches(text) && !kPerhapsThousands.matches(text))
    return burnisher::number_in(text).value_or(0);
  for (const Pattern* grouped : {&kGrouped, &kGroupedOtherWay}) {
    if (const auto m = grouped->groups(text); !m.empty())
      return burnisher::number_in(m[1] + without_separators(m[2]) + "." + m[3]).value_or(0);
  }
  if (const auto m = kGroupedTwice.groups(text); !m.empty())
    return burnisher::number_in(m[1] + without_separators(m[2])).value_or(0);
  if (kDecimalComma.matches(text)) {
    std::string point = text;
    point[point.find(',')] = '.';
    return burnisher::number_in(point).value_or(0);
  }
  return std::nullopt;
}

std::string csv_of(const Block& table) {
  std::string csv;
  for (const std::vector<std::string>& row : texts_of(table)) {
    for (size_t i = 0; i < row.size(); ++i) csv += (i > 0 ? "," : "") + quoted(row[i]);
    csv += "\r\n";
  }
  return csv;
}

struct Workbook::State {
  explicit State(const Sink& sink) : file(sink), book(workbook_new(file.temporary_path().c_str())) {
    head = workbook_add_format(book);
    format_set_bold(head);
  }
  ~State() {
    if (book != nullptr) workbook_close(book);
  }

  PendingFile file;
  lxw_workbook* book;
  lxw_format* head;
};

Workbook::Workbook(const Sink& sink) : state_(std::make_unique<State>(sink)) {}

Workbook::~Workbook() = default;

void Workbook::add(const Block& table, const std::string& sheet_name) {
  lxw_worksheet* sheet = workbook_add_worksheet(state_->book, sheet_name.c_str());
  if (sheet == nullptr) throw OutputError("the spreadsheet has no room for sheet " + sheet_name);
  for (const Cell& cell : table.cells) {
    const auto row = static_cast<lxw_row_t>(cell.row);
    const auto column = static_cast<lxw_col_t>(cell.column);
    const std::string text = text_of(table, cell);
    lxw_format* format = cell.header ? state_->head : nullptr;
    if (cell.rows > 1 || cell.columns > 1) {
      worksheet_merge_range(sheet, row, column, row + static_cast<lxw_row_t>(cell.rows) - 1,
                            static_cast<lxw_col_t>(column + cell.columns - 1), "", format);
    }
    if (const auto number = number_in(text))
      worksheet_write_number(sheet, row, column, *number, format);
    else if (!text.empty())
      worksheet_write_string(sheet, row, column, text.c_str(), format);
  }
}

void Workbook::finish() {
  if (state_->book->num_worksheets == 0) workbook_add_worksheet(state_->book, "no tables");
  const lxw_error failed = workbook_close(state_->book);
  state_->book = nullptr;
  if (failed != LXW_NO_ERROR)
    throw OutputError(std::string("the spreadsheet cannot be written: ") + lxw_strerror(failed));
  state_->file.keep();
}

}  // namespace burnisher::exporting
