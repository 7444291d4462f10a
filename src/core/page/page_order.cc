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
      throw SettingsError("--order " + text +
                          ": wanted are pages and ranges in their new order, as in 3,1,5-7,12-");
    }
    if (last > count || first > count) {
      throw SettingsError(
          fmt::format("--order {}: there is no page {}, there are {}", text, last, count));
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
    throw SettingsError("--replace-page " + text +
                        ": wanted are a page and the file to take instead, as in 1=cover.jpg");
  }
  replacement.file = text.substr(equals + 1);
  return replacement;
}

}  // namespace burnisher
