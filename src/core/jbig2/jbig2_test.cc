#include <gtest/gtest.h>

#include <cstdlib>
#include <random>

#include "base/files.h"
#include "jbig2/jbig2.h"
#include "jbig2/regions.h"
#include "jbig2/symbols.h"
#include "raster/pnm.h"
#include "raster/tiff.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

using jbig2::Shape;

// What an independent decoder makes of it.
Bitonal decoded(const std::vector<uint8_t>& globals, const std::vector<uint8_t>& page) {
  testing::TemporaryFolder folder;
  write_file(folder.file("g"), globals);
  write_file(folder.file("p"), page);
  const std::string files =
      globals.empty() ? folder.file("p") : folder.file("g") + " " + folder.file("p");
  const std::string command = "jbig2dec -q -e -t pbm -o " + folder.file("o.pbm") + " " + files;
  EXPECT_EQ(std::system(command.c_str()), 0);
  return std::move(std::get<Bitonal>(read_pnm(read_file(folder.file("o.pbm")), 1e9)));
}

// Letters of a few kinds, each with a few pixels of its own.
Bitonal lettered(int width, int height, unsigned seed) {
  std::mt19937 random(seed);
  Bitonal page(width, height);
  for (int y = 10; y + 40 < height; y += 50) {
    for (int x = 10; x + 30 < width; x += 34) {
      const unsigned kind = random() % 4;
      for (int dy = 0; dy < 30; ++dy) {
        for (int dx = 0; dx < 24; ++dx) {
          const bool frame = dx < 4 || dx >= 20, bar = kind == 0   ? dy < 4
                                                       : kind == 1 ? dy >= 26
                                                       : kind == 2 ? dy / 4 == 3
                                                                   : dy < 4 || dy >= 26;
          if (frame || bar) page.set_ink(x + dx, y + dy, true);
        }
      }
      for (unsigned i = random() % 5; i > 0; --i)
        page.set_ink(x + static_cast<int>(random() % 24), y + static_cast<int>(random() % 30),
                     random() % 2 == 0);
    }
  }
  return page;
}

TEST(Jbig2, OnePageComesBackBitByBit) {
  for (const auto& [width, height] : {std::pair(1, 1), {7, 3}, {64, 64}, {333, 251}, {1000, 700}}) {
    const Bitonal page = lettered(width, height, 5);
    EXPECT_EQ(decoded({}, jbig2::encode_page(page)).bytes(), page.bytes()) << width;
  }
}

TEST(Jbig2, NoiseRulesAndEdgesComeBackBitByBit) {
  std::mt19937 random(3);
  Bitonal page(301, 211);
  for (int i = 0; i < 9000; ++i)
    page.set_ink(static_cast<int>(random() % 301), static_cast<int>(random() % 211), true);
  for (int x = 0; x < 301; ++x) page.set_ink(x, 100, true);
  for (int y = 0; y < 211; ++y) page.set_ink(300, y, true);
  EXPECT_EQ(decoded({}, jbig2::encode_page(page)).bytes(), page.bytes());
  const jbig2::CodedPages coded = jbig2::encode_pages({&page});
  EXPECT_EQ(decoded(coded.globals, coded.pages[0]).bytes(), page.bytes());
}

TEST(Jbig2, PagesThatShareLettersComeBackBitByBitAndSmaller) {
  std::vector<Bitonal> pages;
  std::vector<const Bitonal*> all;
  for (unsigned i = 0; i < 4; ++i) pages.push_back(lettered(800, 600, i));
  for (const Bitonal& page : pages) all.push_back(&page);
  const jbig2::CodedPages coded = jbig2::encode_pages(all);
  ASSERT_FALSE(coded.globals.empty());
  size_t shared = coded.globals.size(), alone = 0, g4 = 0;
  for (size_t i = 0; i < pages.size(); ++i) {
    EXPECT_EQ(decoded(coded.globals, coded.pages[i]).bytes(), pages[i].bytes()) << i;
    shared += coded.pages[i].size();
    alone += jbig2::encode_page(pages[i]).size();
    g4 += encode_g4(pages[i]).size();
  }
  EXPECT_LT(shared, alone);
  EXPECT_LT(shared, g4 * 4 / 10);
}

TEST(Jbig2, EmptyPagesAreAFewBytes) {
  const Bitonal blank(2480, 3508);
  const jbig2::CodedPages coded = jbig2::encode_pages({&blank, &blank});
  EXPECT_TRUE(coded.globals.empty());
  EXPECT_LT(coded.pages[1].size(), 60u);
  EXPECT_EQ(decoded({}, coded.pages[1]).bytes(), blank.bytes());
}

TEST(Jbig2, ShapesThatDifferByAPixelAreNeverExact) {
  Bitonal page(500, 500);
  for (int letter = 0; letter < 6; ++letter) {
    for (int y = 10; y < 40; ++y) {
      for (int x = 0; x < 20; ++x) page.set_ink(10 + 40 * letter + x, y, true);
    }
  }
  page.set_ink(10 + 40 * 3 + 5, 20, false);
  const std::vector<jbig2::Parted> parts = [&] {
    std::vector<jbig2::Parted> list;
    list.push_back(jbig2::parted(page));
    return list;
  }();
  const jbig2::Symbols symbols = jbig2::symbols_of(parts);
  ASSERT_EQ(symbols.dictionary.size(), 1u);
  int exact = 0;
  for (const jbig2::Use& use : symbols.uses[0]) exact += use.exact;
  EXPECT_EQ(exact, 5);
  const jbig2::CodedPages coded = jbig2::encode_pages({&page});
  EXPECT_FALSE(decoded(coded.globals, coded.pages[0]).ink(135, 20));
}

TEST(Jbig2, RunsOfNothingAreCodedAsTheyWouldBeOneByOne) {
  jbig2::MqEncoder slow, fast;
  jbig2::Context a = 0, b = 0;
  for (int round = 0; round < 20; ++round) {
    for (int i = 0; i < 137 * round; ++i) slow.encode(a, 0);
    fast.encode_zeros(b, 137 * round);
    slow.encode(a, 1);
    fast.encode(b, 1);
  }
  EXPECT_EQ(slow.finish(), fast.finish());
}

TEST(Shapes, DifferenceCountsBothWaysAndWithAShift) {
  Shape a(70, 2), b(70, 2);
  a.set(3, 0);
  a.set(68, 1);
  b.set(1, 0);
  b.set(66, 1);
  EXPECT_EQ(jbig2::difference(a, b, 0, 0, 100), 4);
  EXPECT_EQ(jbig2::difference(a, b, 2, 0, 100), 0);
  EXPECT_EQ(jbig2::difference(b, a, -2, 0, 100), 0);
  EXPECT_GT(jbig2::difference(a, b, 2, 1, 100), 0);
}

TEST(Shapes, LettersArePartedFromRulesAndSpecks) {
  Bitonal page(500, 300);
  for (int x = 0; x < 500; ++x) page.set_ink(x, 5, true);
  page.set_ink(100, 100, true);
  for (int y = 50; y < 60; ++y) page.set_ink(50, y, true);
  const jbig2::Parted parts = jbig2::parted(page);
  ASSERT_EQ(parts.shapes.size(), 1u);
  EXPECT_EQ(parts.shapes[0].y, 50);
  EXPECT_TRUE(parts.rest.ink(100, 100));
  EXPECT_TRUE(parts.rest.ink(250, 5));
  EXPECT_FALSE(parts.rest.ink(50, 55));
}

}  // namespace
}  // namespace burnisher
