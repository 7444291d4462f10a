#include "pdf/text_layer.h"

#include <gtest/gtest.h>

#include "testing/read_page.h"

namespace burnisher {
namespace {

using pdf::CharacterCodes;
using testing::count_of;
using testing::line_at;
using testing::page_of;

pdf::SheetFrame frame_of(const Page& page) {
  pdf::SheetFrame frame;
  frame.height = page.height;
  frame.points = 72 / page.dpi;
  return frame;
}

std::string layer_of(const Page& page, pdf::TextFonts& fonts) {
  return pdf::text_layer(page, frame_of(page), fonts).content;
}

TEST(TextLayer, EachWordIsStretchedToItsBox) {
  pdf::TextFonts fonts;
  const std::string layer = layer_of(page_of({line_at({"aba"}, 200, 700)}), fonts);
  // 144 dpi: two pixels a point; x 200 -> 100 pt, baseline 700 -> (1400 - 700) / 2 pt from below.
  EXPECT_NE(layer.find("100.00 350.00 Tm"), std::string::npos) << layer;
  EXPECT_NE(layer.find("3 Tr"), std::string::npos);
  EXPECT_NE(layer.find("<000100020001> Tj"), std::string::npos);
  // 54 pixels are 27 pt; three glyphs of half an em of 20 / 0.55 / 2 pt are 27.27 pt: 99 %.
  EXPECT_NE(layer.find("99.00 Tz"), std::string::npos) << layer;
}

TEST(TextLayer, WordsThatWereCorrectedAreWrittenAsTheyAreNow) {
  Page page = page_of({line_at({"larnp"}, 50, 100)});
  Word& word = page.blocks[0].lines[0].words[0];
  word.text = "lâmp";
  word.glyphs.clear();  // a person's text has no glyphs
  pdf::TextFonts fonts;
  layer_of(page, fonts);
  std::u32string written;
  for (const auto& [code, character] : fonts.codes.characters()) written += character;
  EXPECT_EQ(written, U"lâmp ");  // words end with a space
}

TEST(TextLayer, WordsOfSlopingAndBentLinesHaveTheirOwnHeight) {
  Line line = line_at({"up", "hill", "down"}, 100, 500);
  const double middle = line.words[1].box.centre().x;
  line.baseline = {{line.baseline[0].x, 505}, {middle, 495}, {line.baseline[1].x, 505}};
  pdf::TextFonts fonts;
  const std::string layer = layer_of(page_of({line}), fonts);
  EXPECT_GE(count_of(" Tm", layer), 3u) << layer;
  EXPECT_EQ(count_of("1.00000 0.00000 -0.00000 1.00000", layer), count_of(" Tm", layer));
}

TEST(TextLayer, DotsOfLeadersStayRound) {
  Line line = line_at({"Stores", "........", "12"}, 100, 500);
  for (Word& word : line.words) word.type.em = 36;
  pdf::TextFonts fonts;
  const std::string layer = layer_of(page_of({line}), fonts);
  EXPECT_EQ(count_of("<FEFF002E002E002E002E002E002E002E002E>", layer), 1u) << layer;
  EXPECT_EQ(count_of("100 Tz", layer), 1u);
  EXPECT_EQ(count_of(" 0 Tc <", layer), 1u);
}

TEST(TextLayer, SteepLinesAreTurned) {
  Line line = line_at({"legend"}, 100, 500);
  line.words[0].box = {90, 300, 110, 500};
  line.box = line.words[0].box;
  line.baseline = {{110, 500}, {110, 300}};
  line.words[0].glyphs = {{U'l', {90, 480, 110, 500}, 1}, {U'd', {90, 300, 110, 320}, 1}};
  pdf::TextFonts fonts;
  const std::string layer = layer_of(page_of({line}), fonts);
  EXPECT_NE(layer.find("0.00000 1.00000 -1.00000 0.00000 55.00"), std::string::npos) << layer;
}

TEST(TextLayer, NoiseAndEmptyLinesLeaveNoText) {
  pdf::TextFonts fonts;
  Page page = page_of({line_at({"stamp"}, 100, 200)});
  page.blocks[0].kind = BlockKind::kNoise;
  EXPECT_EQ(layer_of(page, fonts), "");
  Page bare = page_of({line_at({"x"}, 100, 200)});
  bare.blocks[0].lines[0].words.clear();
  EXPECT_EQ(layer_of(bare, fonts), "");
}

TEST(TextLayer, SpacesFillTheGapsSoThatWordsStartWhereTheyStand) {
  pdf::TextFonts fonts;
  const std::string layer = layer_of(page_of({line_at({"ab", "cd"}, 100, 300)}), fonts);
  // Four shown strings: word, space, word, space at the line's end.
  EXPECT_EQ(count_of(" Tj", layer), 4u);
  EXPECT_NE(fonts.codes.to_unicode().find("<0020>"), std::string::npos);
}

TEST(TextLayer, AHyphenInsideAWordIsSoftAtTheLinesEnd) {
  pdf::TextFonts fonts;
  const std::string soft =
      layer_of(page_of({line_at({"light-"}, 50, 100), line_at({"house"}, 50, 150)}), fonts);
  EXPECT_EQ(count_of("<</ActualText <FEFF00AD>>>", soft), 1u);
  // To readers without replacements it is a plain hyphen.
  EXPECT_NE(fonts.codes.to_unicode().find("<002D>"), std::string::npos);
  EXPECT_EQ(fonts.codes.to_unicode().find("<00AD>"), std::string::npos);
  const std::string hard =
      layer_of(page_of({line_at({"North-"}, 50, 100), line_at({"East"}, 50, 150)}), fonts);
  EXPECT_EQ(count_of("ActualText", hard), 0u);
}

TEST(TextLayer, RunningHeadsAreNotReadOut) {
  pdf::TextFonts fonts;
  Page page = page_of({line_at({"Skerrow", "Light", "Board"}, 50, 100)});
  page.blocks[0].kind = BlockKind::kRunningHead;
  const pdf::TextLayer layer = pdf::text_layer(page, frame_of(page), fonts);
  EXPECT_TRUE(layer.parts.empty());
  EXPECT_NE(layer.content.find("/Artifact"), std::string::npos);
  EXPECT_NE(layer.content.find(" Tj"), std::string::npos);  // but can be searched for
}

TEST(TextLayer, RightToLeftWordsAreDrawnFromTheLeftAsTheyAreSeen) {
  pdf::TextFonts fonts;
  // "שלום": shin comes first and stands rightmost.
  const std::string layer = layer_of(page_of({line_at({"שלום"}, 100, 300)}), fonts);
  EXPECT_EQ(fonts.codes.characters().at(1), U'ם');
  EXPECT_EQ(fonts.codes.characters().at(4), U'ש');
  EXPECT_NE(layer.find("<0001000200030004> Tj"), std::string::npos) << layer;
}

TEST(CharacterCodes, MapBackToUnicodeAlsoBeyondTheFirstPlane) {
  CharacterCodes codes;
  EXPECT_EQ(codes.code_of(U'ß'), 1);
  EXPECT_EQ(codes.code_of(0x1F4A1), 2);
  EXPECT_EQ(codes.code_of(U'ß'), 1);
  const std::string cmap = codes.to_unicode();
  EXPECT_NE(cmap.find("<0001> <00DF>"), std::string::npos);
  EXPECT_NE(cmap.find("<0002> <D83DDCA1>"), std::string::npos);
}

TEST(CharacterCodes, LongMapsComeInBlocksOfAHundred) {
  CharacterCodes codes;
  for (char32_t c = 0x100; c < 0x100 + 250; ++c) codes.code_of(c);
  const std::string cmap = codes.to_unicode();
  EXPECT_NE(cmap.find("100 beginbfchar"), std::string::npos);
  EXPECT_NE(cmap.find("\n50 beginbfchar"), std::string::npos);
}

}  // namespace
}  // namespace burnisher
