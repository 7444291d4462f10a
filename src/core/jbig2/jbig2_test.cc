#include <gtest/gtest.h>

#include <cstdlib>
#include <random>

#include "base/files.h"
#include "jbig2/bit_costs.h"
#include "jbig2/context_walk.h"
#include "jbig2/jbig2.h"
#include "jbig2/prototype.h"
#include "jbig2/regions.h"
#include "jbig2/shape_clusters.h"
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
  // Letters that are dear to code alone: each a block with the same ragged holes.
  Bitonal page(500, 500);
  for (int letter = 0; letter < 6; ++letter) {
    std::mt19937 random(8);
    for (int y = 10; y < 40; ++y) {
      for (int x = 0; x < 20; ++x)
        page.set_ink(10 + 40 * letter + x, y, x == 0 || y % 4 == 0 || random() % 2 == 0);
    }
  }
  ASSERT_TRUE(page.ink(135, 20));
  page.set_ink(135, 20, false);
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

TEST(Jbig2, PrintTooWornForSymbolsIsCodedWithoutThem) {
  std::mt19937 random(5);
  Bitonal page(600, 400);
  for (int y = 10; y + 30 < 400; y += 40) {
    for (int x = 10; x + 30 < 600; x += 40) {
      for (int i = 0; i < 250; ++i)
        page.set_ink(x + static_cast<int>(random() % 20), y + static_cast<int>(random() % 30),
                     true);
    }
  }
  const jbig2::CodedPages coded = jbig2::encode_pages({&page});
  EXPECT_TRUE(coded.globals.empty());
  EXPECT_EQ(coded.pages[0], jbig2::encode_page(page));
}

TEST(Jbig2, LettersAtThePagesEdgesComeBackBitByBit) {
  // The same letter, cut by each edge, so that its symbol would reach beyond the page.
  Bitonal page(400, 300);
  std::mt19937 random(2);
  std::vector<std::pair<int, int>> corners = {{0, 0}, {382, 50}, {-1, 100}, {200, -1}, {300, 277}};
  for (int i = 0; i < 20; ++i) corners.emplace_back(30 + 30 * (i % 8), 60 + 40 * (i / 8));
  for (const auto& [left, top] : corners) {
    std::mt19937 holes(9);
    for (int y = 0; y < 24; ++y) {
      for (int x = 0; x < 19; ++x) {
        const bool ink = x == 9 || y % 5 == 0 || holes() % 2 == 0;
        const bool inside = left + x >= 0 && left + x < 400 && top + y >= 0 && top + y < 300;
        if (ink && inside && random() % 40 != 0) page.set_ink(left + x, top + y, true);
      }
    }
  }
  const jbig2::CodedPages coded = jbig2::encode_pages({&page});
  EXPECT_FALSE(coded.globals.empty());
  EXPECT_EQ(decoded(coded.globals, coded.pages[0]).bytes(), page.bytes());
}

TEST(ShapeClusters, TheNearestComesFirstAndTheUnlikeNotAtAll) {
  Shape bar(4, 20), broken = bar, stub(4, 19), square(18, 20);
  for (int y = 0; y < 20; ++y) {
    for (int x = 0; x < 4; ++x) {
      bar.set(x, y);
      if (y != 7 || x > 1) broken.set(x, y);
      if (y < 19) stub.set(x, y);
    }
  }
  bar.ink = 80;
  broken.ink = 78;
  stub.ink = 76;
  jbig2::ShapeClusters kinds(0.5);
  for (const Shape* shape : {&square, &stub, &broken}) kinds.add(*shape);
  const auto found = kinds.near(bar, 3);
  ASSERT_EQ(found.size(), 2u);
  EXPECT_EQ(found[0].kind, 2);
  EXPECT_EQ(found[0].difference, 2);
  EXPECT_EQ(found[1].kind, 1);
  EXPECT_EQ(kinds.near(bar, 1).size(), 1u);
}

TEST(Prototype, MostShapesDecideAPixel) {
  Shape with(3, 1), without(3, 1);
  for (const int x : {0, 2}) with.set(x, 0), without.set(x, 0);
  with.set(1, 0);
  jbig2::Prototype vote(without);
  vote.add(without, 0, 0);
  vote.add(with, 0, 0);
  EXPECT_EQ(vote.majority(), without);
  vote.add(with, 0, 0);
  EXPECT_EQ(vote.majority(), with);
  EXPECT_EQ(vote.majority().ink, 3);
}

TEST(Prototype, ShapesLieWhereTheirFirstDoes) {
  // A bar of 5 x 9 in a frame 70 wide, and the same bar with its frame moved.
  Shape first(70, 12), moved(75, 16);
  for (int y = 0; y < 9; ++y) {
    for (int x = 0; x < 5; ++x) {
      first.set(62 + x, 2 + y);
      moved.set(64 + x, 5 + y);
    }
  }
  first.ink = 45;
  jbig2::Prototype vote(first);
  for (int i = 0; i < 200; ++i) vote.add(moved, 2, 3);
  EXPECT_EQ(vote.majority(), first);
  EXPECT_EQ(vote.majority().ink, 45);
  jbig2::Prototype other(moved);
  for (int i = 0; i < 3; ++i) other.add(first, -2, -3);
  EXPECT_EQ(other.majority(), moved);
}

TEST(Reckon, SeesWhatTheCoderSees) {
  std::mt19937 random(4);
  for (const int width : {1, 7, 57, 58, 59, 61, 62, 63, 90}) {
    Shape shape(width, 20), other(width + 2, 19);
    for (Shape* one : {&shape, &other}) {
      for (int y = 0; y < one->height; ++y) {
        for (int x = 0; x < one->width; ++x) {
          if (x > y || random() % 9 == 0) one->set(x, y);
        }
      }
    }
    jbig2::ContextCounts walked(jbig2::kGenericContexts), estimated = walked;
    jbig2::walk_generic<jbig2::Template::k13>(shape, walked);
    jbig2::count_generic(shape, estimated);
    EXPECT_EQ(walked.seen(), estimated.seen()) << width;
    for (const auto& [dx, dy] : {std::pair(0, 0), {-2, 1}, {3, -4}, {-1, -1}, {1, 25}}) {
      jbig2::ContextCounts slow(jbig2::kRefinementContexts), fast = slow;
      jbig2::walk_refinement(shape, other, dx, dy, slow);
      jbig2::count_refinement(shape, other, dx, dy, fast);
      EXPECT_EQ(slow.seen(), fast.seen()) << width << " " << dx << " " << dy;
    }
  }
}

TEST(BitCosts, WhatWasSeenOftenIsCheap) {
  jbig2::ContextCounts counts(2);
  for (int i = 0; i < 100; ++i) counts.pixel(1, i % 10 == 0);
  counts.empty(1000);
  const jbig2::BitCosts costs(counts);
  EXPECT_LT(costs.bits_of(1, 0), 0.3);
  EXPECT_GT(costs.bits_of(1, 1), 3);
  EXPECT_LT(costs.bits_of(0, 0), 0.01);
  jbig2::CostSum bill(costs);
  bill.pixel(1, 1);
  bill.empty(10);
  EXPECT_NEAR(bill.bits(), costs.bits_of(1, 1) + 10 * costs.bits_of(0, 0), 1e-6);
  jbig2::CostSum limited(costs, 2, 2.5);
  EXPECT_FALSE(limited.enough());
  limited.pixel(1, 1);
  EXPECT_TRUE(limited.enough());
  EXPECT_NEAR(limited.bits(), 2 + costs.bits_of(1, 1), 1e-6);
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
  for (int y = 50; y < 66; ++y) page.set_ink(50, y, true), page.set_ink(51, y, true);
  const jbig2::Parted parts = jbig2::parted(page);
  ASSERT_EQ(parts.shapes.size(), 1u);
  EXPECT_EQ(parts.shapes[0].y, 50);
  EXPECT_TRUE(parts.rest.ink(100, 100));
  EXPECT_TRUE(parts.rest.ink(250, 5));
  EXPECT_FALSE(parts.rest.ink(50, 55));
}

}  // namespace
}  // namespace burnisher
