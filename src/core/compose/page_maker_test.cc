#include "compose/page_maker.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "compose/camera.h"
#include "compose/families.h"

namespace burnisher::compose {
namespace {

Text prose(int longest, Random& random) {
  static const char* const words[] = {"lamp",      "the", "of",   "keeper",  "wind",
                                      "southerly", "oil", "was",  "gallons", "reef",
                                      "Skerrow",   "at",  "dusk", "log"};
  Text text;
  while (true) {
    const std::string word = words[random.index(14)];
    if (static_cast<int>(text.size() + word.size()) + 1 > longest) return text;
    if (!text.empty()) text.push_back(U' ');
    text.insert(text.end(), word.begin(), word.end());
  }
}

PageMaker maker() {
  PageMakerSettings settings;
  const std::string folder = "/usr/share/fonts/truetype/liberation/Liberation";
  settings.faces = {{folder + "Serif-Regular.ttf", 0, "serif", false, "Serif", ""},
                    {folder + "Sans-Regular.ttf", 0, "sans", false, "Sans", ""},
                    {folder + "Mono-Regular.ttf", 0, "typewriter", false, "Mono", ""}};
  settings.texts = {{prose}};
  settings.least_x_height = 6.5;
  settings.most_x_height = 8;
  return PageMaker(settings);
}

class EveryFamily : public ::testing::TestWithParam<std::string> {};

// How far `p` is from the segment's line, upwards positive, when it lies beside the segment; else
// something far.
double height_over(const Polyline& line, Point p) {
  for (size_t i = 1; i < line.size(); ++i) {
    const Point a = line[i - 1], b = line[i], d = b - a;
    const double length = std::hypot(d.x, d.y);
    const double along = ((p.x - a.x) * d.x + (p.y - a.y) * d.y) / length;
    if (along >= 0 && along <= length) return ((p.x - a.x) * d.y - (p.y - a.y) * d.x) / length;
  }
  return 1e9;
}

TEST_P(EveryFamily, LinesAndCellsAreWhereTheTruthSays) {
  PageMaker pages = maker();
  int lines = 0;
  for (uint64_t seed = 1; seed <= 4; ++seed) {
    const ComposedPage page = pages.make(seed, GetParam());
    EXPECT_EQ(page.family, GetParam());
    ASSERT_EQ(page.scan.width(), page.truth.width);
    ASSERT_EQ(page.scan.height(), page.truth.height);
    std::vector<const Line*> all;
    for (const Block& block : page.truth.blocks) {
      EXPECT_TRUE(!block.lines.empty() || block.kind == BlockKind::kPicture);
      EXPECT_GE(block.outline.size(), 4u);
      for (const Cell& cell : block.cells) {
        for (const int at : cell.lines) ASSERT_LT(at, static_cast<int>(block.lines.size()));
      }
      for (const Line& line : block.lines) {
        all.push_back(&line);
        EXPECT_FALSE(line.words.empty());
        EXPECT_GT(line.x_height, 2);
        EXPECT_GE(line.baseline.size(), 2u);
      }
    }
    lines += static_cast<int>(all.size());
    // No line's core lies on another's: the middle of every word's core band is its own line's.
    for (const Line* line : all) {
      const Point at = (line->baseline[line->baseline.size() / 2 - 1] +
                        line->baseline[line->baseline.size() / 2]) *
                       0.5;
      int claims = 0;
      for (const Line* other : all) {
        const double over = height_over(other->baseline, at);
        claims += over > -0.1 * other->x_height && over < 0.9 * other->x_height;
      }
      EXPECT_EQ(claims, 1) << GetParam() << " " << seed << " " << line->text();
    }
  }
  if (GetParam() == "blank")
    EXPECT_EQ(lines, 0);
  else
    EXPECT_GT(lines, 20);
}

INSTANTIATE_TEST_SUITE_P(Composed, EveryFamily, ::testing::ValuesIn([] {
                           std::vector<std::string> names;
                           for (const Family& family : families()) names.push_back(family.name);
                           return names;
                         }()));

TEST(PageMaker, ASeedGivesTheSamePage) {
  PageMaker one = maker(), other = maker();
  other.make(5);
  EXPECT_EQ(one.make(3).scan.samples(), other.make(3).scan.samples());
  EXPECT_NE(one.make(3).scan.samples(), one.make(4).scan.samples());
}

TEST(PageMaker, WithoutTextsThereAreNoPages) {
  EXPECT_THROW(PageMaker({}), Error);
}

TEST(PageMaker, AnUnknownFamilyIsRefused) {
  EXPECT_THROW(maker().make(1, "scroll"), SettingsError);
}

TEST(Camera, LeadsThereAndBack) {
  CameraSettings settings;
  settings.skew = 3;
  settings.quarter_turns = 1;
  settings.tilt_x = 9;
  settings.tilt_y = -7;
  settings.curl = 12;
  settings.fold = 0;
  settings.margin = 0.05;
  const Camera camera(300, 400, settings);
  EXPECT_GT(camera.width(), camera.height());  // it lies on its side
  for (const Point p : {Point{0, 0}, Point{300, 0}, Point{150, 200}, Point{20, 390}}) {
    const Point there = camera.to_scan(p), back = camera.to_sheet(there);
    EXPECT_NEAR(back.x, p.x, 1e-6);
    EXPECT_NEAR(back.y, p.y, 1e-6);
    EXPECT_TRUE((Box{0, 0, double(camera.width()), double(camera.height())}.contains(there)));
  }
}

TEST(Camera, AStraightSheetIsSeenAsItIs) {
  FloatImage ink(40, 30);
  ink.row(10)[7] = 1;
  const FloatImage seen = Camera(40, 30, {}).seen(ink);
  EXPECT_EQ(seen.width(), 40);
  EXPECT_NEAR(seen.row(10)[7], 1, 1e-5);
  EXPECT_NEAR(seen.row(10)[9], 0, 1e-5);
}

// Hebrew letters in place of the Latin ones: 22 of them, and no ligatures.
Text from_the_right(int longest, Random& random) {
  Text text = prose(longest, random);
  for (char32_t& c : text)
    if (c != U' ') c = 0x5D0 + (c | 32) % 22;
  return text;
}

TEST(PageMaker, PagesFromRightToLeftAreSetFromTheRight) {
  PageMakerSettings settings;
  settings.faces = {
      {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", 0, "sans", false, "D", "Latn,Hebr"}};
  settings.texts = {{from_the_right, "Hebr", true}};
  settings.straight = true;
  PageMaker pages(settings);
  int lines = 0, columns = 0;
  for (uint64_t seed = 1; seed <= 4; ++seed) {
    for (const char* family : {"article", "news", "table"}) {
      const ComposedPage page = pages.make(seed, family);
      EXPECT_TRUE(page.right_to_left);
      const Block* before = nullptr;
      for (const Block& block : page.truth.blocks) {
        for (const Line& line : block.lines) {
          ++lines;
          EXPECT_LE(line.baseline.front().x, line.baseline.back().x + 1e-6);
          const Box outline = bounds(line.outline);
          EXPECT_GT(overlap(line.box.x0, line.box.x1, outline.x0, outline.x1),
                    0.9 * line.box.width());
          for (size_t i = 1; i < line.words.size(); ++i)
            EXPECT_GT(line.words[i - 1].box.centre().x, line.words[i].box.centre().x);
          EXPECT_GE(line.box.x0, -1);
          EXPECT_LE(line.box.x1, page.truth.width + 1);
        }
        for (const Cell& a : block.cells) {
          for (const Cell& b : block.cells)
            EXPECT_FALSE(a.row == b.row && a.column < b.column && a.box.x0 <= b.box.x0);
        }
        const Box box = bounds(block.outline);
        if (before != nullptr && block.kind == BlockKind::kText) {
          const Box last = bounds(before->outline);
          columns += last.x0 > box.x1 && overlap(last.y0, last.y1, box.y0, box.y1) > 0;
          EXPECT_FALSE(family == std::string("article") && last.x1 < box.x0 &&
                       overlap(last.y0, last.y1, box.y0, box.y1) > 20);
        }
        if (block.kind == BlockKind::kText) before = &block;
      }
    }
  }
  EXPECT_GT(lines, 300);
  EXPECT_GT(columns, 5);
}

TEST(PageMaker, TextsThatNoFaceSetsAreLeftOut) {
  PageMakerSettings settings;
  settings.faces = {
      {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", 0, "sans", false, "D", "Latn"}};
  settings.texts = {{from_the_right, "Hebr", true}, {prose}};
  PageMaker pages(settings);
  for (uint64_t seed = 1; seed <= 6; ++seed) EXPECT_FALSE(pages.make(seed, "book").right_to_left);
  settings.texts = {{from_the_right, "Hebr", true}};
  EXPECT_THROW(PageMaker{settings}, SettingsError);
}

TEST(Table, FirstCellsMayStandForSeveralRows) {
  PageMaker pages = maker();
  int tall = 0;
  for (uint64_t seed = 1; seed <= 90; ++seed) {
    const ComposedPage page = pages.make(seed, "table");
    for (const Block& block : page.truth.blocks) {
      for (const Cell& cell : block.cells) {
        if (cell.rows == 1) continue;
        ++tall;
        EXPECT_EQ(cell.column, 0);
        for (const Cell& other : block.cells) {  // nothing else stands in its rows
          EXPECT_FALSE(&other != &cell && other.column == 0 && other.row >= cell.row &&
                       other.row < cell.row + cell.rows);
        }
      }
    }
  }
  EXPECT_GT(tall, 4);
}

TEST(Sheet, TextFlowsRoundAHoleAndStaysInItsColumn) {
  Random random(9);
  const std::vector<TypefaceEntry> faces = {
      {"/usr/share/fonts/truetype/liberation/LiberationSerif-Regular.ttf", 0, "serif", false, "S",
       ""}};
  TypefaceSampler sampler(faces, false);
  const PageText text{prose};
  Desk desk{sampler, text, random, 10};
  Sheet sheet = desk.sheet(60, 60);
  const Font font = desk.font();
  sheet.begin(BlockKind::kText);
  ParagraphStyle style;
  style.words = 90;
  style.hole = {0, 100, 250, 200};
  const Box column{50, 50, 550, 560};
  sheet.paragraph(font, style, column);
  ASSERT_GT(sheet.block().lines.size(), 4u);
  for (const Line& line : sheet.block().lines) {
    EXPECT_GE(line.box.x0, column.x0 - 5);
    EXPECT_LE(line.box.x1, column.x1 + 8);
    const bool beside = line.baseline[0].y > 110 && line.baseline[0].y < 200;
    EXPECT_GE(line.box.x0, beside ? 245 : 0);
  }
}

}  // namespace
}  // namespace burnisher::compose
