#include "find/where.h"

#include <algorithm>

#include "base/error.h"
#include "base/numbers.h"
#include "find/folding.h"

namespace burnisher::find {
namespace {

const char* const kPageField = "page";

std::u32string folded(const std::string& text) {
  return Folder({true, false, false}).folded(text);
}

bool compare(const std::string& held, const Condition& c) {
  if (c.comparison == "~") return folded(held).find(folded(c.value)) != std::u32string::npos;
  int order = 0;
  const auto a = number_in(held), b = number_in(c.value);
  if (a && b)
    order = *a < *b ? -1 : *a > *b ? 1 : 0;
  else
    order = folded(held).compare(folded(c.value));
  if (c.comparison == "=") return order == 0;
  if (c.comparison == "!=") return order != 0;
  if (c.comparison == "<") return order < 0;
  if (c.comparison == "<=") return order <= 0;
  if (c.comparison == ">") return order > 0;
  return order >= 0;
}

}  // namespace

Condition condition_named(const std::string& text) {
  const size_t at = text.find_first_of("=!<>~");
  if (at != std::string::npos && at > 0) {
    for (const char* comparison : {">=", "<=", "!=", "=", "<", ">", "~"}) {
      const std::string sign = comparison;
      if (text.compare(at, sign.size(), sign) == 0)
        return {text.substr(0, at), sign, text.substr(at + sign.size())};
    }
  }
  throw SettingsError("where", text +
                                   ": expected as in 'date>=1890' or creator=Rask; comparisons "
                                   "are = != < <= > >= and ~ (has it in it)");
}

bool holds(const std::vector<Condition>& conditions, const IndexedDocument& document) {
  return std::all_of(conditions.begin(), conditions.end(), [&](const Condition& c) {
    const std::u32string name = folded(c.field);
    if (c.field == kPageField) return true;
    if (c.field == "document") return compare(document.name, c);
    bool there = false, held = false;
    for (const auto& [field, value] : document.fields) {
      if (folded(field) != name) continue;
      there = true;
      held = held || compare(value, c);
    }
    return there ? held : c.comparison == "!=";
  });
}

bool holds_for_page(const std::vector<Condition>& conditions, int position) {
  return std::all_of(conditions.begin(), conditions.end(), [&](const Condition& c) {
    return c.field != kPageField || compare(std::to_string(position), c);
  });
}

}  // namespace burnisher::find
