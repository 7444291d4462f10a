#include "run/unread.h"

#include <gtest/gtest.h>

#include "testing/blurred.h"
#include "testing/printed_page.h"

namespace burnisher::run {
namespace {

using burnisher::testing::PrintedPage;

Gray text_page() {
  PrintedPage print(900, 700);
  for (int i = 0; i < 6; ++i)
    print.print({"The lamp was lit at dusk and burned", 60, 120 + 90.0 * i, 44});
  return print.picture();
}

std::string reason_for(Gray page) {
  Scan scan;
  scan.picture = std::move(page);
  scan.stated_dpi = 200;
  return unread_reason(evidence_on(clean::clean(scan, {}).front()));
}

TEST(Unread, NothingSpeaksAgainstAnEmptyPageBeingBlank) {
  EXPECT_EQ(reason_for(Gray(900, 700, 235)), "");
  Gray shaded(900, 700, 235);
  for (int y = 0; y < 700; ++y)
    for (int x = 0; x < 900; ++x) shaded.row(y)[x] = static_cast<uint8_t>(140 + x / 10);
  EXPECT_EQ(reason_for(std::move(shaded)), "");
}

TEST(Unread, WhatShinesThroughIsTooPaleToCount) {
  Gray page = text_page();
  for (uint8_t& v : page.samples()) v = static_cast<uint8_t>(240 - (255 - v) / 14);
  EXPECT_EQ(reason_for(std::move(page)), "");
}

TEST(Unread, SharpLettersAreAScriptOrAHand) {
  EXPECT_NE(reason_for(text_page()).find("handwriting, a script"), std::string::npos);
}

TEST(Unread, SoftOnesAreOutOfFocus) {
  EXPECT_NE(reason_for(testing::blurred(text_page(), 7)).find("out of focus"), std::string::npos);
}

TEST(Unread, SpecksSmallerThanAnyPrintAreNone) {
  PrintedPage print(900, 700);
  for (int i = 0; i < 400; ++i) print.disc(20 + (i * 37) % 860, 20 + (i * 53) % 660, 2);
  EXPECT_EQ(reason_for(print.picture()), "");
}

}  // namespace
}  // namespace burnisher::run
