// `survey`, `clean` and recipes, as their users run them.

#include <gtest/gtest.h>

#include "base/json.h"

#include <cmath>
#include <filesystem>
#include <sstream>

#include "program.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "raster/tiff.h"
#include "testing/blurred.h"
#include "testing/printed_leaf.h"

namespace burnisher::tests {
namespace {

using testing::PrintedPage;
using testing::prose;
using testing::TemporaryFolder;

void put_picture(const std::string& path, const Picture& picture, double dpi = 300) {
  const std::vector<uint8_t> bytes = write_png(picture, dpi);
  put(path, std::string(bytes.begin(), bytes.end()));
}

// Two pages of the log on one scan, with the shadow of the fold.
void put_spread(const std::string& path) {
  PrintedPage page(2600, 1700);
  page.print_column(prose(20, 48), 150, 250, 40, 56);
  page.print_column(prose(20, 48), 1430, 250, 40, 56);
  Gray picture = page.picture();
  for (int y = 0; y < picture.height(); ++y) {
    for (int x = 1200; x < 1400; ++x) {
      const int shade = 90 - std::abs(x - 1300) * 9 / 10;
      picture.row(y)[x] = static_cast<uint8_t>(picture.row(y)[x] - std::max(0, shade));
    }
  }
  put_picture(path, std::move(picture));
}

std::vector<std::vector<std::string>> rows_of(const std::string& table) {
  std::vector<std::vector<std::string>> rows;
  std::istringstream lines(table);
  for (std::string line; std::getline(lines, line);) {
    rows.emplace_back();
    std::istringstream cells(line + '\t');
    for (std::string cell; std::getline(cells, cell, '\t');) rows.back().push_back(cell);
  }
  return rows;
}

TEST(Survey, SaysWhatEachScanIs) {
  TemporaryFolder folder;
  log_page(folder, "a-crooked.png", 1.5);
  put_picture(folder.file("b-blank.png"), Gray(900, 1200, 235));
  put_spread(folder.file("c-spread.png"));
  log_page(folder, "d-turned.png", 180);
  const Outcome o = shell("cd " + folder.path() +
                          " && $B survey a-crooked.png b-blank.png c-spread.png d-turned.png --out "
                          "s.json --out s.tsv --out s.html");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto pages = parse_json(content_of(folder.file("s.json"))).at("pages");
  ASSERT_EQ(pages.size(), 4u);
  EXPECT_NEAR(pages[0]["skew"].get<double>(), 1.5, 0.05);
  EXPECT_EQ(pages[0]["dpi"], 300);
  EXPECT_FALSE(pages[0]["blank"]);
  EXPECT_TRUE(pages[1]["blank"]);
  EXPECT_TRUE(pages[2]["spread"]);
  EXPECT_NEAR(pages[2]["fold"].get<double>(), 1300, 10);
  EXPECT_EQ(pages[3]["orientation"], 180);
  // The table has the names of the JSON as its header.
  const auto rows = rows_of(content_of(folder.file("s.tsv")));
  ASSERT_EQ(rows.size(), 5u);
  for (const std::string& name : rows[0]) EXPECT_TRUE(pages[0].contains(name)) << name;
  EXPECT_EQ(rows[0].size(), pages[0].size());
  EXPECT_TRUE(contains(content_of(folder.file("s.html")), "c-spread.png"));
}

TEST(Survey, PrintsTheTableWithoutOut) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const Outcome o = shell("cd " + folder.path() + " && $B survey log.png --quiet");
  EXPECT_EQ(o.code, 0);
  EXPECT_EQ(rows_of(o.out).size(), 2u);
  EXPECT_EQ(rows_of(o.out)[0][0], "file");
}

TEST(Survey, UnreadableScansAreListedAndTheOthersGoOn) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("broken.png"), "\x89PNG\r\n\x1a\nnothing more");
  const Outcome o = shell("cd " + folder.path() + " && $B survey broken.png log.png --quiet");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "broken.png")) << o.err;
  EXPECT_TRUE(contains(o.out, "log.png"));
}

TEST(Clean, WritesPagesATableAndSheets) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 2);
  put_spread(folder.file("spread.png"));
  const Outcome o =
      shell("cd " + folder.path() +
            " && $B clean log.png spread.png --out-dir out --form both --sheet s.html "
            "--sheet s.png");
  ASSERT_EQ(o.code, 0) << o.err;
  for (const char* name : {"log.png", "log.tif", "log.xml", "spread-left.png", "spread-right.tif"})
    EXPECT_TRUE(std::filesystem::exists(folder.file(std::string("out/") + name))) << name;
  const auto rows = rows_of(content_of(folder.file("out/clean.tsv")));
  ASSERT_EQ(rows.size(), 4u);
  EXPECT_EQ(rows[2][2], "left");
  EXPECT_EQ(rows[3][2], "right");
  EXPECT_TRUE(contains(content_of(folder.file("s.html")), "specks out"));
  EXPECT_EQ(content_of(folder.file("s.png")).substr(1, 3), "PNG");
}

TEST(Clean, TriesValuesOfOneSettingSideBySide) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const Outcome o = shell("cd " + folder.path() +
                          " && $B clean log.png --try 1 --vary specks=0,2px,0.3mm --sheet t.html");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string html = content_of(folder.file("t.html"));
  for (const char* title : {"specks = 0<", "specks = 2px<", "specks = 0.3mm<"})
    EXPECT_TRUE(contains(html, title)) << title;
  const Outcome wrong =
      shell("cd " + folder.path() + " && $B clean log.png --try 1 --vary spex=0,2 --sheet u.html");
  EXPECT_EQ(wrong.code, 2);
  EXPECT_TRUE(contains(wrong.err, "spex"));
}

TEST(Clean, BitonalPagesAreTwiceAsFineAndLookAndReadLikeTheirScan) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(shell("cd " + folder.path() + " && $B clean log.png --out-dir out --form bitonal").code,
            0);
  const TiffRead read = read_tiff(folder.file("out/log.tif"), 0, 1e9);
  EXPECT_EQ(width_of(read.picture), 2600);
  EXPECT_EQ(height_of(read.picture), 1600);
  EXPECT_NEAR(read.dpi, 600, 1);
  EXPECT_TRUE(contains(content_of(folder.file("out/log.xml")), "imageWidth=\"2600\""));
  EXPECT_GT(likeness(folder.file("out/log.tif"), folder.file("log.png"), 2), 0.9);
  ASSERT_EQ(shell("cd " + folder.path() +
                  " && $B segment out/log.tif --out-dir lines && cp out/log.tif lines"
                  " && $B recognise lines/log.tif --layout lines --out-dir read"
                  " && $B export read/log.xml --out log.txt --images lines --positions scan")
                .code,
            0);
  const std::string text = content_of(folder.file("log.txt"));
  for (const std::string& line : log_lines()) EXPECT_TRUE(contains(text, line)) << text;
}

TEST(Clean, RulesStayInTheBitonalPictureUnlessTheyAreToGo) {
  TemporaryFolder folder;
  PrintedPage page(1400, 1000);
  page.print_column(prose(8, 50), 150, 200, 40, 70);
  page.rule(150, 850, 1250, 850, 5);
  put_picture(folder.file("form.png"), page.picture());
  const auto ink_at_rule = [&](const std::string& option) {
    shell("cd " + folder.path() +
          " && $B clean form.png --out-dir out --form bitonal --overwrite " + option);
    const TiffRead read = read_tiff(folder.file("out/form.tif"), 0, 1e9);
    return std::get<Bitonal>(read.picture).ink(1400, 1700);  // twice as fine as the page
  };
  EXPECT_TRUE(ink_at_rule(""));
  EXPECT_FALSE(ink_at_rule("--rules remove"));
}

TEST(Recipes, AreListedPrintedAndTaken) {
  TemporaryFolder folder;
  const std::string cd = "cd " + folder.path() + " && ";
  const Outcome list = shell("$B recipes");
  for (const char* name : {"archive", "draft", "faint", "fax", "photo", "typewriter"}) {
    EXPECT_TRUE(contains(list.out, name));
    EXPECT_EQ(shell("$B recipes " + std::string(name)).code, 0);
  }
  log_page(folder, "log.png", 2);
  ASSERT_EQ(shell(cd + "$B clean log.png --out-dir out --recipe fax").code, 0);
  put(folder.file("mine.toml"), "# ours\nno-deskew = true  # as they lie\nmargin = \"7\"\n");
  ASSERT_EQ(shell(cd + "$B clean log.png --out-dir crooked --recipe mine.toml").code, 0);
  EXPECT_EQ(rows_of(content_of(folder.file("crooked/clean.tsv")))[1][9], "0.00");
  // Settings of other commands are passed over.
  put(folder.file("wide.toml"), "jpeg-quality = 80\n");
  EXPECT_EQ(shell(cd + "$B clean log.png --out-dir wide --recipe wide.toml").code, 0);
}

TEST(Recipes, HoldWhatCorrectingIsToDo) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("words.txt"), "Skerrow\n");
  const std::string cd = "cd " + folder.path() + " && ";
  put(folder.file("strict.toml"),
      "repair = \"off\"\nsuspect-above = 0.001\nhold-if = \"suspects>0%\"\nwords = \"words.txt\"\n"
      "lang = \"en\"\n");
  const Outcome o =
      shell(cd + "$B run log.png --out-dir done --to text --recipe strict.toml --json");
  EXPECT_EQ(o.code, 1) << o.err;
  const auto page = parse_json(o.out)["pages"][0];
  EXPECT_GT(page["suspects"], 0);
  EXPECT_EQ(page["held"].size(), 1u);
  EXPECT_TRUE(std::filesystem::exists(folder.file("done/waiting/log.txt")));
  // The command line has the last word.
  EXPECT_EQ(
      shell(cd + "$B run log.png --out-dir done --to text --recipe strict.toml --suspect-above 1")
          .code,
      0);
}

TEST(Leaves, WhatShinesThroughIsTakenOutWithTheOtherSide) {
  TemporaryFolder folder;
  const testing::PrintedLeaf leaf = testing::printed_leaf(0.3);
  put_picture(folder.file("1.png"), leaf.front_scan.clone(), 200);
  put_picture(folder.file("2.png"), leaf.back_scan.clone(), 200);
  ASSERT_EQ(in(folder, "$B clean 1.png 2.png --out-dir plain").code, 0);
  const Outcome o = in(folder, "$B clean 1.png 2.png --out-dir lifted --leaves");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto rows = rows_of(content_of(folder.file("lifted/clean.tsv")));
  EXPECT_TRUE(contains(rows[1].back(), "2.png shone through")) << rows[1].back();
  EXPECT_TRUE(contains(rows[2].back(), "1.png shone through")) << rows[2].back();
  // Pixels that are neither paper nor ink.
  const auto grays = [&](const std::string& path) {
    const std::string bytes = content_of(folder.file(path));
    const Gray page = to_gray(read_png({bytes.begin(), bytes.end()}, 1e9).picture);
    return std::count_if(page.samples().begin(), page.samples().end(),
                         [](uint8_t v) { return v > 175 && v < 212; });
  };
  EXPECT_LT(grays("lifted/1.png"), grays("plain/1.png") / 2);
}

TEST(Leaves, AScanIsReadAgainWhenItsOtherSideChanges) {
  TemporaryFolder folder;
  const testing::PrintedLeaf leaf = testing::printed_leaf(0.3);
  put_picture(folder.file("1.png"), leaf.front_scan.clone(), 200);
  put_picture(folder.file("2.png"), leaf.back_scan.clone(), 200);
  const std::string run = "$B run 1.png 2.png --out log.txt --job job --leaves";
  const Outcome first = in(folder, run);
  ASSERT_EQ(first.code, 0) << first.err;
  EXPECT_TRUE(contains(first.err, "1.png: 2.png shone through")) << first.err;
  EXPECT_TRUE(contains(in(folder, run + " --explain").out, "2 up to date"));
  put_picture(folder.file("2.png"), leaf.back.clone(), 200);
  const Outcome plan = in(folder, run + " --explain");
  EXPECT_TRUE(contains(plan.out, "1.png: ")) << plan.out;
  EXPECT_TRUE(contains(plan.out, "2.png: ")) << plan.out;
}

TEST(Recipes, UnknownKeysNameTheNearest) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("wrong.toml"), "\nspeks = 3px\n");
  const Outcome o =
      shell("cd " + folder.path() + " && $B clean log.png --out-dir o --recipe wrong.toml");
  EXPECT_EQ(o.code, 2);
  EXPECT_TRUE(contains(o.err, "line 2")) << o.err;
  EXPECT_TRUE(contains(o.err, "\"specks\"")) << o.err;
  const Outcome missing =
      shell("cd " + folder.path() + " && $B clean log.png --out-dir o --recipe no");
  EXPECT_EQ(missing.code, 2);
  EXPECT_TRUE(contains(missing.err, "typewriter")) << missing.err;
}

TEST(Spreads, BecomeTwoPagesOfThePdfAndOneOfTheScan) {
  TemporaryFolder folder;
  put_spread(folder.file("spread.png"));
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run spread.png --out s.pdf --out s.xml --positions scan");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(shell("qpdf --show-npages " + folder.file("s.pdf")).out, "2"));
  const std::string alto = content_of(folder.file("s.xml"));
  EXPECT_TRUE(contains(alto, "ID=\"p1\""));
  EXPECT_FALSE(contains(alto, "ID=\"p2\""));
  EXPECT_TRUE(contains(alto, "WIDTH=\"2600\""));
}

// A blurred photograph of text is no blank page: it is named, and no option drops it.
TEST(Unread, APhotographOutOfFocusIsNamedAndKept) {
  TemporaryFolder folder;
  PrintedPage print(900, 700);
  for (int i = 0; i < 6; ++i)
    print.print({"The lamp was lit at dusk and burned", 60, 120 + 90.0 * i, 44});
  put_picture(folder.file("soft.png"), testing::blurred(print.picture(), 7));
  put_picture(folder.file("white.png"), Gray(900, 700, 240));
  const Outcome o =
      in(folder, "$B run soft.png white.png --out a.pdf --drop-blank --report r.html --json");
  EXPECT_EQ(o.code, 1) << o.err;
  EXPECT_TRUE(contains(o.err, "1 blank, 1 unread")) << o.err;
  EXPECT_TRUE(contains(o.err, "look at soft.png: something stands on it")) << o.err;
  const auto pages = parse_json(o.out)["pages"];
  EXPECT_FALSE(pages[0]["blank"]);
  EXPECT_NE(pages[0]["unread"], "");
  EXPECT_TRUE(pages[1]["blank"]);
  EXPECT_EQ(pages[1]["unread"], "");
  EXPECT_TRUE(contains(in(folder, "pdfinfo a.pdf").out, "Pages:           1"));
  EXPECT_TRUE(contains(content_of(folder.file("r.html")), "unread"));
}

}  // namespace
}  // namespace burnisher::tests
