#include "report/type_case_sheet.h"

#include <gtest/gtest.h>

#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher::report {
namespace {

using nlohmann::json;
using testing::TemporaryFolder;

// Ten lines of four squares, read as a, b, c, d.
teach::TypeCase squares() {
  teach::TypeCase all;
  for (int l = 0; l < 10; ++l) {
    teach::CaseLine line;
    line.file = "leaf-0001";
    line.number = l + 1;
    line.start = {100, 100.0 + 50 * l};
    line.height = 20;
    line.read = "ab cd </script>";
    line.strip = Gray(200, all.frame.height, recognise::kPaperLevel);
    for (int g = 0; g < 4; ++g) {
      const int x0 = 20 + 30 * g;
      for (int y = 20; y < 33; ++y)
        std::fill(line.strip.row(y) + x0, line.strip.row(y) + x0 + 8 + 4 * g, recognise::kInkLevel);
      line.glyphs.push_back({teach::place_of_column(x0, all.frame),
                             teach::place_of_column(x0 + 8 + 4 * g, all.frame),
                             std::string(1, static_cast<char>('a' + g)), 0.9});
    }
    all.lines.push_back(std::move(line));
  }
  return all;
}

teach::Naming naming(const teach::CaseLine& line, double from, double to, const std::string& text) {
  teach::Naming one;
  one.file = line.file;
  one.line = line.number;
  one.start = line.start;
  one.from = from;
  one.to = to;
  one.text = text;
  return one;
}

// What the page's script is given.
json data_of(const std::string& path) {
  const auto bytes = read_file(path);
  const std::string page(bytes.begin(), bytes.end());
  const std::string mark = "const sheet = ";
  const size_t from = page.find(mark) + mark.size();
  std::string text = page.substr(from, page.find(";\n", from) - from);
  for (size_t at = text.find("<\\/"); at != std::string::npos; at = text.find("<\\/", at))
    text.erase(at + 1, 1);
  return parse_json(text);
}

TEST(TypeCaseSheet, HasEveryGlyphInItsPileAndLine) {
  const teach::TypeCase all = squares();
  const std::vector<teach::Naming> none;
  TemporaryFolder folder;
  const TypeCaseSheet sheet{"Case", &all, &none, "\u00e4\u00f6", 0};
  const TypeCaseCounts counts = write_type_case(sheet, folder.file("case.html"), false);
  EXPECT_EQ(counts.lines, 10u);
  EXPECT_EQ(counts.glyphs, 40u);
  const json data = data_of(folder.file("case.html"));
  EXPECT_EQ(data["piles"].size(), counts.piles);
  EXPECT_EQ(data["lines"].size(), 10u);
  EXPECT_EQ(data["letters"], "\u00e4\u00f6");
  for (size_t p = 0; p < counts.piles; ++p)
    for (const json& at : data["piles"][p]) {
      bool there = false;
      for (const json& glyph : data["lines"][at[0].get<size_t>()]["glyphs"])
        there = there || (glyph[0] == at[1] && glyph[4] == p);
      EXPECT_TRUE(there) << json_text(at);
    }
  EXPECT_THROW(write_type_case(sheet, folder.file("case.html"), false), OutputError);
}

TEST(TypeCaseSheet, WhatWasSaidBeforeIsThereAsItWasCut) {
  const teach::TypeCase all = squares();
  const teach::CaseLine& line = all.lines[2];
  std::vector<teach::Naming> said = {
      naming(line, line.glyphs[0].x0, line.glyphs[1].x1, "ab"),  // joined
      naming(line, line.glyphs[3].x0, line.glyphs[3].x1, "d")};
  said.push_back(naming(line, line.glyphs[2].x0, line.glyphs[2].x1, ""));
  said.back().what = teach::Naming::What::kBroken;
  said.push_back(naming(all.lines[5], 0, 0, "a whole line"));
  said.back().what = teach::Naming::What::kLine;
  TemporaryFolder folder;
  write_type_case({"Case", &all, &said, "", 0}, folder.file("case.html"), false);
  const json lines = data_of(folder.file("case.html"))["lines"];
  const json& glyphs = lines[2]["glyphs"];
  ASSERT_EQ(glyphs.size(), 3u);
  EXPECT_EQ(glyphs[0][5], "ab");
  EXPECT_EQ(glyphs[0][2], "ab");  // read so together
  EXPECT_EQ(glyphs[0][4], -1);    // of no pile
  EXPECT_EQ(glyphs[1][6], 1);
  EXPECT_EQ(glyphs[2][5], "d");
  EXPECT_NE(glyphs[2][4], -1);
  EXPECT_EQ(lines[5]["typed"], "a whole line");
}

TEST(TypeCaseSheet, OfManyLinesSomeAreDrawnAndAllThatAreNamed) {
  const teach::TypeCase all = squares();
  const teach::CaseLine& line = all.lines[0];
  const std::vector<teach::Naming> said = {naming(line, line.glyphs[0].x0, line.glyphs[0].x1, "a")};
  TemporaryFolder folder;
  const TypeCaseCounts counts =
      write_type_case({"Case", &all, &said, "", 3}, folder.file("case.html"), false);
  EXPECT_EQ(counts.lines, 4u);
  EXPECT_EQ(data_of(folder.file("case.html"))["lines"][0]["number"], 1);
}

}  // namespace
}  // namespace burnisher::report
