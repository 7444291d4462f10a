#include "recognise/bundle.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "recognise/line_scripts.h"
#include "recognise/logical_words.h"
#include "recognise/recognise.h"
#include "testing/printed_page.h"
#include "testing/tiny_model.h"

namespace burnisher::recognise {
namespace {

using burnisher::testing::TemporaryFolder;
using burnisher::testing::tiny_model;

// ---- files ----

class Bundles : public ::testing::Test {
 protected:
  Bundles() {
    std::filesystem::create_directories(folder_.file("languages"));
    write_model(folder_.file("net.safetensors"), tiny_model(1), false);
    write_file(folder_.file("languages/ru.glyphs"), std::string("x"));
    write_file(folder_.file("languages/en.glyphs"), std::string("x"));
  }
  void put(const std::string& name, const std::string& table) {
    write_file(folder_.file(name + ".bundle.json"), table);
  }
  std::string table(const std::string& name, const std::string& script,
                    const std::string& languages) {
    return R"({"format": "burnisher-bundle-1", "name": ")" + name + R"(", "scripts": [")" + script +
           R"("], "network": "net.safetensors", "languages": [)" + languages + "]}";
  }
  TemporaryFolder folder_;
};

TEST_F(Bundles, NameTheFilesBesideThem) {
  put("east", table("east", "Cyrl", R"("ru", "uk")"));
  const Bundle bundle = read_bundle(folder_.file("east.bundle.json"));
  EXPECT_EQ(bundle.name, "east");
  EXPECT_TRUE(bundle.reads("Cyrl"));
  EXPECT_FALSE(bundle.reads("Latn"));
  EXPECT_EQ(bundle.network, folder_.file("net.safetensors"));
  ASSERT_EQ(bundle.spelling.size(), 1u);  // there is no file for uk
  EXPECT_EQ(bundle.spelling.at("ru"), folder_.file("languages/ru.glyphs"));
  EXPECT_EQ(bundle.confusions, "");
}

TEST_F(Bundles, OfAFolderBeginWithTheLatinOne) {
  put("a", table("arabic", "Arab", ""));
  put("b", table("western", "Latn", R"("en")"));
  put("c", table("cyrillic", "Cyrl", R"("ru")"));
  const std::vector<Bundle> bundles = bundles_in(folder_.path());
  ASSERT_EQ(bundles.size(), 3u);
  EXPECT_EQ(bundles[0].name, "western");
  EXPECT_EQ(bundles[1].name, "arabic");
  EXPECT_TRUE(bundles_in(folder_.file("nowhere")).empty());
}

TEST_F(Bundles, AModelAloneIsOneOfItsAlphabetsScript) {
  Model model = tiny_model(1);
  const Bundle latin = read_bundle(folder_.file("net.safetensors"));
  EXPECT_EQ(latin.scripts, (std::vector<std::string>{"Latn"}));
  EXPECT_EQ(latin.spelling.count("en"), 1u);
  EXPECT_EQ(latin.spelling.count("ru"), 0u);
  model.alphabet = Alphabet("абв ");
  write_model(folder_.file("other.safetensors"), model, false);
  const Bundle other = read_bundle(folder_.file("other.safetensors"));
  EXPECT_EQ(other.scripts, (std::vector<std::string>{"Cyrl"}));
  EXPECT_EQ(other.spelling.count("ru"), 1u);
}

TEST_F(Bundles, ATaughtOneNamesWhereItBeganAndMayBeOfAnyScript) {
  Bundle taught;
  taught.name = "mine";
  taught.scripts = {"Runr"};
  taught.taught_from = "latin";
  write_taught_bundle(folder_.path(), taught);
  const Bundle back = read_bundle(folder_.file("mine.bundle.json"));
  EXPECT_EQ(back.name, "mine");
  EXPECT_TRUE(back.reads("Runr"));
  EXPECT_EQ(back.taught_from, "latin");
  EXPECT_EQ(back.network, folder_.file("mine.safetensors"));
  EXPECT_TRUE(back.spelling.empty());  // that of the other, which who opens it knows
  EXPECT_TRUE(back.confusions.empty());
}

TEST_F(Bundles, BrokenTablesAreNamed) {
  const struct {
    const char* table;
    const char* says;
  } cases[] = {
      {"{", "parse"},
      {R"({"format": "burnisher-bundle-9"})", "burnisher-bundle-9"},
      {R"({"format": "burnisher-bundle-1", "name": "x", "scripts": []})", "no script"},
      {R"({"format": "burnisher-bundle-1", "name": "x", "scripts": ["Runes"]})", "Runes"},
      {R"({"format": "burnisher-bundle-1", "name": "x", "scripts": ["Latn"]})", "network"},
  };
  for (const auto& c : cases) {
    put("bad", c.table);
    try {
      bundles_in(folder_.path());
      ADD_FAILURE() << c.table << " was taken";
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find("bad.bundle.json"), std::string::npos);
      EXPECT_NE(std::string(error.what()).find(c.says), std::string::npos) << error.what();
    }
  }
  EXPECT_THROW(Recogniser(std::vector<Bundle>{}), SettingsError);
}

// ---- several at work ----

class TwoReaders : public Bundles {
 protected:
  TwoReaders() {
    write_model(folder_.file("latin"), tiny_model(5), false);
    write_model(folder_.file("cyrillic"), tiny_model(6, "абв "), false);
    picture_ = Gray(400, 60);
    Random random(9);
    for (uint8_t& v : picture_.samples()) v = static_cast<uint8_t>(random.index(256));
  }
  Bundle bundle(const std::string& script, const std::string& file) const {
    Bundle b;
    b.name = file;
    b.scripts = {script};
    b.network = folder_.file(file);
    return b;
  }
  Line read(const Recogniser& recogniser, const std::vector<std::string>& scripts) const {
    Line line;
    line.baseline = {{20, 40}, {380, 40}};
    line.x_height = 6;
    RecogniseSettings settings;
    settings.scripts = scripts;
    recogniser.read(picture_, {}, settings, {&line});
    return line;
  }
  Gray picture_;
};

TEST_F(TwoReaders, TheScriptThatIsSaidReads) {
  const Recogniser recogniser({bundle("Latn", "latin"), bundle("Cyrl", "cyrillic")},
                              Precision::kFloat32);
  const Line latin = read(recogniser, {"Latn"}), cyrillic = read(recogniser, {"Cyrl"});
  EXPECT_EQ(latin.script, "Latn");
  EXPECT_EQ(cyrillic.script, "Cyrl");
  const Recogniser alone({bundle("Cyrl", "cyrillic")}, Precision::kFloat32);
  EXPECT_EQ(cyrillic.text(), read(alone, {}).text());
  // A first model that tells no scripts reads everything that nobody claims.
  EXPECT_EQ(read(recogniser, {}).text(), latin.text());
}

TEST_F(TwoReaders, ABundleIsOpenedWhenALineNeedsIt) {
  const Recogniser recogniser({bundle("Latn", "latin"), bundle("Cyrl", "not there")},
                              Precision::kFloat32);
  EXPECT_EQ(read(recogniser, {"Latn"}).script, "Latn");
  try {
    read(recogniser, {"Cyrl"});
    FAIL() << "read without its network";
  } catch (const InputError& error) {
    EXPECT_NE(std::string(error.what()).find("not there"), std::string::npos) << error.what();
  }
  EXPECT_EQ(read(recogniser, {"Latn"}).script, "Latn");
}

// ---- telling scripts ----

LineReading told_as(const std::vector<float>& log_probability) {
  LineReading reading;
  reading.script_log_probability = log_probability;
  return reading;
}

const std::vector<std::string> kTold = {"Latn", "Cyrl", "Hebr"};

std::vector<std::string> scripts_told(const std::vector<std::vector<float>>& lines,
                                      const std::vector<std::string>& known) {
  std::vector<LineReading> readings;
  for (const auto& line : lines) readings.push_back(told_as(line));
  return scripts_of(readings, kTold, known);
}

TEST(LineScripts, AreThoseOfTheLinesOwnLetters) {
  EXPECT_EQ(scripts_told({{-1, -90, -90}, {-90, -1, -90}, {-1, -90, -90}}, kTold),
            (std::vector<std::string>{"Latn", "Cyrl", "Latn"}));
}

TEST(LineScripts, LinesWithoutLettersGoWithTheOneBefore) {
  EXPECT_EQ(scripts_told({{-90, -1, -90}, {}, {-1, -90, -90}}, kTold),
            (std::vector<std::string>{"Cyrl", "Cyrl", "Latn"}));
  EXPECT_EQ(scripts_told({{}}, kTold), (std::vector<std::string>{"Latn"}));
}

TEST(LineScripts, AFewUnsureLettersGoWithTheirNeighbours) {
  EXPECT_EQ(scripts_told({{-90, -2, -90}, {-0.9f, -1, -5}, {-90, -2, -90}}, kTold)[1], "Cyrl");
}

TEST(LineScripts, OnlyThoseThatCanBeReadAreTold) {
  EXPECT_EQ(scripts_told({{-90, -50, -1}}, {"Latn", "Cyrl"})[0], "Cyrl");
  EXPECT_EQ(scripts_told({{-90, -50, -1}}, {"Latn"})[0], "Latn");
}

// ---- the script head ----

// A model whose first channel alone tells between two scripts.
Model telling_model() {
  Model model = tiny_model(3);
  const int channels = model.plan.context;
  neural::Tensor weight{{3, channels}, std::vector<float>(3 * static_cast<size_t>(channels), 0.f)};
  weight.values[static_cast<size_t>(channels)] = 1;
  model.tensors["scripts.weight"] = weight;
  model.tensors["scripts.bias"] = neural::Tensor{{3}, {-50, 0, 0.5f}};
  model.record["scripts"] = "Latn,Cyrl";
  return model;
}

TEST(ScriptHead, GoesWithItsModelAndTellsEveryStrip) {
  TemporaryFolder folder;
  write_model(folder.file("m"), telling_model(), false);
  const Model back = read_model(folder.file("m"));
  EXPECT_EQ(back.scripts(), (std::vector<std::string>{"Latn", "Cyrl"}));
  const Network network(back, Precision::kFloat32);
  Gray strip(96, 16, 30);
  for (int y = 4; y < 12; ++y) std::fill_n(strip.row(y) + 20, 40, 230);
  const FrameScores scores = network.read({&strip}).front();
  ASSERT_EQ(scores.script_log_probability.size(), 2u);
  // What the layers before say, by hand.
  const std::vector<float> context = network.context_of(strip);
  const auto channels = static_cast<size_t>(back.plan.context);
  double latin = 0, cyrillic = 0;
  for (size_t f = 0; f < context.size() / channels; ++f) {
    const double a = context[f * channels], b = 0.5;
    const double sum = std::log(std::exp(a) + std::exp(b) + std::exp(-50.0));
    latin += a - sum;
    cyrillic += b - sum;
  }
  EXPECT_NEAR(scores.script_log_probability[0], latin, 1e-3);
  EXPECT_NEAR(scores.script_log_probability[1], cyrillic, 1e-3);
}

TEST(ScriptHead, OfAnotherShapeIsRefused) {
  TemporaryFolder folder;
  Model model = telling_model();
  model.record["scripts"] = "Latn,Cyrl,Grek";
  write_model(folder.file("m"), model, false);
  EXPECT_THROW(read_model(folder.file("m")), FormatError);
}

// ---- logical order ----

Line printed_line(const std::string& script, const std::vector<std::string>& words) {
  Line line;
  line.script = script;
  double x = 0;
  for (const std::string& text : words) {
    Word word;
    word.text = text;
    for (const char32_t c : decode_utf8(text)) {
      word.glyphs.push_back({c, {x, 0, x + 10, 20}, 0.9});
      x += 10;
    }
    word.box = {x - 10.0 * static_cast<double>(word.glyphs.size()), 0, x, 20};
    word.confidence = 0.9;
    word.readings = {{text, 1}};
    line.words.push_back(word);
    x += 10;
  }
  return line;
}

TEST(LogicalWords, OfHebrewStandFromTheRight) {
  Line line = printed_line("Hebr", {"ןאכ", "1873", "ןמש"});
  put_in_logical_order(line);
  EXPECT_EQ(line.text(), "שמן 1873 כאן");
  EXPECT_GT(line.words[0].box.x0, line.words[1].box.x0);
  EXPECT_GT(line.words[1].box.x0, line.words[2].box.x0);
  EXPECT_GT(line.words[0].glyphs[0].box.x0, line.words[0].glyphs[2].box.x0);
  EXPECT_LT(line.words[1].glyphs[0].box.x0, line.words[1].glyphs[3].box.x0);  // of the year
  EXPECT_EQ(line.words[0].readings[0].text, "שמן");
}

TEST(LogicalWords, LatinWordsInHebrewKeepTheirOrder) {
  Line line = printed_line("Hebr", {"ןאכ", "Skerrow", "Board", "רפס"});
  put_in_logical_order(line);
  EXPECT_EQ(line.text(), "ספר Skerrow Board כאן");
  EXPECT_LT(line.words[1].box.x0, line.words[2].box.x0);
}

TEST(LogicalWords, OfLinesFromTheLeftStay) {
  Line line = printed_line("Latn", {"The", "keeper"});
  const Box before = line.words[1].box;
  put_in_logical_order(line);
  EXPECT_EQ(line.text(), "The keeper");
  EXPECT_EQ(line.words[1].box.x0, before.x0);
}

TEST(LogicalWords, TheSignIComesBehindItsConsonants) {
  Line line = printed_line("Deva", {"िहन्दी"});
  put_in_logical_order(line);
  EXPECT_EQ(line.text(), "हिन्दी");
  EXPECT_EQ(line.words[0].glyphs.size(), 6u);
}

}  // namespace
}  // namespace burnisher::recognise
