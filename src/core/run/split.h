// A batch of scans cut into documents where a sheet says so.
#pragma once

#include <string>

#include "run/scan_list.h"

namespace burnisher::run {

struct SplitRule {
  enum class At {
    kNowhere,
    kBlank,      // a blank sheet, which is left out
    kSeparator,  // a sheet printed by `burnisher sheet`; left out, its fields go to the document
    kBarcode,    // a sheet with a code that fits a pattern: the first of its document
  };
  At at = At::kNowhere;
  std::string pattern;  // * stands for any signs, ? for one
};

// "blank", "separator", "barcode=INV-*". Throws SettingsError.
SplitRule split_rule(const std::string& text);

// Looks at every scan, on all cores, and gives each the document it belongs to. What cannot be
// looked at stays with what is before it. Documents are named after the first input with a number,
// and know their fields: those of the sheet, and `barcode` for what a code says.
// `inputs`: as they were named.
void split(const SplitRule& rule, const std::vector<std::string>& inputs, ScanList& scans);

}  // namespace burnisher::run
