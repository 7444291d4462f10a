// The names of the reasons why a word is a suspect, as files and tables have them.
#pragma once

#include <string>
#include <utility>

#include "page/page.h"

namespace burnisher {

constexpr std::pair<Reason, const char*> kReasonNames[] = {
    {kUnsure, "unsure"}, {kUnknown, "unknown"}, {kOdd, "odd"}};

// As in "unsure,odd".
inline std::string reason_names(unsigned reasons) {
  std::string names;
  for (const auto& [reason, name] : kReasonNames) {
    if (reasons & reason) names += (names.empty() ? "" : ",") + std::string(name);
  }
  return names;
}

}  // namespace burnisher
