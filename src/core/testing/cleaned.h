// Scans of pictures drawn in tests, and what cleaning makes of them.
#pragma once

#include <gtest/gtest.h>

#include "clean/clean.h"
#include "testing/printed_page.h"

namespace burnisher::testing {

inline Scan scan_of(Picture picture, double dpi = 300) {
  Scan scan;
  scan.file = "page.png";
  scan.stated_dpi = dpi;
  scan.picture = std::move(picture);
  return scan;
}

// For scans that are one page.
inline clean::CleanResult cleaned(const Scan& scan, const clean::CleanSettings& settings = {}) {
  std::vector<clean::CleanResult> pages = clean::clean(scan, settings);
  EXPECT_EQ(pages.size(), 1u);
  return std::move(pages.front());
}

inline int ink_pixels(const Bitonal& ink) {
  int count = 0;
  for (uint8_t byte : ink.bytes()) count += __builtin_popcount(byte);
  return count;
}

}  // namespace burnisher::testing
