// What holds on every page, whatever stands on it. The maps are those of a network without faults.
#include <gtest/gtest.h>

#include <cmath>

#include "compose/families.h"
#include "compose/page_maker.h"
#include "raster/convert.h"
#include "testing/painted_layout.h"

namespace burnisher::layout {
namespace {

compose::Text words(int longest, Random& random) {
  static const char* const words[] = {"lamp",      "the", "of",   "keeper",  "wind",
                                      "southerly", "oil", "was",  "gallons", "reef",
                                      "Skerrow",   "at",  "dusk", "log"};
  compose::Text text;
  while (true) {
    const std::string word = words[random.index(14)];
    if (static_cast<int>(text.size() + word.size()) + 1 > longest) return text;
    if (!text.empty()) text.push_back(U' ');
    text.insert(text.end(), word.begin(), word.end());
  }
}

compose::PageMaker maker() {
  compose::PageMakerSettings settings;
  const std::string folder = "/usr/share/fonts/truetype/liberation/Liberation";
  settings.faces = {{folder + "Serif-Regular.ttf", 0, "serif", false, "Serif", ""},
                    {folder + "Sans-Regular.ttf", 0, "sans", false, "Sans", ""},
                    {folder + "Mono-Regular.ttf", 0, "typewriter", false, "Mono", ""}};
  settings.texts = {{words}};
  settings.least_x_height = 11;
  settings.most_x_height = 15;
  settings.straight = true;
  return compose::PageMaker(settings);
}

Page laid_out(const compose::ComposedPage& composed) {
  return testing::laid_out_by_truth(composed, to_bitonal(composed.scan, 128));
}

class ComposedLayouts : public ::testing::TestWithParam<std::string> {};

bool level(const Line& line) {
  return !line.runs_up_or_down() && line.baseline.front().x < line.baseline.back().x;
}

// The band between baseline and x-height, where it is level.
Box band_of(const Line& line) {
  const Box run = bounds(line.baseline);
  return {run.x0, run.y0 - line.x_height, run.x1, run.y1};
}

TEST_P(ComposedLayouts, LinesKeepApartAndInsideTheirBlocks) {
  compose::PageMaker pages = maker();
  for (uint64_t seed = 1; seed <= 3; ++seed) {
    const compose::ComposedPage composed = pages.make(seed, GetParam());
    const Page page = laid_out(composed);
    std::vector<const Line*> lines;
    for (const Block& block : page.blocks) {
      const Box outline = bounds(block.outline);
      for (const Line& line : block.lines) {
        lines.push_back(&line);
        const Point middle = line.box.centre();
        EXPECT_TRUE(outline.contains(middle)) << GetParam() << ' ' << seed;
        EXPECT_GE(line.box.x0, outline.x0 - 1);
        EXPECT_LE(line.box.x1, outline.x1 + 1);
      }
      for (const Cell& cell : block.cells) {
        for (const int i : cell.lines) {
          ASSERT_GE(i, 0);
          ASSERT_LT(static_cast<size_t>(i), block.lines.size());
        }
      }
    }
    int laid_over = 0;
    for (size_t i = 0; i < lines.size(); ++i) {
      for (size_t k = i + 1; k < lines.size(); ++k) {
        if (!level(*lines[i]) || !level(*lines[k])) continue;
        const Box a = band_of(*lines[i]), b = band_of(*lines[k]);
        const double shared = overlap(a.x0, a.x1, b.x0, b.x1) * overlap(a.y0, a.y1, b.y0, b.y1);
        laid_over += shared > 0.3 * std::min(a.width() * a.height(), b.width() * b.height());
      }
    }
    EXPECT_LE(laid_over, static_cast<int>(lines.size()) / 50) << GetParam() << ' ' << seed;
  }
}

TEST_P(ComposedLayouts, TextRunsUpOrDownOnlyWhereItIsSeenTo) {
  compose::PageMaker pages = maker();
  for (uint64_t seed = 1; seed <= 3; ++seed) {
    const compose::ComposedPage composed = pages.make(seed, GetParam());
    int turned = 0, found = 0;
    for (const Block& block : composed.truth.blocks) {
      for (const Line& line : block.lines) turned += line.runs_up_or_down();
    }
    for (const Block& block : laid_out(composed).blocks) {
      for (const Line& line : block.lines) found += line.runs_up_or_down();
    }
    if (turned == 0) {
      EXPECT_EQ(found, 0) << GetParam() << ' ' << seed;
    }
    EXPECT_LE(found, 1.2 * turned + 2) << GetParam() << ' ' << seed;
  }
}

TEST(ComposedLayout, MostTextOnItsSideIsFound) {
  compose::PageMaker pages = maker();
  int turned = 0, found = 0;
  for (const compose::Family& family : compose::families()) {
    for (uint64_t seed = 1; seed <= 3; ++seed) {
      const compose::ComposedPage composed = pages.make(seed, family.name);
      const bool any = std::any_of(
          composed.truth.blocks.begin(), composed.truth.blocks.end(), [](const Block& block) {
            return std::any_of(block.lines.begin(), block.lines.end(),
                               [](const Line& line) { return line.runs_up_or_down(); });
          });
      if (!any) continue;
      const Page page = laid_out(composed);
      for (const Block& block : composed.truth.blocks) {
        for (const Line& line : block.lines) {
          if (!line.runs_up_or_down()) continue;
          ++turned;
          const Point middle = line.box.centre();
          bool there = false;
          for (const Block& other : page.blocks)
            for (const Line& of : other.lines)
              there = there || (of.runs_up_or_down() && of.box.contains(middle));
          found += there;
        }
      }
    }
  }
  ASSERT_GT(turned, 5);
  EXPECT_GE(found, 0.6 * turned) << turned;
}

std::vector<std::string> names() {
  std::vector<std::string> names;
  for (const compose::Family& family : compose::families()) names.push_back(family.name);
  return names;
}

INSTANTIATE_TEST_SUITE_P(All, ComposedLayouts, ::testing::ValuesIn(names()),
                         [](const auto& family) { return family.param; });

TEST(BlankPages, HaveNoLines) {
  compose::PageMaker pages = maker();
  for (uint64_t seed = 1; seed <= 6; ++seed) {
    for (const Block& block : laid_out(pages.make(seed, "blank")).blocks)
      EXPECT_TRUE(block.lines.empty()) << seed;
  }
}

}  // namespace
}  // namespace burnisher::layout
