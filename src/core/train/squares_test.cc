// Scripts whose characters are thousands: their alphabets, their lines, and the loss of chosen
// frames.

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>

#include "base/error.h"
#include "base/unicode.h"
#include "recognise/ideographs.h"
#include "testing/printed_page.h"
#include "train/sampled_head.h"
#include "train/text_source.h"

namespace burnisher::train {
namespace {

using Text = std::vector<char32_t>;

bool holds(const std::string& characters, char32_t c) {
  const Text all = decode_utf8(characters);
  return std::find(all.begin(), all.end(), c) != all.end();
}

TEST(Ideographs, AreThoseOfTheStandards) {
  EXPECT_EQ(decode_utf8(recognise::characters_of_language("zh-Hans")).size(), 6763u);
  EXPECT_EQ(decode_utf8(recognise::characters_of_language("zh-Hant")).size(), 5401u);
  EXPECT_EQ(decode_utf8(recognise::characters_of_language("ko")).size(), 2350u);
  const std::string japanese = recognise::characters_of_language("ja");
  for (const char32_t c : std::u32string(U"灯台守ヶあア")) EXPECT_TRUE(holds(japanese, c));
  EXPECT_FALSE(holds(japanese, U'灯' + 0x10000));
  EXPECT_TRUE(holds(recognise::characters_of_language("zh-Hans"), U'灯'));
  EXPECT_TRUE(holds(recognise::characters_of_language("zh-Hant"), U'燈'));
  EXPECT_THROW(recognise::characters_of_language("en"), SettingsError);
}

TEST(Ideographs, OneAlphabetHoldsThemAllWithTheirSigns) {
  const Text all = decode_utf8(recognise::ideographic_characters());
  EXPECT_GT(all.size(), 10000u);
  for (const char32_t c : std::u32string(U"灯燈灣ㄅぁヴ々ー、。「」《》！？１Ａ①Ⅳ㎞1a"))
    EXPECT_TRUE(std::find(all.begin(), all.end(), c) != all.end()) << static_cast<uint32_t>(c);
  const Text korean = decode_utf8(recognise::korean_characters());
  EXPECT_EQ(std::count_if(korean.begin(), korean.end(),
                          [](char32_t c) { return c >= 0xAC00 && c <= 0xD7A3; }),
            11172);
}

class LinesOfSquares : public ::testing::Test {
 protected:
  LinesOfSquares() {
    std::filesystem::create_directories(folder_.file("text"));
    for (int i = 0; i < 80; ++i) {
      put("ja", "灯台の灯は午後四時二十一分に点された。風は南西、雨。\n");
      put("ko", "등대의 불은 오후 네 시에 켜졌다. 바람은 남서풍.\n");
      put("en", "The lamp was lit at dusk and burned until the morning came.\n");
    }
  }
  void put(const std::string& language, const std::string& line) {
    std::ofstream(folder_.file("text/" + language + ".running.txt"), std::ios::app) << line;
  }
  TextSource source(const std::string& script) {
    return TextSource(folder_.file("text"),
                      recognise::Alphabet(recognise::script_named(script).characters()), false, "",
                      script);
  }

  testing::TemporaryFolder folder_;
};

TEST_F(LinesOfSquares, BringCharactersThatTheTextsLack) {
  for (const char* script : {"Hani", "Hang"}) {
    const TextSource texts = source(script);
    const recognise::Alphabet alphabet(recognise::script_named(script).characters());
    Random random(3);
    std::map<char32_t, int> seen;
    for (int i = 0; i < 500; ++i) {
      const Text line = texts.draw(30, false, random);
      ASSERT_FALSE(line.empty());
      EXPECT_LE(line.size(), 30u);
      for (const char32_t c : line) {
        EXPECT_GT(alphabet.class_of(c), 0);
        if (script_of(c) == script) ++seen[c];
      }
    }
    EXPECT_GT(seen.size(), 1000u) << script;  // the texts have some twenty
  }
}

TEST_F(LinesOfSquares, EndAnywhereWithoutHyphens) {
  const TextSource texts = source("Hani");
  Random random(9);
  int inside = 0, hyphens = 0;
  for (int i = 0; i < 300; ++i) {
    const std::string line = encode_utf8(texts.draw(12, false, random));
    inside += line.find("は午") != line.npos && line.find("灯台") != 0;
    hyphens += line.find("-") != line.npos && line.back() == '-' && line.find("は") != line.npos;
  }
  EXPECT_GT(inside, 3);
  EXPECT_EQ(hyphens, 0);
}

TrainingLine line_at(const std::vector<float>& centres, int width) {
  TrainingLine line;
  line.strip = Gray(width, 48, 30);
  line.centres = centres;
  for (size_t i = 0; i < centres.size(); ++i) line.classes.push_back(static_cast<int>(i) + 1);
  return line;
}

TEST(FrameTargets, SayCharactersAtTheirMiddlesAndNothingBetween) {
  Random random(1);
  for (int i = 0; i < 50; ++i) {
    const auto targets = frame_targets(line_at({18, 54, 90}, 108), 27, random);
    std::map<int, int> characters;
    for (const FrameTarget& t : targets) {
      ASSERT_GE(t.frame, 0);
      ASSERT_LT(t.frame, 27);
      if (t.klass > 0)
        characters[t.klass] = t.frame;
      else
        for (const int middle : {4, 13, 22}) EXPECT_GE(std::abs(t.frame - middle), 2);
    }
    EXPECT_EQ(characters, (std::map<int, int>{{1, 4}, {2, 13}, {3, 22}}));
    EXPECT_LE(targets.size(), 11u);
  }
  EXPECT_TRUE(frame_targets(line_at({}, 40), 10, random).empty());
}

TEST(SampledHead, GradientsAreThoseOfTheLoss) {
  constexpr size_t kClasses = 5, kChannels = 3, kFrames = 4;
  Random random(8);
  std::vector<float> weight, bias, context;
  for (size_t i = 0; i < kClasses * kChannels; ++i)
    weight.push_back(static_cast<float>(random.normal()));
  for (size_t i = 0; i < kClasses; ++i) bias.push_back(static_cast<float>(random.normal()));
  for (size_t i = 0; i < kFrames * kChannels; ++i)
    context.push_back(static_cast<float>(random.normal()));
  const std::vector<FrameTarget> targets = {{1, 3}, {2, 0}, {1, 2}};
  const auto loss = [&] {
    std::vector<float> unused(context.size(), 0.f);
    HeadGradient ignored;
    return sampled_head_loss({weight, bias}, context, targets, unused, ignored);
  };
  std::vector<float> context_gradient(context.size(), 0.f);
  HeadGradient gradient;
  sampled_head_loss({weight, bias}, context, targets, context_gradient, gradient);
  const auto slope = [&](float& value) {
    constexpr float kStep = 1e-2f;
    const float before = value;
    value = before + kStep;
    const double up = loss();
    value = before - kStep;
    const double down = loss();
    value = before;
    return (up - down) / (2 * kStep);
  };
  for (size_t i = 0; i < weight.size(); ++i)
    EXPECT_NEAR(gradient.weight[i], slope(weight[i]), 2e-3) << i;
  for (size_t i = 0; i < bias.size(); ++i) EXPECT_NEAR(gradient.bias[i], slope(bias[i]), 2e-3);
  for (size_t i = 0; i < context.size(); ++i)
    EXPECT_NEAR(context_gradient[i], slope(context[i]), 2e-3) << i;
}

}  // namespace
}  // namespace burnisher::train
