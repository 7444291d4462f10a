#include "run/hold.h"

#include <fmt/core.h>

#include <sstream>

#include "base/error.h"
#include "base/numbers.h"

namespace burnisher::run {
namespace {

constexpr double kClear = 0.9;  // confidence of a character

struct Shares {
  int words = 0, suspects = 0, characters = 0, unsure = 0;
};

Shares shares_of(const Page& page) {
  Shares shares;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        ++shares.words;
        shares.suspects += word.reasons != 0;
        for (const Glyph& glyph : word.glyphs) {
          ++shares.characters;
          shares.unsure += glyph.confidence < kClear;
        }
      }
    }
  }
  return shares;
}

HoldRule rule_of(const std::string& text) {
  if (text == "no-text") return {HoldRule::Measure::kNoText, 0};
  if (text == "wrong-language") return {HoldRule::Measure::kWrongLanguage, 0};
  const size_t sign = text.find('>');
  const std::string name = text.substr(0, sign);
  if (sign != std::string::npos && (name == "suspects" || name == "unsure")) {
    const std::string value = text.substr(sign + 1);
    const bool in_percent = !value.empty() && value.back() == '%';
    const auto percent = number_in(value.substr(0, value.size() - (in_percent ? 1 : 0)));
    if (in_percent && percent && *percent >= 0 && *percent <= 100)
      return {name == "suspects" ? HoldRule::Measure::kSuspects : HoldRule::Measure::kUnsure,
              *percent / 100};
  }
  throw SettingsError(
      "hold-if", text +
                     ": known are suspects>2%, unsure>5% (with a share of your choosing), no-text "
                     "and wrong-language, several with commas between");
}

}  // namespace

std::vector<HoldRule> hold_rules(const std::string& text) {
  std::vector<HoldRule> rules;
  std::istringstream list(text);
  for (std::string rule; std::getline(list, rule, ',');) {
    rule.erase(0, rule.find_first_not_of(' '));
    rule.erase(rule.find_last_not_of(' ') + 1);
    rules.push_back(rule_of(rule));
  }
  return rules;
}

std::vector<std::string> reasons_to_hold(const std::vector<HoldRule>& rules, const Page& page,
                                         const PageFeatures& features) {
  const Shares shares = shares_of(page);
  std::vector<std::string> reasons;
  const auto share = [&](const char* what, int part, int whole, double limit) {
    if (whole > 0 && part > limit * whole)
      reasons.push_back(
          fmt::format("{} {:.1f} % (limit {:g} %)", what, 100.0 * part / whole, 100 * limit));
  };
  for (const HoldRule& rule : rules) {
    switch (rule.measure) {
      case HoldRule::Measure::kSuspects:
        share("suspect words", shares.suspects, shares.words, rule.limit);
        break;
      case HoldRule::Measure::kUnsure:
        share("unsure characters", shares.unsure, shares.characters, rule.limit);
        break;
      case HoldRule::Measure::kNoText:
        if (!features.blank && shares.words == 0) reasons.emplace_back("nothing was read on it");
        break;
      case HoldRule::Measure::kWrongLanguage:
        if (features.wrong_language) reasons.emplace_back("it reads like another language");
        break;
    }
  }
  return reasons;
}

}  // namespace burnisher::run
