#include "cli/fields.h"

#include <fmt/core.h>

#include <filesystem>
#include <sstream>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::cli {
namespace {

std::vector<std::string> cells_of(std::string row) {
  if (!row.empty() && row.back() == '\r') row.pop_back();
  std::vector<std::string> cells;
  std::istringstream from(row);
  for (std::string cell; std::getline(from, cell, '\t');) cells.push_back(cell);
  return cells;
}

}  // namespace

void add_field(Command& command, std::vector<std::string>& given) {
  command
      .option("--field", given,
              "descriptive field for the documents, as in publisher=\"Skerrow Light Board\"")
      .type_name("NAME=VALUE")
      .take_all();
}

Fields fields_named(const std::vector<std::string>& given) {
  Fields fields;
  for (const std::string& one : given) {
    const size_t equals = one.find('=');
    if (equals == std::string::npos || equals == 0)
      throw SettingsError("field", one + ": expected as in publisher=Skerrow Light Board");
    fields.emplace_back(one.substr(0, equals), one.substr(equals + 1));
  }
  return fields;
}

std::map<std::string, Fields> fields_table(const std::string& path) {
  const auto bytes = read_file(path);
  std::istringstream rows(std::string(bytes.begin(), bytes.end()));
  std::string row;
  std::getline(rows, row);
  const std::vector<std::string> names = cells_of(row);
  const auto file_column = std::find(names.begin(), names.end(), "file");
  if (file_column == names.end())
    throw FormatError(path + ": its heading has no column `file`; columns are parted by tabs");
  std::map<std::string, Fields> table;
  for (int number = 2; std::getline(rows, row); ++number) {
    const std::vector<std::string> cells = cells_of(row);
    if (cells.empty()) continue;
    const size_t at = static_cast<size_t>(file_column - names.begin());
    if (cells.size() > names.size() || at >= cells.size() || cells[at].empty())
      throw FormatError(fmt::format("{}, row {}: does not fit its heading", path, number));
    Fields& fields = table[std::filesystem::path(cells[at]).filename().string()];
    for (size_t i = 0; i < cells.size(); ++i)
      if (i != at && !cells[i].empty()) fields.emplace_back(names[i], cells[i]);
  }
  return table;
}

}  // namespace burnisher::cli
