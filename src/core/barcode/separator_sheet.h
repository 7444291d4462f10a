// Sheets that part a batch into documents: printed, laid between the leaves before they are
// scanned, found again by their code, which may carry descriptive fields of the document that
// follows.
#pragma once

#include <optional>
#include <string>

#include "page/fields.h"

namespace burnisher::barcode {

// The text of the code on a sheet: "burnisher-separator:box=7&series=A", values as in addresses
// (%XX for signs with a meaning).
std::string separator_text(const DescriptiveFields& fields);
// The fields of such a text; nothing for a code that says something else.
std::optional<DescriptiveFields> fields_of_separator(const std::string& text);

// A sheet of A4 to be printed, as a PDF: a QR code of that text twice, so that one survives a torn
// corner, and the fields in letters. Throws SettingsError for more than a code holds.
std::string separator_sheet(const DescriptiveFields& fields);

}  // namespace burnisher::barcode
