#include "pagefile/custom.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher {
namespace {

TEST(Custom, EntriesAreToldApartByNameAndKey) {
  const Custom custom("readingOrder {index:0;} scan {page:2; dpi:300; d:0.02;}structure {type:x;}");
  EXPECT_EQ(custom.number("scan", "d"), 0.02);
  EXPECT_EQ(custom.number("scan", "dpi"), 300);
  EXPECT_EQ(custom.text("structure", "type"), "x");
  EXPECT_FALSE(custom.number("scan", "pi").has_value());
  EXPECT_FALSE(custom.has("can"));
  EXPECT_EQ(custom.find("scan", "e"), nullptr);
}

TEST(Custom, WhatHasAnotherFormIsPassedOver) {
  for (const char* odd : {"", "scan", "scan {", "scan {a:1", "}", "{}", "scan {a}", "scan {;;:;}"})
    EXPECT_FALSE(Custom(odd).number("scan", "b").has_value()) << odd;
  EXPECT_EQ(Custom("x } y {a:1;}").number("x } y", "a"), 1);
}

TEST(Custom, ValuesOfAnyBytesComeBack) {
  std::string all;
  for (int byte = 1; byte < 256; ++byte) all += static_cast<char>(byte);
  for (const std::string& value :
       {all, std::string("a:b;{c}%20"), std::string(" x "), std::string("äß—")}) {
    const std::string entry = custom_entry("n", {{"k", value}, {"l", "1"}});
    EXPECT_EQ(Custom(entry).text("n", "k"), value);
    EXPECT_EQ(Custom(entry).text("n", "l"), "1");
  }
  EXPECT_EQ(custom_entry("n", {{"k", "äß"}}), "n {k:äß;}");
}

TEST(Custom, NumbersAreExactAndAbsurdOnesRefused) {
  for (const double value : {0.1, -1e-12, 1.0 / 3, 123456.789, 0.0})
    EXPECT_EQ(Custom(custom_entry("n", {{"k", exact(value)}})).number("n", "k"), value);
  for (const char* value : {"nan", "inf", "1e9", "", "1x", "0x10"})
    EXPECT_THROW(Custom(custom_entry("n", {{"k", value}})).number("n", "k"), FormatError) << value;
}

}  // namespace
}  // namespace burnisher
