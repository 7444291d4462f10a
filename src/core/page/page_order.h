// Pages in an order a person names.
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace burnisher {

// "3-7,12" with pages from 1; an open end ("5-") means up to the last. Empty: all pages.
// Throws SettingsError.
class PageRange {
 public:
  PageRange() = default;
  explicit PageRange(const std::string& text);
  bool contains(int page) const;

 private:
  std::vector<std::pair<int, int>> spans_;
};

// "3,1,5-7,12-": the pages (from 1) of a document of `count` in the order wanted; pages not named
// are left out. Throws SettingsError.
std::vector<int> page_order(const std::string& text, int count);

// "1=cover.jpg": this page is replaced by a file.
struct Replacement {
  int page = 1;
  std::string file;
};
// Throws SettingsError.
Replacement replacement_named(const std::string& text);

}  // namespace burnisher
