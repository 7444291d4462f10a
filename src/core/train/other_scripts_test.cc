// Training lines of scripts other than Latin: what they say, how they are set, what they are
// labelled with.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "compose/typeset.h"
#include "testing/printed_page.h"
#include "train/confusion_trainer.h"
#include "train/examples.h"
#include "train/line_maker.h"
#include "train/page_texts.h"
#include "train/rarest.h"
#include "train/script_trainer.h"

namespace burnisher::train {
namespace {

using burnisher::testing::TemporaryFolder;
using Text = std::vector<char32_t>;

const char* const kDejaVu = "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf";
const char* const kLiberation = "/usr/share/fonts/truetype/liberation/LiberationSerif-Regular.ttf";

class OtherScripts : public ::testing::Test {
 protected:
  OtherScripts() {
    std::filesystem::create_directories(folder_.file("text"));
    put("en", "The keeper of the light wrote his log by lamp and sent a copy.\n");
    put("ru", "Смотритель маяка записал в журнал 12 бочек масла и ушёл.\n");
    put("he", "שומר המגדלור רשם ביומן 12 חביות שמן והלך לישון.\n");
    put("ar", "كتب حارس المنارة في السجل 12 برميلا من الزيت ثم نام.\n");
    put("hi", "प्रकाशस्तंभ के रखवाले ने लिखा कि तेल के 12 पीपे बचे हैं।\n");
    faces_ = {{kDejaVu, 0, "sans", false, "DejaVu", "Latn,Cyrl,Grek,Hebr,Arab"},
              {kLiberation, 0, "serif", false, "Liberation", "Latn,Cyrl,Grek"}};
  }
  void put(const std::string& language, const std::string& line) {
    std::string text;
    for (int i = 0; i < 40; ++i) text += line;
    write_file(folder_.file("text/" + language + ".running.txt"), text);
  }
  TextSource source(const std::string& script) const {
    return {folder_.file("text"), recognise::Alphabet(recognise::script_named(script).characters()),
            false, "", script};
  }

  TemporaryFolder folder_;
  std::vector<compose::TypefaceEntry> faces_;
};

// Shares of 600 lines that have a letter of each script.
std::map<std::string, double> shares_of(const TextSource& source) {
  Random random(8);
  std::map<std::string, double> shares;
  for (int i = 0; i < 600; ++i) {
    std::map<std::string, bool> has;
    for (const char32_t c : source.draw(60, false, random))
      if (is_letter(c)) has[script_of(c)] = true;
    for (const auto& [script, any] : has) shares[script] += any / 600.0;
  }
  return shares;
}

TEST_F(OtherScripts, TheRarestCharactersAreNamedFirst) {
  const recognise::Alphabet alphabet(recognise::script_named("Cyrl").characters());
  const TextSource texts = source("Cyrl");
  const auto rare = rarest(texts, alphabet, 300, 60, 20, 3);
  ASSERT_EQ(rare.size(), 20u);
  for (size_t i = 1; i < rare.size(); ++i) EXPECT_LE(rare[i - 1].second, rare[i].second);
  const auto has = [&](char32_t c) {
    return std::any_of(rare.begin(), rare.end(), [&](const auto& r) { return r.first == c; });
  };
  EXPECT_FALSE(has(U'а'));  // of every line
  EXPECT_EQ(rarest(texts, alphabet, 300, 60, 5, 3).size(), 5u);
  EXPECT_EQ(as_text({{U'ѳ', 3}, {U'\u0301', 0}}, 300), "ѳ 100, \u25CC\u0301 0");
}

TEST_F(OtherScripts, SomeVersesAreClosedWithADoubleDanda) {
  const TextSource texts = source("Deva");
  Random random(5);
  int once = 0, twice = 0;
  for (int i = 0; i < 400; ++i) {
    const std::string line = encode_utf8(texts.draw(60, false, random));
    once += line.find("।") != std::string::npos;
    twice += line.find("॥") != std::string::npos;
  }
  EXPECT_GT(twice, 5);
  EXPECT_GT(once, 3 * twice);
}

TEST_F(OtherScripts, LinesAreOfTheScriptWithLatinGuests) {
  for (const char* script : {"Cyrl", "Hebr", "Arab", "Deva"}) {
    auto shares = shares_of(source(script));
    EXPECT_GT(shares[script], 0.6) << script;
    EXPECT_GT(shares["Latn"], 0.1) << script;
    EXPECT_LT(shares["Latn"], 0.5) << script;
    for (const auto& [other, share] : shares)
      EXPECT_TRUE(other == script || other == "Latn" || share < 0.01) << script << " " << other;
  }
  const auto latin = shares_of(source("Latn"));
  EXPECT_EQ(latin.count("Cyrl") + latin.count("Hebr") + latin.count("Arab"), 0u);
}

TEST_F(OtherScripts, LinesHoldOnlyTheAlphabetAndNoLooseMarks) {
  for (const recognise::Script& script : recognise::scripts()) {
    if (TextSource::languages_in(folder_.file("text"), script.code).empty()) continue;
    const recognise::Alphabet alphabet(script.characters());
    const TextSource texts = source(script.code);
    Random random(4);
    for (int i = 0; i < 300; ++i) {
      const Text line = texts.draw(50, i % 2 == 0, random);
      ASSERT_FALSE(line.empty());
      EXPECT_FALSE(is_mark(line.front())) << script.code;
      for (const char32_t c : line) EXPECT_GT(alphabet.class_of(c), 0);
    }
  }
}

TEST_F(OtherScripts, OwnDigitsAndPointsComeNowAndThen) {
  Random random(2);
  const TextSource arabic = source("Arab"), hebrew = source("Hebr");
  int indic = 0, european = 0, pointed = 0;
  for (int i = 0; i < 500; ++i) {
    for (const char32_t c : arabic.draw(60, false, random)) {
      indic += c > 127 && is_digit(c);
      european += c >= U'0' && c <= U'9';
    }
    const Text line = hebrew.draw(60, false, random);
    pointed += std::count_if(line.begin(), line.end(), is_mark) > 3;
  }
  EXPECT_GT(indic, 50);
  EXPECT_GT(european, 50);
  EXPECT_GT(pointed, 10);
  EXPECT_LT(pointed, 120);
}

TEST_F(OtherScripts, AScriptWithoutTextsIsNamed) {
  try {
    source("Grek");
    FAIL() << "taken";
  } catch (const InputError& error) {
    EXPECT_NE(std::string(error.what()).find("Greek"), std::string::npos) << error.what();
  }
  EXPECT_THROW(recognise::script_named("Xxxx"), SettingsError);
}

TEST_F(OtherScripts, PagesAreComposedInEveryScriptOrThoseAskedFor) {
  const PageTexts texts(folder_.file("text"), false);
  Random random(5);
  std::map<std::string, int> pages;
  for (const compose::PageText& page : texts.pages()) {
    ++pages[page.script];
    EXPECT_EQ(page.right_to_left, page.script == "Hebr" || page.script == "Arab");
    int own = 0;
    for (int i = 0; i < 50; ++i)
      for (const char32_t c : page.words(60, random)) own += script_of(c) == page.script;
    EXPECT_GT(own, 500) << page.script;
  }
  EXPECT_EQ(pages, (std::map<std::string, int>{
                       {"Latn", 2}, {"Cyrl", 1}, {"Hebr", 1}, {"Arab", 1}, {"Deva", 1}}));
  for (const compose::PageText& page : PageTexts(folder_.file("text"), false, {"Latn"}).pages())
    EXPECT_EQ(page.script, "Latn");
}

struct Silent : Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string&) override {}
  void say(const std::string&) override {}
};

TEST_F(OtherScripts, AModelLearnsToTellThoseThatThereAreFacesOf) {
  ScriptTrainerSettings settings;
  settings.faces = folder_.file("faces.tsv");
  settings.texts = folder_.file("text");
  settings.lines = 400;
  settings.validation_lines = 90;
  std::string table;
  for (const compose::TypefaceEntry& f : faces_)
    table += f.file + "\t0\t" + f.klass + "\ttrain\t" + f.family + "\tLatn,Hebr\n";
  write_file(settings.faces, table);
  // Only one of the two faces has Hebrew letters, and neither is asked for Russian or Arabic.
  faces_.resize(1);
  write_file(settings.faces, table.substr(0, table.find('\n') + 1));
  const recognise::Model model =
      recognise::read_model(BURNISHER_MODELS_FOLDER "/latin.safetensors");
  Silent silent;
  const ScriptTrainerReport report = learn_scripts(settings, model, silent);
  EXPECT_EQ(report.model.scripts(), (std::vector<std::string>{"Latn", "Hebr"}));
  for (const auto& [script, lines] : report.lines) {
    EXPECT_GT(lines.first, 15) << script;
    EXPECT_GT(lines.second, 0.75 * lines.first) << script;
  }
  EXPECT_EQ(report.model.tensors.at("head.weight").values, model.tensors.at("head.weight").values);
  write_file(settings.faces, table.substr(0, table.find("Latn,Hebr")) + "Hebr\n");
  EXPECT_THROW(learn_scripts(settings, model, silent), InputError);
}

// What is learnt about a script from right to left is held against what is read in logical order.
TEST_F(OtherScripts, ConfusionsOfHebrewAreLearntInItsOrder) {
  write_file(folder_.file("faces.tsv"),
             std::string(kDejaVu) + "\t0\tsans\ttrain\tDejaVu\tLatn,Hebr\n");
  write_file(folder_.file("he_IL.aff"), std::string("SET UTF-8\n"));
  write_file(folder_.file("he_IL.dic"),
             std::string("9\nשומר\nהמגדלור\nרשם\nביומן\nחביות\nשמן\nוהלך\nלישון\n"));
  const correct::Lexicon lexicon({folder_.path()});
  const std::string path = BURNISHER_MODELS_FOLDER "/hebrew.safetensors";
  ConfusionTrainerSettings settings;
  settings.faces = folder_.file("faces.tsv");
  settings.texts = folder_.file("text");
  settings.language = "he";
  settings.lines = 60;
  Silent silent;
  const ConfusionTrainerReport report = learn_confusion_model(
      settings, recognise::read_model(path), recognise::Recogniser(path), lexicon, silent);
  EXPECT_GT(report.words, 100);
  EXPECT_LT(report.wrong, 0.5 * report.words);
}

TEST(Scripts, AlphabetsHoldEachCharacterOnceInNfc) {
  for (const recognise::Script& script : recognise::scripts()) {
    const recognise::Alphabet alphabet(script.characters());  // throws for doubles
    EXPECT_EQ(to_nfc(script.characters()).size() > 0, true);
    for (const char32_t c : std::u32string(U" Az09.,;:-()—"))
      EXPECT_GT(alphabet.class_of(c), 0) << script.code << static_cast<uint32_t>(c);
    if (script.squares != nullptr)
      continue;  // angle brackets of their own, and no line from the right
    // What a bracket looks like in a line from right to left is in it as well.
    for (const char32_t c : std::u32string(U"([{<«‹"))
      EXPECT_GT(alphabet.class_of(printed_order({U'א', c, U'א'}, true)[1].character), 0);
    EXPECT_TRUE(script.digits.empty() || decode_utf8(script.digits).size() == 10) << script.code;
  }
}

TEST(Scripts, AlphabetsHaveTheLettersOfTheirLanguages) {
  const struct {
    const char* script;
    const char* letters;
  } cases[] = {
      {"Cyrl", "ЁёЙйЪъЫыЭэЄєІіЇїҐґЎўЂђЈјЉљЊњЋћЏџЃѓЌќЅѕѢѣѲѳѴѵ"},
      {"Grek", "ΆάΈέΐΰςάὰᾶᾳᾴἀἁἄἅἆἇὠὡᾧῥῬΐΫϋ"},
      {"Hebr", "אבגדהוזחטיכךלמםנןסעפףצץקרשת־׳״"},
      {"Arab", "ءآأؤإئابةتثجحخدذرزسشصضطظعغفقكلمنهوىيپچژگکیڭٹڈڑںہھے،؛؟"},
      {"Deva", "अआइईउऊऋएऐओऔकखगघङचछजझञटठडढणतथदधनपफबभमयरलवशषसहळािीुूृेैोौ्ंँः़।॥ऽॐ"},
  };
  for (const auto& c : cases) {
    const recognise::Alphabet alphabet(recognise::script_named(c.script).characters());
    for (const char32_t letter : decode_utf8(to_nfc(c.letters)))
      EXPECT_GT(alphabet.class_of(letter), 0) << c.script << " " << encode_utf8(letter);
  }
}

// ---- setting ----

TEST_F(OtherScripts, TextFromRightToLeftStandsFromTheRight) {
  compose::TypefaceSampler hebrew(faces_, false, "Hebr");
  Random random(1);
  const Text text = decode_utf8("שמן 12 אבן");
  const compose::TypefacePair pair{hebrew.draw(text, random), nullptr};
  ASSERT_NE(pair.main, nullptr);
  compose::TypeStyle style;
  const compose::SetLine line = compose::set_line(pair, text, true, style, random);
  EXPECT_GT(line.characters[0].centre, line.characters[2].centre);
  EXPECT_GT(line.characters[2].centre, line.characters[4].centre);
  EXPECT_LT(line.characters[4].centre, line.characters[5].centre);  // the 1 before the 2
  EXPECT_GT(line.characters[4].centre, line.characters[9].centre);
  EXPECT_LT(line.characters[0].centre, line.width);
}

TEST_F(OtherScripts, AnotherFaceSetsWhatTheMainOneLacks) {
  const compose::TypefaceEntry mono{
      "/usr/share/fonts/truetype/dejavu/DejaVuSansMono.ttf", 0, "mono", false, "Mono", "Arab"};
  compose::TypefaceSampler arabic({mono}, false, "Arab"), latin({faces_[0]}, false);
  Random random(1);
  const compose::Typeface* const main = arabic.draw(decode_utf8("من"), random);
  const compose::Typeface* const other = latin.draw({U'a'}, random);
  ASSERT_NE(main, nullptr);
  Text text = decode_utf8("من زيت ");
  const size_t shared = text.size();
  for (char32_t c = 0x100; c < 0x2600 && text.size() == shared; ++c) {
    const std::string script = script_of(c);
    const bool sign = script == "Zyyy" || script == "Latn";
    if (sign && other->has(c) && !main->has(c)) text.push_back(c);
  }
  ASSERT_GT(text.size(), shared) << "no sign that only one of the faces has";
  bool spare = false;
  for (int i = 0; i < 20; ++i) {
    const compose::TypefacePair pair = arabic.draw_pair(text, latin, random);
    if (pair.main == nullptr) continue;
    spare = spare || pair.spare != nullptr;
    compose::TypeStyle style;
    const compose::SetLine line = compose::set_line(pair, text, true, style, random);
    for (const compose::SetGlyph& glyph : line.glyphs)
      EXPECT_TRUE(glyph.face == pair.main || glyph.face == pair.spare);
  }
  EXPECT_TRUE(spare);
}

TEST_F(OtherScripts, ReferenceHeightsAreThoseOfTheScript) {
  compose::TypefaceSampler arabic(faces_, false, "Arab");
  Random random(1);
  const compose::Typeface* const dejavu = arabic.draw(decode_utf8("من"), random);
  ASSERT_NE(dejavu, nullptr);
  EXPECT_EQ(dejavu->x_height("Latn"), dejavu->x_height("Cyrl"));
  EXPECT_NE(dejavu->x_height("Arab"), dejavu->x_height("Latn"));
  EXPECT_NE(dejavu->x_height("Hebr"), dejavu->x_height("Arab"));
  EXPECT_EQ(compose::main_script(decode_utf8("1873 Лампа AB")), "Cyrl");
  EXPECT_EQ(compose::main_script(decode_utf8("1873")), "Latn");
}

TEST_F(OtherScripts, LinesAreLabelledInPrintedOrder) {
  for (const char* code : {"Hebr", "Arab"}) {
    const recognise::Alphabet alphabet(recognise::script_named(code).characters());
    const TextSource texts = source(code);
    LineMaker maker(texts, alphabet, faces_, false, {});
    int ascending = 0, steps = 0;
    for (uint64_t seed = 1; seed <= 12; ++seed) {
      const TrainingLine line = maker.make(compose::ScanLevel::kClean, 40, seed);
      ASSERT_EQ(line.text.size(), line.centres.size());
      EXPECT_FALSE(is_mark(line.text.front()));
      for (size_t i = 1; i < line.centres.size(); ++i) {
        if (is_mark(line.text[i])) continue;
        ++steps;
        ascending += line.centres[i] > line.centres[i - 1] - 2;
      }
    }
    EXPECT_GT(ascending, 0.97 * steps) << code;
  }
}

// Nobody types a line backwards: what is transcribed as one types it is learnt as it is printed.
TEST(Examples, FromRightToLeftAreLearntInPrintedOrder) {
  Gray picture(400, 80);
  Random random(3);
  for (uint8_t& v : picture.samples()) v = static_cast<uint8_t>(random.index(256));
  const Example example =
      example_of("a.png", picture, {{{20, 50}, {380, 50}}, 18}, "\u05D0\u05D1 12 \u05D2");
  EXPECT_EQ(encode_utf8(example.text), "\u05D0\u05D1 12 \u05D2");
  const recognise::Alphabet alphabet("\u05D0\u05D1\u05D212 ");
  const TrainingLine line = varied(example, {}, alphabet, random);
  EXPECT_EQ(encode_utf8(line.text), "\u05D2 12 \u05D1\u05D0");
  ASSERT_EQ(line.classes.size(), 7u);
  EXPECT_EQ(line.classes.front(), alphabet.class_of(0x5D2));
}

}  // namespace
}  // namespace burnisher::train
