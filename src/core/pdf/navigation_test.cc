#include "pdf/navigation.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;

std::string labels(const std::vector<pdf::LabelRange>& ranges, int pages) {
  std::string text;
  for (int page = 1; page <= pages; ++page) text += pdf::label_of(ranges, page) + " ";
  return text;
}

TEST(Labels, AreNamedByRanges) {
  EXPECT_EQ(labels(pdf::labels_named("1-3:i,4-:1"), 6), "i ii iii 1 2 3 ");
  EXPECT_EQ(labels(pdf::labels_named("2-3:A-7"), 5), "1 A-7 A-8 4 5 ");
  EXPECT_EQ(labels(pdf::labels_named("1:Cover,2-:IX"), 4), "Cover IX X XI ");
  for (const char* wrong : {"", "3", "x:1", "3-1:i", "1-3:i,2-:1", "1-:"})
    EXPECT_THROW(pdf::labels_named(wrong), SettingsError) << wrong;
}

TEST(Labels, AreReadFromPagesThatAgree) {
  // A cover, ii and iii, then 1, an unnumbered page, 3, a misread 44, 5.
  const std::vector<pdf::PageNumber> numbers = {{0, false}, {2, true},  {3, true},   {1, false},
                                                {0, false}, {3, false}, {44, false}, {5, false}};
  EXPECT_EQ(labels(pdf::labels_read(numbers), 8), "i ii iii 1 2 3 4 5 ");
  EXPECT_TRUE(pdf::labels_read({{7, false}, {0, false}, {31, false}}).empty());
  EXPECT_EQ(labels(pdf::labels_read({{0, false}, {0, false}, {1, false}, {2, false}}), 4),
            "[1] [2] 1 2 ");
}

TEST(Labels, PagesAreFoundByThem) {
  const auto ranges = pdf::labels_named("1-3:i,4-:1");
  EXPECT_EQ(pdf::page_labelled(ranges, 9, "iii"), 3);
  EXPECT_EQ(pdf::page_labelled(ranges, 9, "2"), 5);
  EXPECT_EQ(pdf::page_labelled(ranges, 9, "12"), 0);
}

TEST(Bookmarks, AreReadFromAList) {
  testing::TemporaryFolder folder;
  write_file(folder.file("b.tsv"),
             std::string_view("# contents\nThe light\t1\nOil\t4\t2\r\n\nStores\t9\t1\n"));
  const auto bookmarks = pdf::read_bookmarks(folder.file("b.tsv"));
  ASSERT_EQ(bookmarks.size(), 3u);
  EXPECT_EQ(bookmarks[1].title, "Oil");
  EXPECT_EQ(bookmarks[1].page, 4);
  EXPECT_EQ(bookmarks[1].level, 2);
  for (const char* wrong : {"Oil\tfour\n", "Oil\n", "Oil\t1\t12\n", "\t3\n", "a\t1\t1\tx\n"}) {
    write_file(folder.file("w.tsv"), std::string_view(wrong));
    EXPECT_THROW(pdf::read_bookmarks(folder.file("w.tsv")), FormatError) << wrong;
  }
}

TEST(Contents, LinesThatEndInRisingNumbersAreTold) {
  const Page page =
      page_of({line_at({"The", "lamp", "....", "3"}, 50, 100),
               line_at({"Oil", "....", "12"}, 50, 150), line_at({"Wicks", "....", "40"}, 50, 200)});
  const auto lines = pdf::contents_of(page);
  ASSERT_EQ(lines.size(), 3u);
  EXPECT_EQ(lines[1].label, "12");
  const Page ledger = page_of({line_at({"Oil", "40"}, 50, 100), line_at({"Rope", "12"}, 50, 150),
                               line_at({"Soap", "3"}, 50, 200)});
  EXPECT_TRUE(pdf::contents_of(ledger).empty());
}

}  // namespace
}  // namespace burnisher
