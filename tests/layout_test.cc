// The options of layout, and the files it writes, through the built program.
#include <gtest/gtest.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>

#include "base/files.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

using testing::PrintedPage;
using testing::TemporaryFolder;

void save(const PrintedPage& page, const std::string& path) {
  write_file(path, write_png(page.picture(), 200));
}

PrintedPage stores_page() {
  PrintedPage page(1500, 1500);
  page.print({"Stores of the North Tower", 120, 150, 62});
  const char* rows[][3] = {{"Stores", "Tins", "Pounds"},
                           {"Lamp oil", "412", "31.50"},
                           {"Wicks", "24", "2.10"},
                           {"Rope", "95", "17.25"},
                           {"Coal", "38", "9.00"}};
  const double xs[] = {120, 700, 1100};
  for (int r = 0; r < 5; ++r) {
    for (int c = 0; c < 3; ++c) page.print({rows[r][c], xs[c], 280.0 + 64 * r, 42});
  }
  page.print_column(testing::prose(9, 60), 120, 760, 42, 58);
  return page;
}

TEST(Layout, TablesGoIntoSpreadsheets) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run stores.png --out stores.csv --out stores.xlsx --out s.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string csv = content_of(folder.file("stores.csv"));
  EXPECT_TRUE(contains(csv, "Lamp oil,412,31.50\r\n")) << csv;
  EXPECT_TRUE(contains(content_of(folder.file("s.txt")), "Lamp oil\t412\t31.50"));
  const Outcome sheet =
      shell("cd " + folder.path() + " && unzip -p stores.xlsx xl/worksheets/sheet1.xml");
  EXPECT_TRUE(contains(sheet.out, "<v>412</v>")) << sheet.out.substr(0, 400);
}

TEST(Layout, KindsCanBeChosen) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  ASSERT_LE(shell("cd " + folder.path() + " && $B run stores.png --only table --out t.txt").code,
            1);
  ASSERT_LE(shell("cd " + folder.path() + " && $B run stores.png --drop table --out d.txt").code,
            1);
  const std::string only = content_of(folder.file("t.txt")),
                    rest = content_of(folder.file("d.txt"));
  EXPECT_TRUE(contains(only, "Lamp oil"));
  EXPECT_FALSE(contains(only, "North Tower"));
  EXPECT_FALSE(contains(rest, "Lamp oil"));
  EXPECT_TRUE(contains(rest, "North Tower"));
  const Outcome wrong =
      shell("cd " + folder.path() + " && $B run stores.png --only tabel --out x.txt");
  EXPECT_EQ(wrong.code, 2);
  EXPECT_TRUE(contains(wrong.err, "known are text, heading"));
}

TEST(Layout, OnlyTheRegionIsRead) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  const Outcome o =
      shell("cd " + folder.path() + " && $B run stores.png --region 0,0,100%,13% --out r.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string text = content_of(folder.file("r.txt"));
  EXPECT_TRUE(contains(text, "North Tower")) << text;
  EXPECT_FALSE(contains(text, "Lamp")) << text;
  EXPECT_EQ(shell("$B run x.png --region 1,2,3 --out y.txt").code, 2);
}

TEST(Layout, RegionsThatCannotBeReadAreRefused) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  const std::string go = "cd " + folder.path() + " && $B run stores.png --out r.txt --region ";
  const Outcome flat = shell(go + "0,0,0,10%");
  EXPECT_EQ(flat.code, 2);
  EXPECT_TRUE(contains(flat.err, "must be above 0")) << flat.err;
  EXPECT_EQ(shell(go + "0,a,1,1").code, 2);
  const Outcome outside = shell(go + "9000,9000,10,10");
  EXPECT_EQ(outside.code, 3);
  EXPECT_TRUE(contains(outside.err, "lies outside the page")) << outside.err;
  EXPECT_FALSE(std::filesystem::exists(folder.file("r.txt")));
}

TEST(Layout, ASpreadsheetWithoutTablesSaysSo) {
  TemporaryFolder folder;
  PrintedPage page(1500, 900);
  page.print_column(testing::prose(9, 60), 120, 160, 42, 58);
  save(page, folder.file("prose.png"));
  const Outcome o = shell("cd " + folder.path() + " && $B run prose.png --out p.csv --out p.xlsx");
  EXPECT_TRUE(contains(o.err, "p.csv: no table was found")) << o.err;
  EXPECT_TRUE(contains(o.err, "p.xlsx: no table was found")) << o.err;
}

TEST(Layout, BrokenStencilsAndEmptyChoicesAreUsageErrors) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  write_file(folder.file("bad.stencil"), std::string("no XML"));
  const std::string go = "cd " + folder.path() + " && ";
  const Outcome bad = shell(go + "$B run stores.png --stencil bad.stencil --out s.txt");
  EXPECT_EQ(bad.code, 3);
  EXPECT_TRUE(contains(bad.err, "bad.stencil")) << bad.err;
  EXPECT_EQ(shell(go + "$B run stores.png --only \"\" --out s.txt").code, 2);
}

TEST(Layout, TextAtAnAngleIsReadWhenTheAngleIsTold) {
  TemporaryFolder folder;
  PrintedPage upright(1200, 1200);
  upright.print({"Depth of water at the landing", 150, 600, 54});
  write_file(folder.file("leaning.png"), write_png(upright.picture(30), 200));
  const Outcome o =
      shell("cd " + folder.path() + " && $B run leaning.png --text-angle 30 --turn 0 --out l.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("l.txt")), "water at the landing"))
      << content_of(folder.file("l.txt"));
}

TEST(Layout, OverlaysComeAsPngAndSvgWithALegend) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("stores.png"));
  ASSERT_EQ(shell("cd " + folder.path() + " && $B segment stores.png --out-dir l --overlay l").code,
            0);
  EXPECT_EQ(shell("xmllint --noout " + folder.file("l/stores.svg")).code, 0);
  EXPECT_GT(std::filesystem::file_size(folder.file("l/stores.png")), 10000u);
  const std::string xml = content_of(folder.file("l/stores.xml"));
  EXPECT_TRUE(contains(xml, "<TableRegion"));
  EXPECT_TRUE(contains(xml, "<TableCellRole rowIndex=\"4\""));
}

TEST(Layout, AStencilIsLaidOverOtherPages) {
  TemporaryFolder folder;
  save(stores_page(), folder.file("a.png"));
  PrintedPage other(1500, 1500);
  other.print_column(testing::prose(4, 60), 120, 1300, 42, 58);
  other.print({"Elsewhere", 1250, 160, 42});
  save(other, folder.file("b.png"));
  const std::string go = "cd " + folder.path() + " && ";
  ASSERT_EQ(shell(go + "$B segment a.png --out-dir l").code, 0);
  ASSERT_EQ(shell(go + "$B stencil save l/a.xml stores.stencil").code, 0);
  const Outcome again = shell(go + "$B run a.png --stencil stores.stencil --out a.txt");
  EXPECT_FALSE(contains(again.err, "does not fit")) << again.err;
  EXPECT_TRUE(contains(content_of(folder.file("a.txt")), "Lamp oil"));
  const Outcome misfit = shell(go + "$B run b.png --stencil stores.stencil --out b.txt");
  EXPECT_EQ(misfit.code, 1);
  EXPECT_TRUE(contains(misfit.err, "the stencil does not fit")) << misfit.err;
}

TEST(Layout, DropCapitalsAndLinesThatRunUpAndDownAreRead) {
  TemporaryFolder folder;
  PrintedPage page(1500, 1200);
  page.print({"The Keeper of Skerrow", 220, 120, 60}).print({"T", 220, 330, 150});
  page.print_column(
      {"he relief boat came on the fourth of March with", "oil for the lamp and flour"}, 320, 272,
      44, 60);
  page.print_column({"a whole winter. The keeper had painted the lantern",
                     "white and had kept the log without a single gap."},
                    220, 392, 44, 60);
  page.print({"Property of the Light Board", 110, 900, 40, "Liberation Sans", 90});
  page.print({"Drawn by the keeper himself", 1400, 300, 40, "Liberation Sans", -90});
  save(page, folder.file("log.png"));
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run log.png --out log.txt --out log.pdf && pdftotext -bbox "
                          "log.pdf - | grep -o 'yM[a-z]*=.*Property'");
  const std::string text = content_of(folder.file("log.txt"));
  EXPECT_TRUE(contains(text, "The relief boat came on the fourth of March with")) << text;
  EXPECT_TRUE(contains(text, "Property of the Light Board")) << text;
  EXPECT_TRUE(contains(text, "Drawn by the keeper himself")) << text;
  // In the PDF, too, the word stands upright.
  double y0 = 0, x1 = 0, y1 = 0;
  ASSERT_EQ(std::sscanf(o.out.c_str(), "yMin=\"%lf\" xMax=\"%lf\" yMax=\"%lf\"", &y0, &x1, &y1), 3)
      << o.out << o.err;
  EXPECT_GT(y1 - y0, 20);
  EXPECT_LT(x1, 60);
}

TEST(Layout, ColumnsAreAskedForInWordsOrNumbers) {
  TemporaryFolder folder;
  PrintedPage page(1700, 1000);
  page.print_column(testing::prose(12, 34), 120, 150, 40, 56);
  page.print_column(testing::prose(12, 34), 920, 150, 40, 56);
  save(page, folder.file("two.png"));
  const std::string go = "cd " + folder.path() + " && $B run two.png --quiet --overwrite --out ";
  const auto lines_of = [&](const std::string& options) {
    const Outcome o = shell(go + "t.txt " + options);
    EXPECT_EQ(o.code, 0) << o.err;
    const std::string text = content_of(folder.file("t.txt"));
    return std::count(text.begin(), text.end(), '\n');
  };
  const auto whole = lines_of("--columns single"), parted = lines_of("--columns 2");
  EXPECT_GT(parted, whole + 8);
  EXPECT_EQ(lines_of("--columns auto"), lines_of(""));
  for (const char* wrong : {"0", "two", "2.5", "-1", "9999"}) {
    const Outcome o = shell(go + "w.txt --columns=" + wrong);
    EXPECT_EQ(o.code, 2) << wrong;
    EXPECT_TRUE(contains(o.err, "auto, single or a number")) << o.err;
    EXPECT_FALSE(std::filesystem::exists(folder.file("w.txt")));
  }
}

// What a thin sheet shows of its other side, and nothing else.
void save_other_side(const PrintedPage& printed, const std::string& path) {
  Gray page = printed.picture();
  for (int y = 0; y < page.height(); ++y) {
    uint8_t* row = page.row(y);
    std::reverse(row, row + page.width());
    for (int x = 0; x < page.width(); ++x) row[x] = static_cast<uint8_t>(215 + row[x] * 35 / 255);
  }
  write_file(path, write_png(std::move(page), 200));
}

TEST(Layout, TheOtherSideShiningThroughIsNotRead) {
  TemporaryFolder folder;
  PrintedPage page(1400, 1400);
  page.print_column(testing::prose(18, 50), 150, 200, 40, 60);
  save_other_side(page, folder.file("other.png"));
  save(page, folder.file("print.png"));
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run other.png print.png --out-dir out --to text --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string nothing = content_of(folder.file("out/other.txt"));
  EXPECT_LE(std::count_if(nothing.begin(), nothing.end(), [](char c) { return c > ' '; }), 5)
      << nothing;
  EXPECT_GT(content_of(folder.file("out/print.txt")).size(), 600u);
}

}  // namespace
}  // namespace burnisher::tests
