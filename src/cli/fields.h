// Descriptive fields: who, when, what. --field creator="E. Marwick", or a table with one row a
// file.
#pragma once

#include <map>
#include <string>
#include <utility>
#include <vector>

#include "cli/command_line.h"
#include "page/fields.h"

namespace burnisher::cli {

using Fields = DescriptiveFields;

// --field, any number of them.
void add_field(Command& command, std::vector<std::string>& given);
// Of "key=value" each. Throws SettingsError for what is not.
Fields fields_named(const std::vector<std::string>& given);

// A tab-separated table (UTF-8) with a heading; the column `file` holds names of input files, with
// or without folders, every other column is a field. By file name without folders. Throws
// InputError/FormatError naming file and row.
std::map<std::string, Fields> fields_table(const std::string& path);

}  // namespace burnisher::cli
