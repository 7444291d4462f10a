#include <gtest/gtest.h>

#include <set>

#include "base/error.h"
#include "base/files.h"
#include "base/random.h"
#include "base/unicode.h"
#include "teach/case_examples.h"
#include "teach/example_pages.h"
#include "teach/glyph_cuts.h"
#include "teach/lesson.h"
#include "teach/namings.h"
#include "teach/piles.h"
#include "testing/printed_page.h"
#include "testing/tiny_model.h"
#include "train/transcriptions.h"

namespace burnisher::teach {
namespace {

using recognise::kInkLevel;
using recognise::kPaperLevel;
using recognise::ReadCharacter;
using recognise::StripFrame;
using testing::TemporaryFolder;

const StripFrame kFrame;  // 48 rows, baseline 33, x-height 14.4

Gray blank(int width) {
  return Gray(width, kFrame.height, kPaperLevel);
}
void ink(Gray& strip, int x0, int y0, int x1, int y1, uint8_t level = kInkLevel) {
  for (int y = y0; y < y1; ++y) std::fill(strip.row(y) + x0, strip.row(y) + x1, level);
}
// A letter that was read between these columns.
ReadCharacter read(char32_t character, int x0, int x1, double confidence = 0.99) {
  ReadCharacter c;
  c.character = character;
  c.confidence = confidence;
  c.first_frame = x0 / recognise::kFrameWidth;
  c.last_frame = std::max(c.first_frame, x1 / recognise::kFrameWidth - 1);
  c.peak_frame = (c.first_frame + c.last_frame) / 2;
  return c;
}

TEST(GlyphCuts, ConnectedInkIsAGlyphWithWhatStandsAboveIt) {
  Gray strip = blank(120);
  ink(strip, 10, 19, 16, 33);
  ink(strip, 11, 12, 15, 15);  // a dot above it
  ink(strip, 30, 19, 42, 33);
  const auto cuts = glyph_cuts(strip, kFrame, {read(U'i', 8, 16), read(U'n', 30, 42)}, false);
  ASSERT_EQ(cuts.size(), 2u);
  EXPECT_EQ(cuts[0].x0, 10);
  EXPECT_EQ(cuts[0].x1, 16);
  ASSERT_EQ(cuts[0].characters.size(), 1u);
  EXPECT_EQ(cuts[0].characters[0].character, U'i');
  EXPECT_EQ(cuts[1].characters[0].character, U'n');
}

TEST(GlyphCuts, SpecksAndOtherLinesAreNone) {
  Gray strip = blank(120);
  ink(strip, 30, 19, 42, 33);
  ink(strip, 60, 25, 61, 27);       // two pixels
  ink(strip, 70, 20, 80, 30, 120);  // a pale stain
  ink(strip, 90, 0, 100, 6);        // feet of the line above
  ink(strip, 104, 44, 114, 48);     // heads of the line below
  const auto cuts = glyph_cuts(strip, kFrame, {}, false);
  ASSERT_EQ(cuts.size(), 1u);
  EXPECT_TRUE(cuts[0].characters.empty());
  const Gray own = own_ink(strip, kFrame);
  EXPECT_EQ(own.row(25)[35], kInkLevel);
  EXPECT_EQ(own.row(3)[95], kPaperLevel);
  EXPECT_EQ(own.row(46)[110], kPaperLevel);
}

TEST(GlyphCuts, TouchingLettersArePartedWhereTheyWereSurelyRead) {
  Gray strip = blank(80);
  ink(strip, 10, 19, 24, 33);
  ink(strip, 24, 30, 28, 33);  // they touch at their feet
  ink(strip, 28, 19, 42, 33);
  const auto sure = glyph_cuts(strip, kFrame, {read(U'r', 12, 24), read(U'n', 28, 40)}, false);
  ASSERT_EQ(sure.size(), 2u);
  EXPECT_NEAR(sure[0].x1, 26, 2);
  EXPECT_EQ(sure[0].x1, sure[1].x0);
  const auto unsure =
      glyph_cuts(strip, kFrame, {read(U'r', 12, 24, 0.4), read(U'n', 28, 40, 0.4)}, false);
  ASSERT_EQ(unsure.size(), 1u);
  EXPECT_EQ(unsure[0].characters.size(), 2u);
}

TEST(GlyphCuts, PartsOfALetterThatWasSurelyReadAreJoined) {
  Gray strip = blank(80);
  ink(strip, 10, 19, 18, 33);
  ink(strip, 20, 19, 28, 33);  // a broken n
  EXPECT_EQ(glyph_cuts(strip, kFrame, {read(U'n', 12, 28)}, false).size(), 1u);
  EXPECT_EQ(glyph_cuts(strip, kFrame, {read(U'n', 12, 28, 0.3)}, false).size(), 2u);
  EXPECT_EQ(glyph_cuts(strip, kFrame, {read(U'n', 8, 18), read(U'm', 20, 28)}, false).size(), 2u);
}

TEST(GlyphCuts, LettersOfAHeadlineHangBelowIt) {
  Gray strip = blank(100);
  ink(strip, 10, 18, 80, 21);
  for (const int x : {12, 36, 60}) ink(strip, x, 21, x + 18, 33);
  EXPECT_EQ(glyph_cuts(strip, kFrame, {}, false).size(), 1u);
  const auto cuts = glyph_cuts(strip, kFrame, {}, true);
  ASSERT_EQ(cuts.size(), 3u);
  // The headline between them belongs half to each.
  EXPECT_EQ(cuts[0].x1, 33);
  EXPECT_EQ(cuts[1].x0, 33);
}

// Lines of three shapes, each a little different every time; `width` of the narrowest.
TypeCase shapes(int lines, uint64_t seed) {
  Random random(seed);
  TypeCase all;
  all.frame = kFrame;
  all.script = "Latn";
  const char* names[] = {"a", "b", "c"};
  for (int l = 0; l < lines; ++l) {
    CaseLine line;
    line.file = "leaf-0001";
    line.number = l + 1;
    line.start = {100, 200.0 + 60 * l};
    line.height = 20;
    line.confidence = 0.9;
    line.strip = blank(420);
    int x = 14;
    for (int g = 0; g < 12; ++g) {
      const int kind = random.index(3), shake = random.index(2);
      const int x0 = x + shake;
      if (kind == 0) ink(line.strip, x0, 19, x0 + 12, 33);
      if (kind == 1) {
        ink(line.strip, x0, 8, x0 + 4, 33);
        ink(line.strip, x0 + 4, 27, x0 + 12, 33);
      }
      if (kind == 2) {
        ink(line.strip, x0, 19, x0 + 12, 22);
        ink(line.strip, x0, 30, x0 + 12, 33);
        ink(line.strip, x0, 22, x0 + 3, 30);
      }
      GlyphPicture glyph;
      glyph.x0 = place_of_column(x0, kFrame);
      glyph.x1 = place_of_column(x0 + 12, kFrame);
      glyph.read = names[kind];
      glyph.confidence = kind == 1 ? 0.2 : 0.99;
      line.glyphs.push_back(glyph);
      if (g == 5) line.spaces.push_back(place_of_column(x0 + 20, kFrame));
      x += g == 5 ? 32 : 22;
    }
    all.lines.push_back(std::move(line));
  }
  return all;
}

TEST(Piles, GlyphsThatLookAlikeLieTogetherTheUnsureFirst) {
  const TypeCase all = shapes(20, 3);
  const std::vector<Pile> piles = piles_of(all);
  ASSERT_EQ(piles.size(), 3u);
  EXPECT_EQ(piles[0].read, "b");
  EXPECT_NEAR(piles[0].confidence, 0.2, 1e-9);
  size_t count = 0;
  for (const Pile& pile : piles) {
    count += pile.glyphs.size();
    for (const GlyphAt& at : pile.glyphs)
      EXPECT_EQ(all.lines[at.line].glyphs[at.glyph].read, pile.read);
  }
  EXPECT_EQ(count, 240u);
  EXPECT_TRUE(piles_of(TypeCase()).empty());
}

TEST(Piles, AreTheSameEveryTime) {
  const std::vector<Pile> a = piles_of(shapes(30, 5)), b = piles_of(shapes(30, 5));
  ASSERT_EQ(a.size(), b.size());
  for (size_t p = 0; p < a.size(); ++p) {
    ASSERT_EQ(a[p].glyphs.size(), b[p].glyphs.size());
    for (size_t i = 0; i < a[p].glyphs.size(); ++i) {
      EXPECT_EQ(a[p].glyphs[i].line, b[p].glyphs[i].line);
      EXPECT_EQ(a[p].glyphs[i].glyph, b[p].glyphs[i].glyph);
    }
  }
}

Naming naming(const CaseLine& line, size_t glyph, const std::string& text) {
  Naming one;
  one.file = line.file;
  one.line = line.number;
  one.start = line.start;
  one.from = line.glyphs[glyph].x0;
  one.to = line.glyphs[glyph].x1;
  one.text = text;
  one.what = text.empty() ? Naming::What::kBroken : Naming::What::kGlyph;
  return one;
}

TEST(Namings, AreATableThatGoesBothWays) {
  const TypeCase all = shapes(2, 1);
  std::vector<Naming> said = {naming(all.lines[0], 0, "{que}"), naming(all.lines[1], 3, "")};
  said.push_back(said[0]);
  said.back().what = Naming::What::kLine;
  said.back().text = "a whole line";
  TemporaryFolder folder;
  write_file(folder.file("case.tsv"), write_namings(said));
  const std::vector<Naming> read = read_namings(folder.file("case.tsv"));
  ASSERT_EQ(read.size(), 3u);
  EXPECT_EQ(read[0].text, "{que}");
  EXPECT_NEAR(read[0].from, said[0].from, 0.001);
  EXPECT_EQ(read[1].what, Naming::What::kBroken);
  EXPECT_EQ(read[2].what, Naming::What::kLine);
  EXPECT_EQ(read[2].text, "a whole line");
  EXPECT_EQ(line_of(read[1], all), &all.lines[1]);
}

TEST(Namings, WhatIsNoSuchTableIsNamedWithItsRow) {
  TemporaryFolder folder;
  const std::string path = folder.file("case.tsv");
  const std::string heading = "file\tline\tx\ty\tfrom\tto\twhat\ttext\n";
  for (const std::string& rows :
       {std::string(""), std::string("nonsense\n"), heading + "a\t1\t2\n",
        heading + "a\t1\t0\t0\t0.1\t0.5\tglyph\t\n", heading + "a\t1\t0\t0\t0.5\t0.1\tglyph\tx\n",
        heading + "a\t1\t0\t0\t0.1\t0.5\tletter\tx\n", heading + "a\tx\t0\t0\t0.1\t0.5\tglyph\tx\n",
        heading + "a\t1\t0\t0\tnan\t0.5\tglyph\tx\n"}) {
    write_file(path, rows);
    EXPECT_THROW(read_namings(path), FormatError) << rows;
  }
  write_file(path, heading + "a\t1\t0\t0\t0.1\t0.5\tglyph\tx\r\n\nb\t1\t0\t0\t0.1\t?\tglyph\tx\n");
  try {
    read_namings(path);
    ADD_FAILURE();
  } catch (const FormatError& error) {
    EXPECT_NE(std::string(error.what()).find("row 4"), std::string::npos) << error.what();
  }
  EXPECT_THROW(read_namings(folder.file("nowhere")), InputError);
}

TEST(Namings, WhatWasSaidLaterCounts) {
  const TypeCase all = shapes(1, 1);
  Naming moved = naming(all.lines[0], 2, "ff");
  moved.to += 0.2;
  const std::vector<Naming> left =
      latest({naming(all.lines[0], 0, "a"), naming(all.lines[0], 2, "f"),
              naming(all.lines[0], 0, "o"), moved});
  ASSERT_EQ(left.size(), 2u);
  EXPECT_EQ(left[0].text, "o");
  EXPECT_EQ(left[1].text, "ff");
}

TEST(Namings, ALineIsFoundByItsPlaceNotByItsNumber) {
  TypeCase all = shapes(3, 1);
  Naming one = naming(all.lines[2], 0, "a");
  one.line = 77;
  one.start = one.start + Point{5, -4};
  EXPECT_EQ(line_of(one, all), &all.lines[2]);
  one.start.y += 300;
  EXPECT_EQ(line_of(one, all), nullptr);
  one.start = all.lines[2].start;
  one.file = "other-0001";
  EXPECT_EQ(line_of(one, all), nullptr);
}

class Silent : public Progress {
  void say(const std::string&) override {}
  void warn(const std::string&) override {}
  void advance(const std::string&, double, double) override {}
};

std::string text_of(const train::Example& example) {
  return encode_utf8(example.text);
}

TEST(CaseExamples, NamedNeighboursAreOneRunAndSpacesStand) {
  const TypeCase all = shapes(2, 2);
  std::vector<Naming> said;
  for (const size_t g : {3u, 4u, 5u, 6u}) said.push_back(naming(all.lines[0], g, "x"));
  said.push_back(naming(all.lines[0], 8, "y"));  // the seventh is not named
  said.push_back(naming(all.lines[0], 9, ""));
  said.push_back(naming(all.lines[0], 10, "z"));
  Naming gone = said.front();
  gone.file = "away";
  said.push_back(gone);
  const CaseExamples examples = examples_of(all, said, {});
  ASSERT_EQ(examples.runs.size(), 3u);
  EXPECT_EQ(text_of(examples.runs[0]), "xxx x");
  EXPECT_EQ(text_of(examples.runs[1]), "y");
  EXPECT_EQ(text_of(examples.runs[2]), "z");
  EXPECT_EQ(examples.runs[0].page, "leaf-0001, line 1");
  EXPECT_EQ(examples.glyphs, 6u);
  ASSERT_EQ(examples.lost.size(), 1u);
  EXPECT_NE(examples.lost[0].find("away"), std::string::npos);
  // A run is cut as the line was: ink from the seventh glyph is not in it.
  const Gray strip = train::strip_of(examples.runs[1], kFrame);
  EXPECT_EQ(strip.height(), kFrame.height);
  EXPECT_LT(strip.width(), 60);
}

TEST(CaseExamples, AWholeLineIsTakenAsTyped) {
  const TypeCase all = shapes(2, 2);
  Naming typed = naming(all.lines[1], 0, "abc abc");
  typed.what = Naming::What::kLine;
  const CaseExamples examples = examples_of(all, {typed, naming(all.lines[1], 2, "x")}, {});
  ASSERT_EQ(examples.lines.size(), 1u);
  EXPECT_EQ(text_of(examples.lines[0]), "abc abc");
  EXPECT_TRUE(examples.runs.empty());  // the whole says it already
}

TEST(CaseExamples, GlyphsOfATypedLineAreItsCharactersWhereTheyAreAsMany) {
  const TypeCase all = shapes(2, 2);  // words of six glyphs each
  Naming typed = naming(all.lines[0], 0, "abcdef gh");
  typed.what = Naming::What::kLine;
  const std::vector<Naming> more = with_typed_glyphs(all, {typed});
  ASSERT_EQ(more.size(), 7u);  // the second word has other glyphs than characters
  EXPECT_EQ(more[1].text, "a");
  EXPECT_EQ(more[6].text, "f");
  EXPECT_EQ(more[6].from, all.lines[0].glyphs[5].x0);
  typed.text = "abcdefgh";
  EXPECT_EQ(with_typed_glyphs(all, {typed}).size(), 1u);
}

TEST(CaseExamples, TextsThatDoNotFitTheirGlyphGetASymbol) {
  const TypeCase all = shapes(4, 2);
  std::vector<Naming> said;
  for (size_t l = 0; l < 4; ++l) {
    said.push_back(naming(all.lines[l], 0, "{que}"));  // three frames for five characters
    said.push_back(naming(all.lines[l], 1, "st"));     // fits
  }
  const CaseExamples examples = examples_of(all, said, {});
  ASSERT_EQ(examples.symbols.size(), 1u);
  EXPECT_EQ(encode_utf8(examples.symbols.begin()->second), "{que}");
  EXPECT_EQ(text_of(examples.runs[0]), encode_utf8(examples.symbols.begin()->first) + "st");
  // What had one keeps it.
  const recognise::Symbols known = {{0xE005, decode_utf8("{que}")}};
  EXPECT_EQ(examples_of(all, said, known).symbols, known);
}

TEST(CaseExamples, SurelyReadNeighboursCountAsNamedWhereReadingIsMostlyRight) {
  const TypeCase all = shapes(12, 2);
  std::vector<Naming> right, wrong;
  for (size_t l = 0; l < 12; ++l)
    for (size_t g = 0; g < 12; ++g) {
      if (all.lines[l].glyphs[g].read != "a") continue;
      right.push_back(naming(all.lines[l], g, "a"));
      wrong.push_back(naming(all.lines[l], g, "o"));
    }
  const std::vector<Naming> more = with_sure_readings(all, right);
  size_t added = 0;
  for (size_t i = right.size(); i < more.size(); ++i) {
    EXPECT_EQ(more[i].text, "c");  // b is read, but not surely
    ++added;
  }
  EXPECT_GT(added, 20u);
  EXPECT_EQ(with_sure_readings(all, wrong).size(), wrong.size());
  // A few that were named otherwise do not speak against the others, most of them do.
  for (const size_t some : {size_t{4}, right.size() - 2}) {
    std::vector<Naming> mixed;
    for (const CaseLine& line : all.lines)
      for (size_t g = 0; g < 12; ++g)
        if (line.glyphs[g].read == "c") mixed.push_back(naming(line, g, "c"));
    mixed.insert(mixed.end(), wrong.begin(), wrong.begin() + static_cast<long>(some));
    const size_t named = mixed.size();
    const std::vector<Naming> filled = with_sure_readings(all, mixed);
    EXPECT_EQ(filled.size() > named, some == 4) << some;
  }
  EXPECT_TRUE(with_sure_readings(all, {}).empty());
}

TEST(CaseExamples, WhatTheyWereReadAsIsKnown) {
  const TypeCase all = shapes(4, 2);
  std::vector<Naming> said;
  recognise::Symbols symbols = {{0xE000, decode_utf8("{que}")}};
  for (size_t l = 0; l < 4; ++l)
    for (size_t g = 0; g < 12; ++g) {
      const std::string& read = all.lines[l].glyphs[g].read;
      said.push_back(naming(all.lines[l], g,
                            read == "a"   ? "{que}"
                            : read == "b" ? "\u16d6"
                                          : "st"));
    }
  const std::map<char32_t, char32_t> before = read_before(all, said, symbols);
  EXPECT_EQ(before, (std::map<char32_t, char32_t>{{0xE000, U'a'}, {0x16d6, U'b'}}));
}

TEST(ExamplePages, AreTranscribedPagesForTraining) {
  const TypeCase all = shapes(3, 2);
  std::vector<Naming> said = {naming(all.lines[0], 0, "{que}"), naming(all.lines[0], 1, "a"),
                              naming(all.lines[2], 4, "b")};
  TemporaryFolder folder;
  EXPECT_EQ(write_example_pages(examples_of(all, said, {}), folder.file("out"), false), 2u);
  Silent silent;
  const auto read = train::read_transcriptions(folder.file("out"), {}, nullptr, silent);
  ASSERT_EQ(read.size(), 2u);
  EXPECT_EQ(text_of(read[0]), "{que}a");
  EXPECT_EQ(text_of(read[1]), "b");
  EXPECT_NEAR(read[0].place.x_height, kFrame.x_height, 0.1);
}

TEST(CaseExamples, ComposedLinesAreOfNamedGlyphsAlone) {
  const TypeCase all = shapes(6, 2);
  std::vector<Naming> said;
  for (size_t l = 0; l < 6; ++l)
    for (size_t g = 0; g < 12; ++g)
      if (all.lines[l].glyphs[g].read != "c")
        said.push_back(naming(all.lines[l], g, l == 0 ? "h" : all.lines[l].glyphs[g].read));
  const auto lines = composed_lines(all, said, {}, {"leaf-0001, line 1"}, 40, 7);
  ASSERT_EQ(lines.size(), 40u);
  std::set<char32_t> used;
  bool space = false;
  for (const train::Example& line : lines)
    for (const char32_t c : line.text) {
      space = space || c == U' ';
      if (c != U' ') used.insert(c);
    }
  EXPECT_EQ(used, (std::set<char32_t>{U'a', U'b'}));
  EXPECT_TRUE(space);
  EXPECT_TRUE(composed_lines(all, {}, {}, {}, 40, 7).empty());
  // The same seed gives the same lines.
  const auto again = composed_lines(all, said, {}, {"leaf-0001, line 1"}, 40, 7);
  for (size_t i = 0; i < lines.size(); ++i) {
    EXPECT_EQ(again[i].text, lines[i].text);
    EXPECT_EQ(again[i].picture.samples(), lines[i].picture.samples());
  }
}

TEST(Lesson, NewLettersAreLearntAndMeasuredOnLinesKeptBack) {
  TemporaryFolder folder;
  recognise::Model base = testing::tiny_model(3, "xyz ");
  base.frame = kFrame;
  base.layers = recognise::chain(base.plan, base.frame.height, base.alphabet.class_count());
  Random random(1);
  for (const neural::ConvShape& l : base.layers) {
    neural::Tensor& weight = base.tensors.at(l.name + ".weight");
    weight.shape = {l.out, l.in, l.kernel_h, l.kernel_w};
    weight.values.resize(static_cast<size_t>(l.out) * l.in * l.kernel_h * l.kernel_w);
    for (float& v : weight.values) v = static_cast<float>(0.2 * random.normal());
  }
  recognise::write_model(folder.file("base.safetensors"), base, false);
  const TypeCase all = shapes(20, 4);
  std::vector<Naming> said;
  for (const CaseLine& line : all.lines)
    for (size_t g = 0; g < line.glyphs.size(); ++g)
      said.push_back(naming(line, g, line.glyphs[g].read == "a" ? "{que}" : line.glyphs[g].read));
  Silent silent;
  LessonSettings settings;
  settings.from = folder.file("base.safetensors");
  settings.run_folder = folder.file("run");
  settings.most_rounds = 12;
  const LessonReport report = learn_from(all, said, {}, settings, silent);
  EXPECT_EQ(report.glyphs, 240u);
  EXPECT_EQ(report.lines, 20u);
  ASSERT_FALSE(report.rounds.rounds.empty());
  EXPECT_LT(report.rounds.rounds.back().cer, 0.5 * report.rounds.rounds.front().cer);
  const recognise::Model learnt = recognise::read_model(folder.file("run/model.safetensors"));
  EXPECT_GT(learnt.alphabet.class_of(U'b'), 0);
  ASSERT_EQ(learnt.symbols().size(), 1u);
  EXPECT_EQ(encode_utf8(learnt.symbols().begin()->second), "{que}");
  EXPECT_EQ(learnt.record.at("taught"), "240 glyphs on 20 lines");
  EXPECT_THROW(learn_from(all, {said.front()}, {}, settings, silent), InputError);
}

}  // namespace
}  // namespace burnisher::teach
