#include "pdf/pdf.h"

#include <gtest/gtest.h>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "intake/scan_file.h"
#include "pdf/blank_font.h"
#include "pdf/check.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

#include <ft2build.h>
#include FT_FREETYPE_H

namespace burnisher {
namespace {

using testing::count_of;
using testing::line_at;
using testing::page_of;

TEST(BlankFont, OpensAndHasEmptyGlyphsOfOneWidth) {
  const auto bytes = pdf::blank_font(40);
  FT_Library library;
  ASSERT_EQ(FT_Init_FreeType(&library), 0);
  FT_Face face;
  ASSERT_EQ(FT_New_Memory_Face(library, bytes.data(), static_cast<FT_Long>(bytes.size()), 0, &face),
            0);
  EXPECT_EQ(face->num_glyphs, 41);
  EXPECT_EQ(face->units_per_EM, pdf::kBlankUnits);
  ASSERT_EQ(FT_Load_Glyph(face, 40, FT_LOAD_NO_SCALE), 0);
  EXPECT_EQ(face->glyph->advance.x, pdf::kBlankAdvance);
  EXPECT_EQ(face->glyph->outline.n_points, 0);
  FT_Done_Face(face);
  FT_Done_FreeType(library);
}

// What `path` holds, written out plainly so that it can be looked into.
std::string plain(const testing::TemporaryFolder& folder, const std::string& path) {
  const std::string out = folder.file("plain.pdf");
  EXPECT_EQ(std::system(("qpdf --qdf --object-streams=disable " + path + " " + out).c_str()), 0);
  const auto bytes = read_file(out);
  return std::string(bytes.begin(), bytes.end());
}

std::string written(const testing::TemporaryFolder& folder, const pdf::PdfSettings& settings,
                    const std::vector<Page>& pages, const Picture& picture) {
  const std::string path = folder.file("a.pdf");
  pdf::PdfWriter writer({path, true}, settings);
  for (const Page& page : pages) {
    Picture copy = std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
    pdf::Sheet sheet;
    sheet.width = page.width;
    sheet.height = page.height;
    sheet.dpi = page.dpi;
    sheet.picture = std::make_shared<pdf::PagePicture>(
        pdf::page_picture(std::move(copy), {}, page.dpi, settings.picture));
    sheet.pages = {&page};
    sheet.to_sheet = {PlaneMap()};
    writer.add(sheet);
  }
  writer.finish();
  return path;
}

TEST(Pdf, TheSameInputGivesTheSameBytes) {
  testing::TemporaryFolder folder;
  const Page page = page_of({line_at({"Skerrow", "Light"}, 100, 200)});
  pdf::PdfSettings settings;
  settings.archive = true;
  const auto first = read_file(written(folder, settings, {page}, Gray(1000, 1400, 230)));
  EXPECT_EQ(first, read_file(written(folder, settings, {page}, Gray(1000, 1400, 230))));
}

TEST(Pdf, AnUnfinishedFileIsNotLeftBehind) {
  testing::TemporaryFolder folder;
  { pdf::PdfWriter writer({folder.file("a.pdf"), false}, {}); }
  EXPECT_THROW(read_file(folder.file("a.pdf")), InputError);
  EXPECT_THROW(pdf::PdfWriter({folder.file("no/a.pdf"), false}, {}), OutputError);
}

TEST(Pdf, PagesKeepTheirSizeAndTheDocumentItsFields) {
  testing::TemporaryFolder folder;
  pdf::PdfSettings settings;
  settings.about = {"Keeper’s log", "J. Dunmore", "Lights", "oil, wicks", "de", "1923-04"};
  Bitonal ink(1000, 1400);
  for (int x = 100; x < 300; ++x) ink.set_ink(x, 200, true);
  const std::string text =
      plain(folder, written(folder, settings, {page_of({line_at({"Feuer"}, 100, 200)})},
                            Picture(std::move(ink))));
  for (const char* part :
       {"/Lang (de)", "/JBIG2Decode", "500", "700", "/Title", "/ToUnicode", "(J. Dunmore)",
        "(D:192304)", "<dc:title>", "/StructTreeRoot", "/MarkInfo"})
    EXPECT_NE(text.find(part), std::string::npos) << part;
}

TEST(Pdf, ManyPagesShareOneFontProgramAndTheirLetters) {
  testing::TemporaryFolder folder;
  Bitonal ink(1000, 1400);
  for (int letter = 0; letter < 400; ++letter) {
    for (int i = 0; i < 20; ++i) {
      ink.set_ink(20 + letter % 20 * 40 + i, 20 + letter / 20 * 40 + i, true);
      ink.set_ink(20 + letter % 20 * 40 + i, 20 + letter / 20 * 40 + i + 1, true);
      ink.set_ink(20 + letter % 20 * 40 + i, 40 + letter / 20 * 40 - i, true);
    }
  }
  const std::vector<Page> pages(5, page_of({line_at({"page"}, 100, 200)}));
  const std::string text = plain(folder, written(folder, {}, pages, Picture(std::move(ink))));
  // Named by each of its descriptors, there is one program.
  EXPECT_EQ(count_of("/Length1", text), 1u);
  EXPECT_EQ(count_of("/Subtype /Image", text), 5u);
  EXPECT_EQ(count_of("/JBIG2Globals", text), 5u);
}

TEST(Pdf, HeadingsBecomeBookmarksInLevels) {
  testing::TemporaryFolder folder;
  Page page = page_of({line_at({"Oil"}, 100, 200)});
  page.blocks[0].kind = BlockKind::kHeading;
  page.blocks[0].level = 1;
  page.blocks.push_back(page.blocks[0]);
  page.blocks[1].level = 2;
  page.blocks[1].lines[0].words[0].text = "Wicks";
  const std::string text = plain(folder, written(folder, {}, {page, page}, Gray(100, 140, 255)));
  EXPECT_EQ(count_of("/Title (Oil)", text), 2u);
  EXPECT_EQ(count_of("/Title (Wicks)", text), 2u);
  EXPECT_EQ(count_of("/Count -1", text), 2u);
  EXPECT_EQ(count_of("/S /H2", text), 2u);
}

TEST(Pdf, ABookmarkBeyondTheLastPageIsRefused) {
  testing::TemporaryFolder folder;
  pdf::PdfSettings settings;
  settings.bookmarks = {{"Stores", 9, 1, -1}};
  EXPECT_THROW(written(folder, settings, {page_of({line_at({"a"}, 9, 99)})}, Gray(10, 14, 255)),
               SettingsError);
}

TEST(Check, FindsAnArchivePdfSoundAndAPlainOneWanting) {
  testing::TemporaryFolder folder;
  const Page page = page_of({line_at({"Skerrow"}, 100, 200)});
  pdf::PdfSettings settings;
  settings.archive = true;
  settings.about.title = "Log";
  settings.about.language = "en";
  const pdf::Checked archive =
      pdf::check(written(folder, settings, {page}, Colour(1000, 1400, 230)), false);
  EXPECT_TRUE(archive.archive);
  EXPECT_TRUE(archive.tagged);
  EXPECT_EQ(archive.pages_with_text, 1);
  for (const pdf::Finding& f : archive.faults) ADD_FAILURE() << f.rule << ": " << f.what;
  EXPECT_TRUE(archive.missing.empty());

  const std::string path = written(folder, {}, {page}, Colour(1000, 1400, 230));
  EXPECT_TRUE(pdf::check(path, false).faults.empty());
  std::string rules;
  for (const pdf::Finding& f : pdf::check(path, true).faults) rules += f.rule + " ";
  EXPECT_NE(rules.find("mark"), std::string::npos) << rules;
  EXPECT_NE(rules.find("intent"), std::string::npos) << rules;
}

TEST(Check, WhatIsNoPdfIsSaidToBeNone) {
  testing::TemporaryFolder folder;
  write_file(folder.file("a.pdf"), std::string_view("no PDF"));
  EXPECT_THROW(pdf::check(folder.file("a.pdf"), false), FormatError);
  EXPECT_THROW(pdf::check(folder.file("b.pdf"), false), InputError);
}

TEST(Picture, LayersKeepTheInkAndLightenThePaper) {
  Colour page(600, 800, 200);
  Bitonal ink(600, 800);
  for (int y = 300; y < 340; ++y) {
    for (int x = 100; x < 500; ++x) {
      if (x / 10 % 2 == 0) continue;
      ink.set_ink(x, y, true);
      page.row(y)[3 * x] = 150;  // red ink
      page.row(y)[3 * x + 1] = page.row(y)[3 * x + 2] = 20;
    }
  }
  const pdf::Layers layers = pdf::layers_of(Picture(page.clone()), ink, {});
  EXPECT_FALSE(layers.paper.has_value());  // even
  EXPECT_EQ(layers.paper_colour, (pdf::Rgb{200, 200, 200}));
  EXPECT_NEAR(layers.ink_colour[0], 150, 3);
  EXPECT_NEAR(layers.ink_colour[1], 20, 3);
}

TEST(Picture, UnevenPaperIsKeptWithoutTheInk) {
  Gray page(600, 800);
  Bitonal ink(600, 800);
  for (int y = 0; y < 800; ++y) {
    for (int x = 0; x < 600; ++x) page.row(y)[x] = static_cast<uint8_t>(150 + x / 6);
  }
  for (int y = 100; y < 200; ++y) {
    for (int x = 100; x < 200; ++x) {
      ink.set_ink(x, y, true);
      page.row(y)[x] = 0;
    }
  }
  const pdf::Layers layers = pdf::layers_of(Picture(page.clone()), ink, {});
  ASSERT_TRUE(layers.paper.has_value());
  const Gray& paper = std::get<Gray>(*layers.paper);
  EXPECT_EQ(paper.width(), 300);
  for (int y = 0; y < paper.height(); ++y) {
    for (int x = 0; x < paper.width(); ++x)
      ASSERT_NEAR(paper.row(y)[x], 150 + x / 3, 14) << x << " " << y;
  }
}

TEST(Picture, ExactPicturesLoseNothing) {
  testing::TemporaryFolder folder;
  Gray page(90, 70);
  for (int y = 0; y < 70; ++y) {
    for (int x = 0; x < 90; ++x) page.row(y)[x] = static_cast<uint8_t>(x * 7 + y * 13);
  }
  Page sheet = page_of({line_at({"a"}, 9, 40)});
  sheet.width = 90;
  sheet.height = 70;
  sheet.dpi = 72;
  pdf::PdfSettings settings;
  settings.picture.size = pdf::Size::kExact;
  const std::string path = written(folder, settings, {sheet}, Picture(page.clone()));
  ASSERT_EQ(std::system(("pdfimages -png " + path + " " + folder.file("i")).c_str()), 0);
  ScanFile file(folder.file("i-000.png"), {});
  const Scan scan = file.read(1);
  EXPECT_EQ(std::get<Gray>(scan.picture).samples(), page.samples());
}

}  // namespace
}  // namespace burnisher
