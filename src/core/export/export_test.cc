#include <gtest/gtest.h>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "export/overlay.h"
#include "export/text.h"
#include "pdf/blank_font.h"
#include "pdf/pdf.h"
#include "pdf/text_layer.h"
#include "testing/printed_page.h"

#include <ft2build.h>
#include FT_FREETYPE_H

namespace burnisher {
namespace {

using exporting::CharacterCodes;

Line line_at(const std::vector<std::string>& words, double x, double y, double confidence = 0.9) {
  Line line;
  line.x_height = 20;
  for (const std::string& text : words) {
    const double width = 18.0 * static_cast<double>(text.size());
    line.words.push_back({text, {x, y - 30, x + width, y + 8}, confidence, {}});
    x += width + 15;
  }
  line.baseline = {{line.words.front().box.x0, y}, {line.words.back().box.x1, y}};
  line.box = {line.words.front().box.x0, y - 30, line.words.back().box.x1, y + 8};
  return line;
}

Page page_of(const std::vector<Line>& lines) {
  Page page;
  page.width = 1000;
  page.height = 1400;
  page.dpi = 144;
  Block block;
  block.lines = lines;
  block.outline = Box{0, 0, 900, 900}.corners();
  page.blocks.push_back(block);
  return page;
}

TEST(Text, LinesBlocksAndNoise) {
  Page page = page_of({line_at({"Oil", "spent"}, 50, 100), line_at({"9", "gallons"}, 50, 150)});
  Block other = page.blocks[0], noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  page.blocks.push_back(other);
  EXPECT_EQ(exporting::text_of(page), "Oil spent\n9 gallons\n\nOil spent\n9 gallons\n");
  EXPECT_EQ(exporting::text_of(Page{}), "");
}

TEST(TextLayer, EachWordIsStretchedToItsBox) {
  CharacterCodes codes;
  const Page page = page_of({line_at({"aba"}, 200, 700)});
  const std::string layer = exporting::text_layer(page, codes);
  // 144 dpi: two pixels a point; x 200 -> 100 pt, baseline 700 -> (1400 - 700) / 2 pt from below.
  EXPECT_NE(layer.find("100.00 350.00 Tm"), std::string::npos) << layer;
  EXPECT_NE(layer.find("3 Tr"), std::string::npos);
  EXPECT_NE(layer.find("<000100020001> Tj"), std::string::npos);
  // 54 pixels are 27 pt; three glyphs of half an em of 20 / 0.45 / 2 pt are 33.33 pt: 81 %.
  EXPECT_NE(layer.find("81.00 Tz"), std::string::npos) << layer;
}

TEST(TextLayer, WordsThatWereCorrectedAreWrittenAsTheyAreNow) {
  CharacterCodes codes;
  Page page = page_of({line_at({"larnp"}, 50, 100)});
  exporting::text_layer(page, codes);
  Word& word = page.blocks[0].lines[0].words[0];
  word.text = "l\u00e2mp";
  word.glyphs.clear();  // a person's text has no glyphs
  CharacterCodes fresh;
  exporting::text_layer(page, fresh);
  std::u32string written;
  for (const auto& [code, character] : fresh.characters()) written += character;
  EXPECT_EQ(written, U"lâmp ");  // words end with a space
}

TEST(TextLayer, SlopingLinesTurnTheirText) {
  CharacterCodes codes;
  Line line = line_at({"up", "hill"}, 100, 500);
  line.baseline = {{line.baseline[0].x, 500}, {line.baseline[1].x, 480}};
  const std::string layer = exporting::text_layer(page_of({line}), codes);
  const double cosine = std::atof(layer.c_str() + layer.find("Tf ") + 3);
  EXPECT_LT(cosine, 0.9999);
  EXPECT_GT(cosine, 0.95);
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

TEST(BlankFont, OpensAndHasEmptyGlyphsOfOneWidth) {
  const auto bytes = exporting::blank_font(40);
  FT_Library library;
  ASSERT_EQ(FT_Init_FreeType(&library), 0);
  FT_Face face;
  ASSERT_EQ(FT_New_Memory_Face(library, bytes.data(), static_cast<FT_Long>(bytes.size()), 0, &face),
            0);
  EXPECT_EQ(face->num_glyphs, 41);
  EXPECT_EQ(face->units_per_EM, exporting::kBlankUnits);
  ASSERT_EQ(FT_Load_Glyph(face, 40, FT_LOAD_NO_SCALE), 0);
  EXPECT_EQ(face->glyph->advance.x, exporting::kBlankAdvance);
  EXPECT_EQ(face->glyph->outline.n_points, 0);
  FT_Done_Face(face);
  FT_Done_FreeType(library);
}

TEST(Pdf, TheSameInputGivesTheSameBytes) {
  testing::TemporaryFolder folder;
  const Page page = page_of({line_at({"Skerrow", "Light"}, 100, 200)});
  const auto picture = exporting::coded(Picture(Gray(1000, 1400, 230)), 50);
  for (const char* name : {"a.pdf", "b.pdf"}) {
    exporting::PdfWriter writer(folder.file(name), false, {"Log", "en", 50});
    writer.add(page, picture);
    writer.finish();
  }
  EXPECT_EQ(read_file(folder.file("a.pdf")), read_file(folder.file("b.pdf")));
}

TEST(Pdf, AnUnfinishedFileIsNotLeftBehind) {
  testing::TemporaryFolder folder;
  { exporting::PdfWriter writer(folder.file("a.pdf"), false, {}); }
  EXPECT_THROW(read_file(folder.file("a.pdf")), InputError);
  EXPECT_THROW(exporting::PdfWriter(folder.file("no/a.pdf"), false, {}), OutputError);
}

std::string content_of(const std::string& path) {
  const auto bytes = read_file(path);
  return std::string(bytes.begin(), bytes.end());
}

TEST(Pdf, PagesKeepTheirSizeTitleAndLanguage) {
  testing::TemporaryFolder folder;
  {
    exporting::PdfWriter writer(folder.file("a.pdf"), false, {"Keeper’s log", "de", 50});
    writer.add(page_of({line_at({"Feuer"}, 100, 200)}),
               exporting::coded(Picture(Bitonal(1000, 1400)), 50));
    writer.finish();
  }
  // qpdf writes it out plainly, so that it can be looked into.
  ASSERT_EQ(std::system(("qpdf --qdf --object-streams=disable " + folder.file("a.pdf") + " " +
                         folder.file("b.pdf"))
                            .c_str()),
            0);
  const std::string plain = content_of(folder.file("b.pdf"));
  EXPECT_NE(plain.find("/Lang (de)"), std::string::npos);
  EXPECT_NE(plain.find("/CCITTFaxDecode"), std::string::npos);
  EXPECT_NE(plain.find("500"), std::string::npos);  // 1000 pixels of 144 dpi
  EXPECT_NE(plain.find("700"), std::string::npos);
  EXPECT_NE(plain.find("/Title"), std::string::npos);
  EXPECT_NE(plain.find("/ToUnicode"), std::string::npos);
}

TEST(Pdf, ManyPagesShareOneFont) {
  testing::TemporaryFolder folder;
  {
    exporting::PdfWriter writer(folder.file("a.pdf"), false, {});
    for (int i = 0; i < 5; ++i)
      writer.add(page_of({line_at({"page"}, 100, 200)}),
                 exporting::coded(Picture(Gray(100, 140, 220)), 40));
    writer.finish();
  }
  ASSERT_EQ(std::system(("qpdf --qdf --object-streams=disable " + folder.file("a.pdf") + " " +
                         folder.file("b.pdf"))
                            .c_str()),
            0);
  const std::string plain = content_of(folder.file("b.pdf"));
  size_t fonts = 0, images = 0;
  for (size_t at = plain.find("/FontFile2"); at != std::string::npos;
       at = plain.find("/FontFile2", at + 1))
    ++fonts;
  for (size_t at = plain.find("/Subtype /Image"); at != std::string::npos;
       at = plain.find("/Subtype /Image", at + 1))
    ++images;
  EXPECT_EQ(fonts, 1u);
  EXPECT_EQ(images, 5u);
}

TEST(TextLayer, NoiseAndEmptyLinesLeaveNoText) {
  CharacterCodes codes;
  Page page = page_of({line_at({"stamp"}, 100, 200)});
  page.blocks[0].kind = BlockKind::kNoise;
  EXPECT_EQ(exporting::text_layer(page, codes), "");
  Page bare = page_of({line_at({"x"}, 100, 200)});
  bare.blocks[0].lines[0].words.clear();
  EXPECT_EQ(exporting::text_layer(bare, codes), "");
}

TEST(TextLayer, SpacesFillTheGapsSoThatWordsStartWhereTheyStand) {
  CharacterCodes codes;
  const std::string layer =
      exporting::text_layer(page_of({line_at({"ab", "cd"}, 100, 300)}), codes);
  // Four shown strings: word, space, word, space at the line's end.
  size_t shown = 0;
  for (size_t at = layer.find(" Tj"); at != std::string::npos; at = layer.find(" Tj", at + 1))
    ++shown;
  EXPECT_EQ(shown, 4u);
  EXPECT_NE(codes.to_unicode().find("<0020>"), std::string::npos);
}

TEST(Coded, BitonalIsG4AndColourStaysColour) {
  EXPECT_EQ(exporting::coded(Picture(Bitonal(90, 50)), 50).kind,
            exporting::CodedPicture::Kind::kG4);
  EXPECT_TRUE(exporting::coded(Picture(Colour(90, 50)), 50).colour);
}

TEST(Overlay, DrawsSureAndUnsureWordsInDifferentColours) {
  const Page page =
      page_of({line_at({"sure"}, 100, 300, 0.95), line_at({"unsure"}, 100, 500, 0.2)});
  const Colour drawn = exporting::overlay_of(Gray(1000, 1400, 255), page, {});
  EXPECT_EQ(drawn.width(), 1000);
  const uint8_t *sure = drawn.row(285) + 3 * 120, *unsure = drawn.row(485) + 3 * 120;
  EXPECT_GT(sure[2], sure[0]);      // bluish
  EXPECT_GT(unsure[0], unsure[2]);  // reddish
}

TEST(Overlay, LargePagesAreReduced) {
  exporting::OverlaySettings settings;
  settings.widest = 500;
  EXPECT_EQ(exporting::overlay_of(Gray(1000, 1400, 255), page_of({line_at({"a"}, 9, 99)}), settings)
                .width(),
            500);
}

}  // namespace
}  // namespace burnisher
