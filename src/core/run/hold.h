// What makes a document wait for a person: "suspects>2%,unsure>5%,no-text,wrong-language".
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::run {

struct HoldRule {
  enum class Measure {
    kSuspects,       // share of the words that are suspects
    kUnsure,         // share of the characters that were not clearly seen
    kNoText,         // a page that is not blank, and nothing was read on it
    kWrongLanguage,  // it reads like none of the languages asked for
  };
  Measure measure = Measure::kSuspects;
  double limit = 0;  // 0-1
};

// Throws SettingsError.
std::vector<HoldRule> hold_rules(const std::string& text);

// What is known of a page when it is judged.
struct PageFeatures {
  bool blank = false;
  bool wrong_language = false;
};

// The reasons for which it waits; none: it goes straight through.
std::vector<std::string> reasons_to_hold(const std::vector<HoldRule>& rules, const Page& page,
                                         const PageFeatures& features);

}  // namespace burnisher::run
