#include <gtest/gtest.h>

#include <cmath>
#include <string>
#include <vector>

#include "base/unicode.h"
#include "raster/convert.h"
#include "testing/read_page.h"
#include "type/lift.h"
#include "type/match.h"
#include "type/print.h"
#include "type/subset.h"
#include "type/typefaces.h"

namespace burnisher::type {
namespace {

constexpr double kEm = 44;  // pixels

// A page drawn with faces, and what a reader would say of it.
class DrawnPage {
 public:
  DrawnPage() : picture_(1200, 1000, 255) {
    page_.width = 1200;
    page_.height = 1000;
  }

  // A line of words, one block of its own.
  DrawnPage& line(const std::vector<std::string>& words, const TypefaceName& name, double baseline,
                  double em = kEm, double confidence = 0.95) {
    const Typeface& face = faces_.named(name);
    Line line;
    line.x_height = face.x_height() * em;
    line.baseline = {{60, baseline}, {1140, baseline}};
    double x = 60;
    for (const std::string& text : words) {
      const auto characters = decode_utf8(text);
      const TextMetrics extent = face.extent(characters);
      face.draw(characters, x, baseline, em, 1, picture_);
      Word word;
      word.text = text;
      word.confidence = confidence;
      word.box = {x + extent.lead * em, baseline + extent.top * em,
                  x + (extent.lead + extent.ink) * em, baseline + extent.bottom * em};
      line.box = united(line.box, word.box);
      line.words.push_back(word);
      x += (extent.advance + 0.25) * em;
    }
    Block block;
    block.outline = line.box.corners();
    block.lines.push_back(line);
    page_.blocks.push_back(block);
    return *this;
  }

  Page matched(Which which = Which::kSure) {
    match(page_, Picture(picture_.clone()), ink(), which);
    return page_;
  }
  Bitonal ink() const { return to_bitonal(picture_, 128); }
  Gray& picture() { return picture_; }

 private:
  Typefaces faces_;
  Gray picture_;
  Page page_;
};

const std::vector<std::string> kWords = {"The", "keeper", "trimmed", "lamps", "before", "dusk"};

const Type& type_of(const Page& page, size_t block, size_t word = 1) {
  return page.blocks[block].lines[0].words[word].type;
}

TEST(Match, FindsFamilyWeightAndSlantOfEachLine) {
  DrawnPage drawn;
  drawn.line(kWords, {Family::kSerif, false, false, false}, 100)
      .line(kWords, {Family::kSans, false, false, false}, 200)
      .line(kWords, {Family::kMono, false, false, false}, 300)
      .line(kWords, {Family::kSerif, true, false, false}, 400)
      .line(kWords, {Family::kSerif, false, true, false}, 500)
      .line(kWords, {Family::kSans, false, true, false}, 600);
  const Page page = drawn.matched();
  const Family families[] = {Family::kSerif, Family::kSans,  Family::kMono,
                             Family::kSerif, Family::kSerif, Family::kSans};
  for (size_t i = 0; i < 6; ++i) {
    EXPECT_EQ(type_of(page, i).family, families[i]) << i;
    EXPECT_EQ(type_of(page, i).bold, i == 3) << i;
    EXPECT_EQ(type_of(page, i).italic, i >= 4) << i;
    EXPECT_NEAR(type_of(page, i).em, kEm, 0.05 * kEm) << i;
  }
}

TEST(Match, OneWordInAnotherSlantHasItsOwn) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100).line({"Skerrow"}, {Family::kSerif, false, true, false}, 200);
  Page page = drawn.matched();
  EXPECT_FALSE(type_of(page, 0, 5).italic);
  EXPECT_TRUE(type_of(page, 1, 0).italic);
}

TEST(Match, WhatWasUnsureKeepsItsPicture) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100).line({"gallery", "window"}, {}, 200, kEm, 0.6);
  const Page sure = drawn.matched(Which::kSure);
  EXPECT_GT(type_of(sure, 0).em, 0);
  EXPECT_EQ(type_of(sure, 1).em, 0);
  EXPECT_GT(type_of(drawn.matched(Which::kReadable), 1).em, 0);
}

TEST(Match, WordsThatAreNotWhatIsPrintedKeepTheirPicture) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100).line(kWords, {}, 200);
  for (int y = 150; y < 215; ++y) {
    for (int x = 60; x < 1100; ++x) drawn.picture().row(y)[x] = std::abs(y - 165) < 4 ? 0 : 255;
  }
  const Page page = drawn.matched();
  EXPECT_GT(type_of(page, 0).em, 0);
  EXPECT_EQ(type_of(page, 1, 2).em, 0);
}

TEST(Match, LinesOfABlockAreOfOneSizeUnlessTheyClearlyDiffer) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100).line(kWords, {}, 200).line(kWords, {}, 300).line(kWords, {}, 450, 80);
  Page page = drawn.matched();
  for (size_t b = 1; b < 4; ++b) page.blocks[0].lines.push_back(page.blocks[b].lines[0]);
  page.blocks.resize(1);
  auto& lines = page.blocks[0].lines;
  const double usual = lines[0].x_height;
  lines[1].x_height = 0.85 * usual;  // badly measured
  match(page, Picture(drawn.picture().clone()), drawn.ink(), Which::kReadable);
  EXPECT_NEAR(lines[1].words[1].type.em, lines[0].words[1].type.em, 1e-6);
  EXPECT_NEAR(lines[3].words[1].type.em, 80, 2);
}

TEST(Match, WordsBesideThePageDoNoHarm) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100);
  Page page = drawn.matched();
  auto& line = page.blocks[0].lines[0];
  const Box boxes[] = {{-900, -800, -100, -60},        {5000, 10, 6000, 50}, {0, 0, 2e9, 2e9},
                       {-1e300, -1e300, 1e300, 1e300}, {500, 800, 700, 840}, {10, 10, 9, 9}};
  for (size_t i = 0; i < 6; ++i) line.words[i].box = boxes[i];
  for (const double x_height : {20.0, 0.0, -5.0, 1e30}) {
    line.x_height = x_height;
    EXPECT_NO_THROW(match(page, Picture(drawn.picture().clone()), drawn.ink(), Which::kReadable));
  }
  EXPECT_NO_THROW(ink_of_set_words(page, drawn.ink()));
}

TEST(Match, NoFaceSetsScriptsThatNeedShaping) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100);
  Page page = drawn.matched();
  page.blocks[0].lines[0].words[1].text = "منارة";
  page.blocks[0].lines[0].words[1].type = {};
  match(page, Picture(drawn.picture().clone()), drawn.ink(), Which::kReadable);
  EXPECT_EQ(type_of(page, 0, 1).em, 0);
  EXPECT_GT(type_of(page, 0, 2).em, 0);
}

TEST(Match, MeasuresTheInksColour) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100).line({"Danger", "rocks"}, {}, 200);
  Colour colour(1200, 1000);
  for (int y = 0; y < 1000; ++y) {
    for (int x = 0; x < 1200; ++x) {
      const int v = drawn.picture().row(y)[x];
      uint8_t* out = colour.row(y) + 3 * x;
      out[0] = static_cast<uint8_t>(y < 150 ? v : 180 + v * 75 / 255);
      out[1] = out[2] = static_cast<uint8_t>(v);
    }
  }
  const Bitonal ink = drawn.ink();
  Page page = drawn.matched();
  match(page, Picture(std::move(colour)), ink, Which::kSure);
  EXPECT_EQ(type_of(page, 0).colour, (Ink{0, 0, 0}));
  EXPECT_GT(type_of(page, 1).colour[0], 150);
  EXPECT_LT(type_of(page, 1).colour[1], 60);
}

TEST(Print, LeanIsThatOfTheLetters) {
  for (const bool italic : {false, true}) {
    Typefaces faces;
    Gray print(400, 40, 255);
    faces.named({Family::kSerif, false, italic, false})
        .draw(decode_utf8("lighthouse"), 10, 30, 28, 1, print);
    EXPECT_NEAR(lean_of(print, 30), italic ? 14 : 0, 4);
  }
}

TEST(Print, StrokeWidthOfBars) {
  Gray print(60, 60, 255);
  for (int y = 5; y < 55; ++y) {
    for (int x = 0; x < 4; ++x) print.row(y)[10 + x] = print.row(y)[30 + x] = 0;
  }
  EXPECT_NEAR(stroke_of(print), 4, 0.6);
}

TEST(Print, SerifsHaveMoreContrastThanSansAndTypewriting) {
  const auto contrast_of = [](Family family, bool bold) {
    Typefaces faces;
    Gray print(1600, 90, 255);
    faces.named({family, bold, false, false})
        .draw(decode_utf8("The keeper trimmed the lamps before dusk"), 10, 60, 48, 1, print);
    StrokeContrast contrast;
    contrast.add(to_bitonal(print, 128), {0, 0, 1600, 90});
    return contrast.value();
  };
  for (const bool bold : {false, true}) {
    EXPECT_GT(contrast_of(Family::kSerif, bold).value(), 1.6);
    EXPECT_LT(contrast_of(Family::kSans, bold).value(), 1.45);
    EXPECT_LT(contrast_of(Family::kMono, bold).value(), 1.4);
  }
  EXPECT_FALSE(StrokeContrast().value().has_value());
}

TEST(Lift, TakesLettersAndLeavesRulesAndOtherWords) {
  DrawnPage drawn;
  drawn.line(kWords, {}, 100);
  for (int x = 40; x < 900; ++x) {
    for (int y = 101; y < 104; ++y) drawn.picture().row(y)[x] = 0;  // touches the letters' feet
  }
  Page page = drawn.matched();
  page.blocks[0].lines[0].words[0].type = {};  // "The" stays
  const Bitonal ink = drawn.ink(), gone = ink_of_set_words(page, ink);
  const auto count = [](const Bitonal& in, const Box& box) {
    int n = 0;
    for (int y = static_cast<int>(box.y0); y < box.y1; ++y) {
      for (int x = static_cast<int>(box.x0); x < box.x1; ++x) n += in.ink(x, y);
    }
    return n;
  };
  const auto& words = page.blocks[0].lines[0].words;
  EXPECT_EQ(count(gone, words[0].box), 0);
  Box above = words[2].box;
  above.y1 = 99;
  EXPECT_GT(count(gone, above), 0.98 * count(ink, above));
  EXPECT_EQ(count(gone, {40, 101, 900, 104}), 0);
}

TEST(Subset, HoldsTheGlyphsAskedForAndIsSmall) {
  Typefaces faces;
  const TypefaceName name{Family::kSerif, false, false, false};
  const Typeface& face = faces.named(name);
  const std::vector<int> glyphs = {face.glyph_of(U'k'), face.glyph_of(U'ß'), face.glyph_of(U'-')};
  const Subset subset = subset_of(name, glyphs);
  EXPECT_LT(subset.font.size(), 8000u);
  FT_Library library;
  FT_Face part;
  ASSERT_EQ(FT_Init_FreeType(&library), 0);
  ASSERT_EQ(FT_New_Memory_Face(library, subset.font.data(),
                               static_cast<FT_Long>(subset.font.size()), 0, &part),
            0);
  EXPECT_EQ(part->num_glyphs, 4);
  for (size_t i = 0; i < glyphs.size(); ++i) {
    ASSERT_EQ(FT_Load_Glyph(part, static_cast<FT_UInt>(subset.glyphs[i]), FT_LOAD_NO_SCALE), 0);
    EXPECT_NEAR(static_cast<double>(part->glyph->advance.x) / part->units_per_EM,
                face.advance_of(glyphs[i]), 1e-6);
    EXPECT_GT(part->glyph->outline.n_points, 0);
  }
  FT_Done_Face(part);
  FT_Done_FreeType(library);
}

TEST(Faces, FallBackOnTheSpareFace) {
  Typefaces faces;
  TypefaceName name{Family::kSans, false, false, false};
  ASSERT_NE(faces.for_text(name, decode_utf8("Licht")), nullptr);
  EXPECT_FALSE(name.spare);
  ASSERT_NE(faces.for_text(name, decode_utf8("☀")), nullptr);
  EXPECT_TRUE(name.spare);
  EXPECT_EQ(faces.for_text(name, decode_utf8("\xF0\x93\x80\x80")), nullptr);
}

}  // namespace
}  // namespace burnisher::type
