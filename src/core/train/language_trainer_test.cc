#include "train/language_trainer.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "base/error.h"
#include "base/files.h"
#include "recognise/beam_search.h"
#include "recognise/languages.h"
#include "testing/printed_page.h"

namespace burnisher::train {
namespace {

using recognise::Alphabet;
using recognise::BeamSearchSettings;
using recognise::FrameScores;
using recognise::LanguageModel;
using recognise::Languages;
using recognise::Posteriors;
using recognise::ReadCharacter;
using testing::TemporaryFolder;

const char* const kEnglish =
    "the lamp was lit before dusk and burned clear all night; the keeper wrote the log\n"
    "the wind from the west with heavy rain at dawn, and the relief boat did not come\n";
const char* const kGerman =
    "der wärter zündete die lampe vor der dämmerung an und schrieb das buch weiter\n"
    "der wind kam aus westen mit schwerem regen, und das boot legte nicht an der insel an\n";

// Small models of two languages, learnt from the same few sentences many times over.
class LanguageTest : public ::testing::Test {
 protected:
  void SetUp() override {
    learn("en", kEnglish);
    learn("de", kGerman);
  }

  void learn(const std::string& tag, const std::string& text) {
    std::string many;
    for (int i = 0; i < 40; ++i) many += text;
    write_file(folder_.file(tag + ".txt"), many);
    LanguageSettings settings;
    settings.tag = tag;
    settings.running = {folder_.file(tag + ".txt")};
    settings.most_bytes = 6000;
    report_ = train_language_model(settings, folder_.file(tag + ".glyphs"));
  }

  LanguageModel english() const { return LanguageModel(folder_.file("en.glyphs")); }

  TemporaryFolder folder_;
  LanguageReport report_;
};

TEST_F(LanguageTest, ProbabilitiesOfAllSymbolsAddUpToOne) {
  const LanguageModel model = english();
  LanguageModel::Context context = model.start();
  for (char32_t c : {U't', U'h', U'e'}) model.step(context, model.symbol_of(c), context);
  double sum = 0;
  for (char32_t c = U' '; c < 0x180; ++c) {
    const int symbol = model.symbol_of(c);
    if (symbol < 0 || recognise::folded(c) != c) continue;
    LanguageModel::Context after;
    sum += std::exp(model.step(context, symbol, after));
  }
  EXPECT_NEAR(sum, 1, 0.06);  // stored logarithms are rounded to sixteenths
}

TEST_F(LanguageTest, KnowsItsWords) {
  const LanguageModel model = english();
  const auto likelihood = [&](const std::u32string& word) {
    LanguageModel::Context context = model.start();
    float sum = 0;
    for (char32_t c : word) sum += model.step(context, model.symbol_of(c), context);
    return sum;
  };
  EXPECT_GT(likelihood(U"lamp "), likelihood(U"iamp ") + 2);
  EXPECT_GT(likelihood(U"keeper "), likelihood(U"kceper ") + 2);
  EXPECT_FLOAT_EQ(likelihood(U"LAMP "), likelihood(U"lamp "));
  EXPECT_LT(report_.bits, 2.5);
  EXPECT_GT(report_.kept_back, 100u);
}

TEST_F(LanguageTest, StaysWithinItsSize) {
  EXPECT_LE(read_file(folder_.file("en.glyphs")).size(), 6400u);
}

TEST_F(LanguageTest, FilesThatWereCutShortAreNamed) {
  auto bytes = read_file(folder_.file("en.glyphs"));
  for (const size_t size : {size_t{0}, size_t{5}, size_t{40}, bytes.size() - 1}) {
    write_file(folder_.file("short.glyphs"),
               std::vector<uint8_t>(bytes.begin(), bytes.begin() + static_cast<long>(size)));
    try {
      const LanguageModel model(folder_.file("short.glyphs"));
      FAIL() << size;
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find("short.glyphs"), std::string::npos);
    }
  }
}

TEST_F(LanguageTest, TooLittleTextIsRefused) {
  write_file(folder_.file("few.txt"), std::string("a lamp\n"));
  LanguageSettings settings;
  settings.tag = "en";
  settings.running = {folder_.file("few.txt")};
  EXPECT_THROW(train_language_model(settings, folder_.file("few.glyphs")), InputError);
}

TEST_F(LanguageTest, SaysHowWellALineIsSpelled) {
  const Languages languages({{"de", folder_.file("de.glyphs")}, {"en", folder_.file("en.glyphs")}});
  const auto right = languages.spelled("the keeper wrote all night", {"en"});
  const auto wrong = languages.spelled("thc kccpcr wrotc aII nlght", {"en"});
  ASSERT_TRUE(right && wrong);
  EXPECT_GT(*right, *wrong + 0.5);
  // In that of several languages that fits best.
  EXPECT_GE(*languages.spelled("der wind kam aus westen", {"en", "de"}),
            *languages.spelled("der wind kam aus westen", {"en"}));
  EXPECT_FALSE(languages.spelled("the keeper", {"fr"}));
  EXPECT_FALSE(languages.spelled("1873 to", {"en"}));
}

TEST_F(LanguageTest, LanguagesAreGuessedLineByLine) {
  const Languages languages({{"de", folder_.file("de.glyphs")}, {"en", folder_.file("en.glyphs")}});
  EXPECT_EQ(languages.tags(), (std::vector<std::string>{"de", "en"}));
  const std::vector<std::string> lines = {
      "the relief boat did not come before dusk",  "the keeper wrote all night at the lamp",
      "the wind from the west with heavy rain",    "der wind kam aus westen mit schwerem regen",
      "der wärter schrieb das buch und die lampe", "und das boot legte nicht an der insel an"};
  EXPECT_EQ(languages.guess(lines, {}),
            (std::vector<std::string>{"en", "en", "en", "de", "de", "de"}));
  EXPECT_EQ(languages.guess(lines, {"en"}), std::vector<std::string>(6, "en"));
  EXPECT_EQ(languages.guess({"7"}, {}), std::vector<std::string>{""});
  EXPECT_EQ(languages.guess(lines, {"la"}), std::vector<std::string>(6, ""));
  EXPECT_EQ(languages.model("la"), nullptr);
}

// A line seen clearly but for some places: "l|i" is an l or, a little more likely, an i.
Posteriors seen(const std::vector<std::u32string>& places, const Alphabet& alphabet,
                double first = 0.45, double second = 0.5) {
  FrameScores scores;
  scores.classes = alphabet.class_count();
  const auto frame = [&](const std::map<int, double>& shares) {
    for (int k = 0; k < scores.classes; ++k) {
      const auto found = shares.find(k);
      scores.log_probability.push_back(
          static_cast<float>(std::log(found == shares.end() ? 1e-6 : found->second)));
    }
    ++scores.frames;
  };
  for (const std::u32string& place : places) {
    if (place.size() == 1) {
      frame({{alphabet.class_of(place[0]), 0.999}});
    } else {
      frame({{alphabet.class_of(place[0]), first}, {alphabet.class_of(place[2]), second}});
    }
    frame({{0, 0.999}});
  }
  return Posteriors(scores);
}

std::u32string text_of(const std::vector<ReadCharacter>& read) {
  std::u32string text;
  for (const ReadCharacter& c : read) text += c.character;
  return text;
}

TEST_F(LanguageTest, DecidesBetweenLikelyLetters) {
  const Alphabet alphabet("abcdefghiklmnoprstuwy 0159AEILMPT.°'");
  const LanguageModel model = english();
  const Posteriors posteriors = seen({U"t", U"h", U"e", U" ", U"l|i", U"a", U"m", U"p"}, alphabet);
  EXPECT_EQ(text_of(best_path(posteriors, alphabet)), U"the iamp");
  const auto read = beam_search(posteriors, alphabet, model, {});
  EXPECT_EQ(text_of(read), U"the lamp");
  EXPECT_GT(read[4].confidence, 0.6);
  EXPECT_LT(read[4].confidence, 1);
}

TEST_F(LanguageTest, NeverOverrulesWhatIsClear) {
  const Alphabet alphabet("abcdefghiklmnoprstuwy 0159AEILMPT.°'");
  const LanguageModel model = english();
  EXPECT_EQ(text_of(beam_search(seen({U"t", U"h", U"e", U" ", U"i", U"a", U"m", U"p"}, alphabet),
                                alphabet, model, {})),
            U"the iamp");
  EXPECT_EQ(text_of(beam_search(seen({U"l|i", U"a", U"m", U"p"}, alphabet, 0.002, 0.997), alphabet,
                                model, {})),
            U"iamp");
}

TEST_F(LanguageTest, FiguresAndCodesAreReadAsSeen) {
  const Alphabet alphabet("abcdefghiklmnoprstuwy 0159AEILMPT.°'");
  const LanguageModel model = english();
  // A one that looks a little like the l of a word, within a number, a code and a bearing.
  EXPECT_EQ(text_of(beam_search(seen({U"0", U"5", U"l|1", U"9"}, alphabet), alphabet, model, {})),
            U"0519");
  EXPECT_EQ(
      text_of(beam_search(seen({U"9", U"l|1", U"a", U"m", U"p"}, alphabet), alphabet, model, {})),
      U"91amp");
  EXPECT_EQ(
      text_of(beam_search(seen({U"5", U"°", U"l|1", U"5", U"'"}, alphabet), alphabet, model, {})),
      U"5°15'");
}

TEST_F(LanguageTest, BarredCharactersAreNotRead) {
  const Alphabet alphabet("abcdefghiklmnoprstuwy 0159AEILMPT.°'");
  std::vector<bool> barred(static_cast<size_t>(alphabet.class_count()), false);
  barred[static_cast<size_t>(alphabet.class_of(U'i'))] = true;
  const auto read =
      beam_search(seen({U"l|i", U"a", U"w"}, alphabet), alphabet, english(), {}, barred);
  EXPECT_EQ(text_of(read), U"law");
}

}  // namespace
}  // namespace burnisher::train
