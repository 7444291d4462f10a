#include "page/page_order.h"

#include <fmt/core.h>

#include <sstream>

#include "base/error.h"

namespace burnisher {
namespace {

// 0 for what is no number from 1 on.
int number_of(const std::string& text) {
  const bool digits =
      !text.empty() && text.size() < 8 && text.find_first_not_of("0123456789") == std::string::npos;
  return digits ? std::stoi(text) : 0;
}

}  // namespace

std::vector<int> page_order(const std::string& text, int count) {
  std::vector<int> order;
  std::istringstream parts(text);
  for (std::string part; std::getline(parts, part, ',');) {
    const size_t dash = part.find('-');
    const int first = number_of(part.substr(0, dash));
    const int last = dash == std::string::npos ? first
                     : dash + 1 == part.size() ? count
                                               : number_of(part.substr(dash + 1));
    if (first == 0 || last < first) {
      throw SettingsError(
          "order", text + ": expected pages and ranges in their new order, as in 3,1,5-7,12-");
    }
    if (last > count || first > count) {
      throw SettingsError("order",
                          fmt::format("{}: there is no page {}, there are {}", text, last, count));
    }
    for (int page = first; page <= last; ++page) order.push_back(page);
  }
  return order;
}

Replacement replacement_named(const std::string& text) {
  const size_t equals = text.find('=');
  Replacement replacement;
  replacement.page = number_of(text.substr(0, equals));
  if (equals == std::string::npos || replacement.page == 0 || equals + 1 == text.size()) {
    throw SettingsError("replace-page",
                        text + ": expected a page and the file to take instead, as in 1=cover.jpg");
  }
  replacement.file = text.substr(equals + 1);
  return replacement;
}

PageRange::PageRange(const std::string& text) {
  const auto wrong = [&] {
    return SettingsError("pages", text + ": expected page numbers and ranges, as in 3-7,12");
  };
  const auto number = [&](const std::string& part, int empty) {
    if (part.empty()) return empty;
    if (part.size() > 7 || part.find_first_not_of("0123456789") != std::string::npos) throw wrong();
    return std::stoi(part);
  };
  for (size_t at = 0; at <= text.size();) {
    const size_t comma = std::min(text.find(',', at), text.size());
    const std::string span = text.substr(at, comma - at);
    const size_t dash = span.find('-');
    if (span.empty() || span == "-") throw wrong();
    const int first = number(span.substr(0, dash), 1);
    const int last = dash == std::string::npos ? first : number(span.substr(dash + 1), 1 << 30);
    if (first < 1 || last < first) throw wrong();
    spans_.emplace_back(first, last);
    at = comma + 1;
  }
}

bool PageRange::contains(int page) const {
  return spans_.empty() || std::any_of(spans_.begin(), spans_.end(), [&](const auto& s) {
           return page >= s.first && page <= s.second;
         });
}

}  // namespace burnisher
