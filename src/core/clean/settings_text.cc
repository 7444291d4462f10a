#include "clean/settings_text.h"

#include <fmt/core.h>

#include "base/error.h"
#include "base/numbers.h"

namespace burnisher::clean {
namespace {

// Visits every setting with its name; `visit` takes any of their types.
template <typename Settings, typename Visit>
void each_setting(Settings& s, const Visit& visit) {
  visit("turn", s.turn);
  visit("invert", s.invert);
  visit("gamma", s.tone.gamma);
  visit("brightness", s.tone.brightness);
  visit("median", s.tone.median);
  visit("split", s.split);
  visit("crop", s.crop);
  visit("margin", s.margin_mm);
  visit("deskew", s.deskew);
  visit("skew-limit", s.skew_limit);
  visit("straight", s.straight);
  visit("dewarp", s.dewarp);
  visit("dpi", s.dpi);
  visit("even", s.even);
  visit("binarise", s.binarise.method);
  visit("window", s.binarise.window);
  visit("weight", s.binarise.weight);
  visit("holes", s.holes);
  visit("specks", s.despeckle.size);
  visit("specks-mm", s.despeckle.size_mm);
  visit("rules", s.rules);
  visit("mend", s.mend);
}

template <typename Value>
std::string text_of(const Value& value) {
  if constexpr (std::is_enum_v<Value>)
    return std::to_string(static_cast<int>(value));
  else
    return fmt::format("{}", value);
}

template <typename Value>
Value value_of(const std::string& text, const Value& most) {
  if constexpr (std::is_same_v<Value, bool>) {
    if (text != "true" && text != "false") throw FormatError("");
    return text == "true";
  } else {
    const auto number = number_in(text);
    if (!number) throw FormatError("");
    if (std::is_enum_v<Value> && (*number < 0 || *number > static_cast<double>(most)))
      throw FormatError("");
    return static_cast<Value>(*number);
  }
}

}  // namespace

std::vector<std::pair<std::string, std::string>> as_text(const CleanSettings& settings) {
  std::vector<std::pair<std::string, std::string>> usual, text;
  const CleanSettings as_usual;
  each_setting(as_usual, [&](const char* name, const auto& value) {
    usual.emplace_back(name, text_of(value));
  });
  each_setting(settings, [&](const char* name, const auto& value) {
    const std::string said = text_of(value);
    if (usual[0].first == name || std::find(usual.begin(), usual.end(),
                                            std::make_pair(std::string(name), said)) == usual.end())
      text.emplace_back(name, said);
  });
  return text;
}

CleanSettings from_text(const std::vector<std::pair<std::string, std::string>>& text) {
  CleanSettings settings;
  for (const auto& [key, said] : text) {
    bool found = false;
    const std::string& wanted = said;
    each_setting(settings, [&, name = key](const char* one, auto& value) {
      if (name != one) return;
      found = true;
      // All of them have three values.
      using Value = std::decay_t<decltype(value)>;
      try {
        value = value_of(wanted, std::is_enum_v<Value> ? static_cast<Value>(2) : Value{});
      } catch (const FormatError&) {
        throw FormatError(
            fmt::format("the page was cleaned with {} = {}, which is none of its "
                        "values",
                        name, wanted));
      }
    });
    if (!found) throw FormatError("the page was cleaned with a setting of another version: " + key);
  }
  return settings;
}

}  // namespace burnisher::clean
