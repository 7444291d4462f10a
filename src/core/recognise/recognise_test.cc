#include "recognise/recognise.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/unicode.h"
#include "recognise/decode.h"
#include "recognise/words.h"
#include "testing/printed_page.h"
#include "testing/tiny_model.h"

namespace burnisher::recognise {
namespace {

using burnisher::testing::PrintedPage;
using burnisher::testing::TemporaryFolder;
using burnisher::testing::tiny_model;

// Memory that the process has in use.
long resident_kilobytes() {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);) {
    if (line.rfind("VmRSS:", 0) == 0) return std::stol(line.substr(6));
  }
  return 0;
}

Gray noise_strip(int width, int height, uint64_t seed) {
  Random random(seed);
  Gray strip(width, height);
  for (uint8_t& v : strip.samples()) v = static_cast<uint8_t>(random.index(256));
  return strip;
}

// ---- alphabet ----

TEST(Alphabet, ClassesAndCharactersMatch) {
  const Alphabet alphabet("aé—");
  EXPECT_EQ(alphabet.class_count(), 4);
  EXPECT_EQ(alphabet.class_of(U'é'), 2);
  EXPECT_EQ(alphabet.character(3), U'—');
  EXPECT_EQ(alphabet.class_of(U'x'), 0);
  EXPECT_EQ(alphabet.utf8(), "aé—");
  EXPECT_THROW(Alphabet("aba"), FormatError);
}

TEST(Alphabet, LatinHasTheLettersOfEurope) {
  const Alphabet latin(latin_characters());
  for (char32_t c : std::u32string(U"äöüßÉçñøåÅłŁščřžőűğışĭÞðĦċŵŷțșąęđĳ½§†€…’“„»—")) {
    if (c == U'ĭ' || c == U'ĳ') continue;  // no official language's own letters
    EXPECT_GT(latin.class_of(c), 0) << static_cast<uint32_t>(c);
  }
}

// ---- model file ----

TEST(ModelFile, RoundTripAndChecks) {
  TemporaryFolder folder;
  Model model = tiny_model(1);
  model.record["lines"] = "5";
  write_model(folder.file("m"), model, false);
  const Model back = read_model(folder.file("m"));
  EXPECT_EQ(back.alphabet.utf8(), "abc ");
  EXPECT_EQ(back.frame.height, 16);
  EXPECT_EQ(back.record.at("lines"), "5");
  EXPECT_EQ(back.tensors.at("head.weight").values, model.tensors.at("head.weight").values);
  model.tensors.erase("stem2.gain");
  write_model(folder.file("m"), model, false);
  EXPECT_THROW(read_model(folder.file("m")), FormatError);
}

TEST(ModelFile, SymbolsStandForTheirTexts) {
  TemporaryFolder folder;
  Model model = tiny_model(1, std::string("ab") + "\uE000");
  EXPECT_TRUE(model.symbols().empty());
  const Symbols symbols = {{0xE000, decode_utf8("{que}")}};
  model.set_symbols(symbols);
  write_model(folder.file("m"), model, false);
  EXPECT_EQ(read_model(folder.file("m")).symbols(), symbols);
  for (const char* broken :
       {"nonsense", "[]", R"({"z": "x"})", R"({"ab": "x"})", R"({"a": ""})", R"({"a": 3})"}) {
    model.record["symbols"] = broken;
    write_model(folder.file("m"), model, false);
    if (std::string(broken) == "[]")
      EXPECT_TRUE(read_model(folder.file("m")).symbols().empty());
    else
      EXPECT_THROW(read_model(folder.file("m")), FormatError) << broken;
  }
  model.set_symbols({});
  EXPECT_EQ(model.record.count("symbols"), 0u);
}

// ---- network ----

// The same precision written down plainly, one loop a sum.
std::vector<float> reference_scores(const Model& model, const Gray& strip) {
  int h = strip.height(), w = strip.width();
  std::vector<std::vector<float>> maps(1, std::vector<float>(static_cast<size_t>(h * w), 0.f));
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < strip.width(); ++x)
      maps[0][static_cast<size_t>(y * w + x)] = (strip.row(y)[x] - 30) * 0.01f;
  }
  for (const ConvShape& l : model.layers) {
    const auto values = [&](const char* part) { return model.tensors.at(l.name + part).values; };
    const auto weight = values(".weight");
    const int oh = (h + 2 * l.pad_h - l.kernel_h) / l.stride_h + 1;
    const int ow = (w + 2 * l.pad_w() - l.dilation_w * (l.kernel_w - 1) - 1) / l.stride_w + 1;
    std::vector<std::vector<float>> out(static_cast<size_t>(l.out),
                                        std::vector<float>(static_cast<size_t>(oh * ow)));
    for (int o = 0; o < l.out; ++o) {
      for (int y = 0; y < oh; ++y) {
        for (int x = 0; x < ow; ++x) {
          double sum = 0;
          for (int i = 0; i < l.in; ++i) {
            for (int ky = 0; ky < l.kernel_h; ++ky) {
              for (int kx = 0; kx < l.kernel_w; ++kx) {
                const int sy = y * l.stride_h + ky - l.pad_h,
                          sx = x * l.stride_w + kx * l.dilation_w - l.pad_w();
                if (sy < 0 || sx < 0 || sy >= h || sx >= w) continue;
                sum += maps[static_cast<size_t>(i)][static_cast<size_t>(sy * w + sx)] *
                       weight[static_cast<size_t>(((o * l.in + i) * l.kernel_h + ky) * l.kernel_w +
                                                  kx)];
              }
            }
          }
          const auto c = static_cast<size_t>(o);
          double v = sum;
          if (l.normalised) {
            v = (v - values(".mean")[c]) /
                    std::sqrt(values(".variance")[c] + neural::kNormEpsilon) * values(".gain")[c] +
                values(".shift")[c];
            v = std::max(0.0, v);
            if (l.residual) v += maps[c][static_cast<size_t>(y * w + x)];
          } else {
            v += values(".bias")[c];
          }
          out[c][static_cast<size_t>(y * ow + x)] = static_cast<float>(v);
        }
      }
    }
    maps = out;
    h = oh;
    w = ow;
  }
  std::vector<float> scores;
  for (int x = 0; x < w; ++x) {
    for (const auto& map : maps) scores.push_back(map[static_cast<size_t>(x)]);
  }
  return scores;
}

TEST(Network, AgreesWithThePlainArithmetic) {
  const Model model = tiny_model(2);
  const Network network(model, Precision::kFloat32);
  const Gray strip = noise_strip(50, 16, 3);
  const FrameScores read = network.read({&strip})[0];
  const auto expected = reference_scores(model, strip);
  ASSERT_EQ(read.frames, 13);
  for (int f = 0; f < read.frames; ++f) {
    double total = 0;
    for (int c = 0; c < read.classes; ++c) total += std::exp(read.frame(f)[c]);
    EXPECT_NEAR(total, 1, 1e-4);
    for (int c = 1; c < read.classes; ++c) {
      const size_t at = static_cast<size_t>(f * read.classes);
      EXPECT_NEAR(read.frame(f)[c] - read.frame(f)[0],
                  expected[at + static_cast<size_t>(c)] - expected[at], 2e-3);
    }
  }
}

TEST(Network, InBytesIsNearlyWhatItIsInFloatingPoint) {
  const Model model = tiny_model(2);
  const Network exact(model, Precision::kFloat32), bytes(model, Precision::kInt8);
  const Gray strip = noise_strip(180, 16, 3), other = noise_strip(610, 16, 8);
  const FrameScores a = exact.read({&strip})[0], b = bytes.read({&strip})[0];
  double off = 0, spread = 0;
  for (size_t i = 0; i < a.log_probability.size(); ++i) {
    off += std::fabs(a.log_probability[i] - b.log_probability[i]);
    spread += std::fabs(a.log_probability[i]);
  }
  EXPECT_GT(off, 0);  // it is another way of counting
  EXPECT_LT(off, 0.05 * spread);
  // Each line has a scale of its own: what it is read with does not matter.
  const FrameScores c = bytes.read({&strip, &other})[0];
  EXPECT_EQ(b.log_probability, c.log_probability);
}

TEST(Network, ReadsTheSameFromManyThreadsAndInAnyBatch) {
  const Model model = tiny_model(4);
  const Network network(model, Precision::kFloat32);
  std::vector<Gray> strips;
  for (int i = 0; i < 24; ++i)
    strips.push_back(noise_strip(40 + 9 * i, 16, static_cast<uint64_t>(i)));
  std::vector<FrameScores> alone;
  for (const Gray& strip : strips) alone.push_back(network.read({&strip})[0]);
  parallel_each(48, [&](int i) {
    const size_t k = static_cast<size_t>(i) % 22;
    const auto together = network.read({&strips[k], &strips[k + 1], &strips[k + 2]});
    ASSERT_EQ(together[0].frames, alone[k].frames);
    for (int f = 0; f < together[0].frames; ++f) {
      for (int c = 0; c < together[0].classes; ++c)
        EXPECT_NEAR(together[0].frame(f)[c], alone[k].frame(f)[c], 1e-4);
    }
  });
}

// Three lines of very different widths, alone and together, in both ways of counting: all frames.
TEST(Network, WhatALineReadsDoesNotDependOnItsCompany) {
  const Model model = tiny_model(11);
  std::vector<Gray> strips;
  for (const int width : {37, 300, 1999})
    strips.push_back(noise_strip(width, 16, static_cast<uint64_t>(width)));
  const std::vector<const Gray*> all = {&strips[0], &strips[1], &strips[2]};
  for (const Precision precision : {Precision::kFloat32, Precision::kInt8}) {
    const Network network(model, precision);
    const std::vector<FrameScores> together = network.read(all);
    for (size_t i = 0; i < strips.size(); ++i) {
      const FrameScores alone = network.read({&strips[i]})[0];
      ASSERT_EQ(alone.frames, (strips[i].width() + 3) / 4);
      ASSERT_EQ(together[i].frames, alone.frames);
      for (size_t k = 0; k < alone.log_probability.size(); ++k)
        ASSERT_NEAR(together[i].log_probability[k], alone.log_probability[k], 2e-5)
            << i << " " << k;
    }
  }
}

// Kernels of shapes that were met once are not kept for ever.
TEST(Network, ManyWidthsLeaveMemoryAsItIs) {
  const Model model = tiny_model(3);
  const Network network(model, Precision::kFloat32);
  const auto read_all = [&](int first) {
    for (int width = first; width < 4096; width += 61) {
      const Gray strip = noise_strip(width, 16, 5);
      network.read({&strip, &strip});
    }
  };
  read_all(20);
  const long before = resident_kilobytes();
  for (int round = 1; round < 4; ++round) read_all(20 + round);
  EXPECT_LT(resident_kilobytes(), before + 20000);
}

// ---- strip ----

TEST(Strip, PutsBaselineAndXHeightWhereTheFrameSays) {
  PrintedPage page(900, 200);
  page.print({"xxxxxxxx", 100, 120, 80});
  const StripFrame frame;
  const LinePlace place{{{100, 120}, {420, 120}}, 80 * 0.459};
  const StripMap map(place, frame, 0.5, 0.5);
  const Gray strip = extract_strip(page.picture(), map, frame);
  EXPECT_EQ(strip.height(), 48);
  const auto inked = [&](int y) {
    int count = 0;
    for (int x = 0; x < strip.width(); ++x) count += strip.row(y)[x] > 130;
    return count;
  };
  EXPECT_GT(inked(31), 20);
  EXPECT_EQ(inked(36), 0);
  EXPECT_GT(inked(20), 20);
  EXPECT_EQ(inked(16), 0);
}

TEST(Strip, PaperAndInkHaveFixedLevelsAlsoWhiteOnBlack) {
  PrintedPage page(900, 200);
  page.print({"Skerrow Light Board", 60, 120, 70});
  Gray dim = page.picture();
  for (uint8_t& v : dim.samples()) v = static_cast<uint8_t>(90 + v / 4);
  Gray inverse = page.picture();
  for (uint8_t& v : inverse.samples()) v = static_cast<uint8_t>(255 - v);
  const StripFrame frame;
  const StripMap map({{{60, 120}, {650, 120}}, 32}, frame, 0.5, 0.5);
  for (const Gray* picture : {&dim, &inverse}) {
    const Gray strip = extract_strip(*picture, map, frame);
    EXPECT_NEAR(strip.row(1)[1], kPaperLevel, 2);
    EXPECT_GT(*std::max_element(strip.samples().begin(), strip.samples().end()), 215);
  }
}

TEST(Strip, FollowsABentBaseline) {
  const StripFrame frame;
  const LinePlace place{{{0, 100}, {200, 120}, {400, 100}}, 20};
  const StripMap map(place, frame, 0, 0);
  const double middle = 200 / map.scale();
  EXPECT_NEAR(map.to_page({middle, frame.baseline}).y, 120, 0.5);
  EXPECT_NEAR(map.to_page({0, frame.baseline}).y, 100, 0.5);
  EXPECT_NEAR(map.to_page({middle, frame.baseline - 14.4}).y, 100, 0.5);
}

TEST(Strip, BeyondThePicturesEdgeLiesPaper) {
  Gray page(200, 100, 240);
  for (int y = 40; y < 60; ++y)
    for (int x = 0; x < 200; ++x) page.row(y)[x] = 20;  // a stroke that the edge cuts
  const StripFrame frame;
  const StripMap map({{{20, 60}, {200, 60}}, 20}, frame, 0.5, 2);
  const Gray strip = extract_strip(page, map, frame);
  const int inside = static_cast<int>(strip.width() - 2.6 * frame.x_height), middle = 25;
  EXPECT_GT(strip.row(middle)[inside], 200);
  for (int y = 0; y < strip.height(); ++y)
    EXPECT_EQ(strip.row(y)[strip.width() - 3], kPaperLevel) << y;
}

TEST(Strip, RefusesLinesWithoutPlace) {
  EXPECT_THROW(StripMap({{{0, 0}}, 10}, StripFrame{}, 0, 0), SettingsError);
  EXPECT_THROW(StripMap({{{0, 0}, {9, 0}}, 0}, StripFrame{}, 0, 0), SettingsError);
}

// ---- decoding and words ----

FrameScores scores_of(const std::vector<int>& best, int classes, double probability = 0.9) {
  FrameScores scores;
  scores.frames = static_cast<int>(best.size());
  scores.classes = classes;
  for (int b : best) {
    for (int c = 0; c < classes; ++c) {
      scores.log_probability.push_back(
          static_cast<float>(std::log(c == b ? probability : (1 - probability) / (classes - 1))));
    }
  }
  return scores;
}

TEST(Decode, SymbolsAreSpelledOutInTheirOwnFrames) {
  std::vector<ReadCharacter> read(2);
  read[0].character = U'a';
  read[0].first_frame = read[0].last_frame = read[0].peak_frame = 2;
  read[1].character = 0xE000;
  read[1].first_frame = 5;
  read[1].last_frame = 10;
  read[1].peak_frame = 7;
  read[1].confidence = 0.8;
  const auto spelled = spelled_out(read, {{0xE000, {U'q', U'u', U'e'}}});
  ASSERT_EQ(spelled.size(), 4u);
  EXPECT_EQ(spelled[0].character, U'a');
  EXPECT_EQ(spelled[1].character, U'q');
  EXPECT_EQ(spelled[3].character, U'e');
  EXPECT_EQ(spelled[1].first_frame, 5);
  EXPECT_EQ(spelled[3].last_frame, 10);
  EXPECT_EQ(spelled[2].confidence, 0.8);
  for (size_t i = 2; i < spelled.size(); ++i)
    EXPECT_GT(spelled[i].peak_frame, spelled[i - 1].peak_frame);
  // One frame for three characters: they stand in one place.
  read[1].last_frame = 5;
  for (const ReadCharacter& c : spelled_out(read, {{0xE000, {U'q', U'u', U'e'}}}))
    EXPECT_GE(c.last_frame, c.first_frame);
  EXPECT_EQ(spelled_out(read, {}).size(), 2u);
}

TEST(Decode, JoinsRepeatsDropsBlanksKeepsDoubles) {
  const Alphabet alphabet("al ");
  const auto read = best_path(Posteriors(scores_of({0, 1, 1, 0, 2, 0, 2, 3, 3, 1}, 4)), alphabet);
  std::vector<char32_t> text;
  for (const auto& c : read) text.push_back(c.character);
  EXPECT_EQ(text, (std::vector<char32_t>{U'a', U'l', U'l', U' ', U'a'}));
  EXPECT_EQ(read[0].first_frame, 1);
  EXPECT_EQ(read[0].last_frame, 2);
  EXPECT_NEAR(read[0].confidence, 0.9, 1e-5);
}

TEST(Words, BoxesLieOnTheInkOfTheirWords) {
  PrintedPage page(900, 200);
  page.print({"oo", 100, 120, 80}).print({"xx", 400, 120, 80});
  const StripFrame frame;
  const StripMap map({{{90, 120}, {500, 120}}, 80 * 0.459}, frame, 0.6, 0.6);
  const Gray strip = extract_strip(page.picture(), map, frame);
  const auto frame_at = [&](double x) {
    return static_cast<int>((x - map.to_page({0, 0}).x) / map.scale() / kFrameWidth);
  };
  std::vector<ReadCharacter> characters;
  for (const auto& [c, x] : std::vector<std::pair<char32_t, double>>{
           {U'o', 120}, {U'o', 160}, {U' ', 300}, {U'x', 420}, {U'x', 460}}) {
    characters.push_back({c, 0.9, frame_at(x), frame_at(x), frame_at(x)});
  }
  characters[4].confidence = 0.4;
  const auto words = words_of(characters, strip, map, frame, Affine{});
  ASSERT_EQ(words.size(), 2u);
  EXPECT_EQ(words[0].text, "oo");
  EXPECT_NEAR(words[0].box.x0, 102, 4);
  EXPECT_NEAR(words[0].box.x1, 178, 4);
  EXPECT_NEAR(words[0].box.y0, 120 - 80 * 0.47, 4);
  EXPECT_NEAR(words[0].box.y1, 121, 4);
  EXPECT_NEAR(words[1].box.x0, 401, 4);
  EXPECT_NEAR(words[1].confidence, 0.4, 1e-9);  // as sure as its least sure character
  ASSERT_EQ(words[1].glyphs.size(), 2u);
  EXPECT_LT(words[1].glyphs[0].box.x1, words[1].glyphs[1].box.x1);
}

TEST(Words, AreAsClearAsTheirLeastClearLetter) {
  PrintedPage page(900, 200);
  page.print({"oxx", 100, 120, 80});
  const StripFrame frame;
  const StripMap map({{{90, 120}, {300, 120}}, 80 * 0.459}, frame, 0.6, 0.6);
  const Gray strip = extract_strip(page.picture(), map, frame);
  // A language was sure of the second letter; the network was not.
  const std::vector<ReadCharacter> characters = {
      {U'o', 0.9, 4, 4, 4, 0.9}, {U'x', 0.95, 12, 12, 12, 0.3}, {U'x', 0.9, 20, 20, 20, 0.8}};
  const auto words = words_of(characters, strip, map, frame, Affine{});
  ASSERT_EQ(words.size(), 1u);
  EXPECT_NEAR(words[0].confidence, 0.9, 1e-9);
  EXPECT_NEAR(words[0].network_confidence, 0.3, 1e-9);
  EXPECT_TRUE(words_of({}, strip, map, frame, Affine{}).empty());
}

// ---- whole lines ----

TEST(Recogniser, FillsEveryLineItIsGiven) {
  TemporaryFolder folder;
  write_model(folder.file("m"), tiny_model(5), false);
  const Recogniser recogniser(folder.file("m"));
  PrintedPage printed(400, 200);
  printed.print({"abc cab", 20, 60, 40}).print({"cab", 20, 150, 40});
  Page page;
  Block block;
  for (double y : {60.0, 150.0}) {
    Line line;
    line.baseline = {{20, y}, {200, y}};
    line.x_height = 18;
    line.words = {{"stale", {}, 1, {}}};
    block.lines.push_back(line);
  }
  page.blocks = {block};
  recogniser.read(printed.picture(), Affine{}, {}, page);
  for (const Line& line : page.blocks[0].lines) {
    ASSERT_FALSE(line.words.empty());
    for (const Word& word : line.words) {
      EXPECT_NE(word.text, "stale");
      EXPECT_FALSE(word.text.empty());
      EXPECT_GT(word.confidence, 0);
      EXPECT_LE(word.confidence, 1);
      EXPECT_FALSE(word.box.empty());
    }
  }
}

// A line longer than one piece reads, where the pieces overlap and elsewhere, as the network reads
// it in one go.
TEST(Recogniser, LinesOfAnyLengthAreReadToTheirEnd) {
  TemporaryFolder folder;
  const Model model = tiny_model(5);
  write_model(folder.file("m"), model, false);
  const Recogniser recogniser(folder.file("m"), Precision::kFloat32);
  const Gray picture = noise_strip(10000, 60, 21);
  Line line;
  line.baseline = {{20, 40}, {9980, 40}};
  line.x_height = 6;
  recogniser.read(picture, Affine{}, {}, std::vector<Line*>{&line});
  ASSERT_FALSE(line.words.empty());
  EXPECT_GT(line.words.back().box.x1, 9800);
  const StripMap map({line.baseline, line.x_height}, model.frame, 0.6, 0.6);
  const Gray strip = extract_strip(picture, map, model.frame);
  ASSERT_GT(strip.width(), 2 * 4096);
  const Network network(model, Precision::kFloat32);
  std::string whole;
  for (const ReadCharacter& c : best_path(Posteriors(network.read({&strip})[0]), model.alphabet))
    if (c.character != U' ') whole += encode_utf8(c.character);
  std::string read;
  for (const Word& word : line.words) read += word.text;
  EXPECT_EQ(read, whole);
}

TEST(Recogniser, AMissingModelIsNamed) {
  EXPECT_THROW(Recogniser("nowhere.safetensors"), InputError);
}

}  // namespace
}  // namespace burnisher::recognise
