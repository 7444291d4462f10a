#include "run/job_session.h"

#include <gtest/gtest.h>

#include "base/files.h"

namespace burnisher::run {
namespace {

TEST(PageNames, TellPagesAndSidesApart) {
  Page page;
  page.file = "in/box 3.tif";
  page.number = 7;
  EXPECT_EQ(page_name_of(page), "box 3-0007");
  page.part = 1;
  EXPECT_EQ(page_name_of(page), "box 3-0007-left");
  EXPECT_EQ(stem_of("a/b/c.tar.gz"), "c.tar");
}

}  // namespace
}  // namespace burnisher::run
