#include "run/set_page.h"

#include <gtest/gtest.h>

#include "base/unicode.h"
#include "raster/convert.h"
#include "testing/cleaned.h"
#include "testing/read_page.h"
#include "type/typefaces.h"

namespace burnisher {
namespace {

constexpr double kEm = 44;

// Two words of print, one of them surely read, with a stroke of a pen and specks about them.
class SetPage : public ::testing::Test {
 protected:
  SetPage() : picture_(1000, 700, 250) {
    page_.width = 1000;
    page_.height = 700;
    page_.dpi = 300;
    Line line;
    type::Typefaces faces;
    const type::Typeface& face = faces.named({});
    line.x_height = face.x_height() * kEm;
    line.baseline = {{100, 300}, {900, 300}};
    double x = 100;
    for (const auto& [text, confidence] : {std::pair("Lighthouse", 0.97), {"keeper", 0.5}}) {
      const auto characters = decode_utf8(text);
      const type::TextMetrics extent = face.extent(characters);
      face.draw(characters, x, 300, kEm, 1, picture_);
      Word word;
      word.text = text;
      word.confidence = confidence;
      word.box = {x + extent.lead * kEm, 300 + extent.top * kEm,
                  x + (extent.lead + extent.ink) * kEm, 300 + extent.bottom * kEm};
      line.words.push_back(word);
      line.box = united(line.box, word.box);
      x += (extent.advance + 0.3) * kEm;
    }
    Block block;
    block.outline = line.box.corners();
    block.lines = {line};
    page_.blocks = {block};
    fill(Box{500, 450, 640, 470}, 20);  // a pen's stroke
    fill(Box{700, 450, 703, 453}, 20);  // a speck
    fill(Box{0, 0, 12, 700}, 20);       // the sheet's edge
  }

  void fill(const Box& box, uint8_t value) {
    for (int y = static_cast<int>(box.y0); y < box.y1; ++y) {
      for (int x = static_cast<int>(box.x0); x < box.x1; ++x) picture_.row(y)[x] = value;
    }
  }

  pdf::PagePicture set(pdf::PageFace face) {
    pdf::PictureSettings settings;
    settings.face = face;
    return run::set_page(picture_.clone(), to_bitonal(picture_, 128), page_, settings);
  }

  const Word& word(size_t i) const { return page_.blocks[0].lines[0].words[i]; }
  static int ink_in(const Bitonal& ink, const Box& box) {
    int count = 0;
    for (int y = static_cast<int>(box.y0); y < box.y1; ++y) {
      for (int x = static_cast<int>(box.x0); x < box.x1; ++x) count += ink.ink(x, y);
    }
    return count;
  }

  Gray picture_;
  Page page_;
};

TEST_F(SetPage, OfAHybridOnlyWhatWasSurelyReadIsType) {
  const pdf::PagePicture result = set(pdf::PageFace::kHybrid);
  EXPECT_GT(word(0).type.em, 0);
  EXPECT_EQ(word(1).type.em, 0);
  ASSERT_TRUE(result.ink);
  EXPECT_EQ(ink_in(*result.ink, word(0).box), 0);
  EXPECT_GT(ink_in(*result.ink, word(1).box), 100);
  EXPECT_GT(ink_in(*result.ink, {500, 450, 640, 470}), 1000);
  EXPECT_TRUE(result.image.has_value() || result.paper_colour.has_value());
}

TEST_F(SetPage, AResetPageHasTypeAndWhatIsNoDirt) {
  const pdf::PagePicture result = set(pdf::PageFace::kReset);
  EXPECT_GT(word(0).type.em, 0);
  EXPECT_GT(word(1).type.em, 0);
  EXPECT_FALSE(result.image.has_value());
  ASSERT_TRUE(result.ink);
  EXPECT_EQ(ink_in(*result.ink, word(0).box) + ink_in(*result.ink, word(1).box), 0);
  EXPECT_GT(ink_in(*result.ink, {500, 450, 640, 470}), 1000);
  EXPECT_EQ(ink_in(*result.ink, {690, 440, 710, 460}), 0);
  EXPECT_EQ(ink_in(*result.ink, {0, 0, 20, 700}), 0);
}

TEST_F(SetPage, PicturesAreCutOutAndTheirLinesAreNoRules) {
  fill(Box{300, 520, 760, 524}, 20);
  Block block;
  block.kind = BlockKind::kPicture;
  block.outline = Box{280, 430, 780, 600}.corners();
  page_.blocks.push_back(block);
  const pdf::PagePicture result = set(pdf::PageFace::kReset);
  ASSERT_EQ(result.cutouts.size(), 1u);
  EXPECT_EQ(result.cutouts[0].place.x0, 280);
  EXPECT_TRUE(result.rules.empty());
  page_.blocks.pop_back();
  EXPECT_EQ(set(pdf::PageFace::kReset).rules.size(), 1u);
}

}  // namespace
}  // namespace burnisher
