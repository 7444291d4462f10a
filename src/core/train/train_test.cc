#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <functional>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "recognise/recognise.h"
#include "testing/printed_page.h"
#include "testing/tiny_model.h"
#include "train/learner.h"
#include "train/line_maker.h"
#include "train/optimiser.h"
#include "train/rounds.h"
#include "train/run_files.h"
#include "train/trainer.h"

namespace burnisher::train {
namespace {

using burnisher::testing::TemporaryFolder;

// ---- lines ----

// A corpus small enough for tests, set in the faces that the tests' own setup installs.
class Corpus {
 public:
  Corpus() {
    std::filesystem::create_directories(folder_.file("text"));
    std::string prose;
    for (const std::string& line : burnisher::testing::prose(60, 70)) prose += line + ".\n";
    write_file(folder_.file("text/en.running.txt"), prose);
    write_file(folder_.file("text/en.words.txt"),
               "lamp\nkeeper\ntower\noil\nrelief\nfog\nsignal\n");
    std::string faces;
    for (const char* name : {"LiberationSerif-Regular", "LiberationSans-Regular"}) {
      faces += "/usr/share/fonts/truetype/liberation/" + std::string(name) +
               ".ttf\t0\tserif\ttrain\t" + name + "\n";
    }
    faces +=
        "/usr/share/fonts/truetype/liberation/LiberationMono-Regular.ttf\t0\tmono\theld\tMono\n";
    write_file(folder_.file("faces.tsv"), faces);
  }
  std::string faces() const { return folder_.file("faces.tsv"); }
  std::string texts() const { return folder_.file("text"); }
  std::string file(const std::string& name) const { return folder_.file(name); }

 private:
  TemporaryFolder folder_;
};

TEST(TextSource, ProseIsOfOneLanguageAndMostlyRunningText) {
  Corpus corpus;
  write_file(corpus.texts() + "/de.running.txt", std::string("das Licht der Küste\n"));
  const recognise::Alphabet alphabet(recognise::latin_characters());
  const TextSource source(corpus.texts(), alphabet, false, "en");
  Random random(3);
  int words = 0, figures = 0;
  for (int i = 0; i < 200; ++i) {
    const std::string line = encode_utf8(source.draw(60, false, random));
    EXPECT_EQ(line.find("Küste"), std::string::npos);
    EXPECT_LE(decode_utf8(line).size(), 60u);
    const bool any = line.find_first_of("0123456789") != std::string::npos;
    (any ? figures : words) += 1;
  }
  EXPECT_GT(words, 3 * figures);
  EXPECT_GT(figures, 5);
  EXPECT_THROW(TextSource(corpus.texts(), alphabet, false, "xx"), InputError);
}

TEST(Faces, TablesWithMistakesAreRefused) {
  TemporaryFolder folder;
  write_file(folder.file("a.tsv"), "file.ttf\t0\tfancy\ttrain\tX\n");
  EXPECT_THROW(compose::read_typeface_table(folder.file("a.tsv")), FormatError);
  write_file(folder.file("a.tsv"), "file.ttf\tzero\tserif\ttrain\tX\n");
  EXPECT_THROW(compose::read_typeface_table(folder.file("a.tsv")), FormatError);
  EXPECT_THROW(compose::read_typeface_table(folder.file("none.tsv")), InputError);
}

TEST(Faces, OnlyFacesWithEveryCharacterAreDrawn) {
  Corpus corpus;
  compose::TypefaceSampler faces(compose::read_typeface_table(corpus.faces()), false);
  Random random(1);
  EXPECT_NE(faces.draw(decode_utf8("Åłß€"), random), nullptr);
  EXPECT_EQ(faces.draw(decode_utf8("雨"), random), nullptr);
}

TEST(Typeset, CharactersStandInOrderAndInkLiesOnTheBaseline) {
  Corpus corpus;
  compose::TypefaceSampler faces(compose::read_typeface_table(corpus.faces()), false);
  Random random(2);
  const auto text = decode_utf8("fine oil");
  const compose::Typeface* face = faces.draw(text, random);
  compose::TypeStyle style;
  style.x_height = 20;
  const compose::SetLine line = compose::set_line(*face, text, style, random);
  ASSERT_EQ(line.characters.size(), text.size());
  for (size_t i = 1; i < text.size(); ++i)
    EXPECT_GT(line.characters[i].centre, line.characters[i - 1].centre);
  FloatImage ink(static_cast<int>(line.width) + 20, 80);
  compose::print_line(line, style, 10, 50, ink);
  const auto row_ink = [&](int y) {
    float sum = 0;
    for (int x = 0; x < ink.width(); ++x) sum += ink.row(y)[x];
    return sum;
  };
  EXPECT_GT(row_ink(48), 5);
  EXPECT_LT(row_ink(53), 0.5);
}

TEST(TextSource, LinesAreCleanShortAndReproducible) {
  Corpus corpus;
  const recognise::Alphabet alphabet(recognise::latin_characters());
  const TextSource source(corpus.texts(), alphabet, false);
  Random a(3), b(3);
  for (int i = 0; i < 400; ++i) {
    const auto line = source.draw(40, false, a);
    EXPECT_EQ(line, source.draw(40, false, b));
    ASSERT_FALSE(line.empty());
    EXPECT_LE(line.size(), 40u);
    EXPECT_NE(line.front(), U' ');
    EXPECT_NE(line.back(), U' ');
    for (char32_t c : line) EXPECT_GT(alphabet.class_of(c), 0);
  }
  EXPECT_THROW(TextSource(corpus.file("nothing"), alphabet, false), InputError);
}

TEST(TextSource, WhatProseLacksIsThereToo) {
  Corpus corpus;
  const recognise::Alphabet alphabet(recognise::latin_characters());
  const TextSource source(corpus.texts(), alphabet, false);
  Random random(9);
  int digits = 0, accents = 0, capitals = 0, dashes = 0, quotes = 0, leaders = 0;
  for (int i = 0; i < 3000; ++i) {
    const std::string line = encode_utf8(source.draw(60, false, random));
    const auto characters = decode_utf8(line);
    digits += std::any_of(characters.begin(), characters.end(), is_digit);
    accents += std::any_of(characters.begin(), characters.end(),
                           [](char32_t c) { return c > 0xBF && is_letter(c); });
    capitals += std::all_of(characters.begin(), characters.end(),
                            [](char32_t c) { return !is_letter(c) || is_upper(c); });
    dashes += line.find("—") != std::string::npos || line.find("–") != std::string::npos;
    quotes += line.find("“") != std::string::npos || line.find("’") != std::string::npos;
    leaders += line.find("....") != std::string::npos || line.find(". . .") != std::string::npos;
  }
  for (const int count : {digits, accents, capitals}) EXPECT_GT(count, 100);
  for (const int count : {dashes, quotes, leaders}) EXPECT_GT(count, 0);
}

TEST(TextSource, HeldTextsAreOthers) {
  Corpus corpus;
  const recognise::Alphabet alphabet("abcdefghijklmnopqrstuvwxyz ");
  write_file(corpus.file("text/en.running.txt"),
             std::string("alpha alpha alpha alpha\nalpha alpha alpha\n") + "beta beta beta beta\n");
  std::filesystem::remove(corpus.file("text/en.words.txt"));
  const TextSource held(corpus.texts(), alphabet, true);
  Random random(4);
  for (int i = 0; i < 200; ++i)
    EXPECT_EQ(encode_utf8(held.draw(40, true, random)).find("alpha"), std::string::npos);
}

TEST(Degrade, DamageStaysWithinReason) {
  Random random(6);
  for (int i = 0; i < 600; ++i) {
    const compose::ScanDamage d =
        compose::draw_damage(static_cast<compose::ScanLevel>(i % 3), random);
    EXPECT_GE(d.ink, 0.3);
    EXPECT_LE(d.ink, 1);
    EXPECT_FALSE(d.erosion > 0 && d.fading > 0);  // together they leave nothing to learn from
    EXPECT_GE(d.threshold_level, 0.2);
    EXPECT_LE(d.threshold_level, 0.8);
    if (i % 3 == 0) {
      EXPECT_EQ(d.stain + d.show_through + d.texture, 0);
    }
  }
}

TEST(Degrade, SoftNoiseIsCentredAndSmooth) {
  Random random(8);
  const FloatImage noise = compose::soft_noise(300, 200, 12, random);
  double sum = 0, step = 0;
  for (int y = 0; y < 200; ++y) {
    for (int x = 1; x < 300; ++x) {
      sum += noise.row(y)[x];
      step = std::max<double>(step, std::fabs(noise.row(y)[x] - noise.row(y)[x - 1]));
    }
  }
  EXPECT_NEAR(sum / (200 * 299), 0, 0.25);
  EXPECT_LT(step, 1.0);
}

TEST(RunFiles, CheckpointsKeepEverything) {
  TemporaryFolder folder;
  RunState state;
  state.parameters["a.weight"] = {1.f, -2.f, 3.f};
  state.statistics["a.mean"] = {0.5f};
  state.optimiser.first["a.weight"] = {0.1f, 0.2f, 0.3f};
  state.optimiser.average["a.weight"] = {9.f, 8.f, 7.f};
  state.optimiser.step = 42;
  state.seen = 1234;
  state.minutes = 5.5;
  write_checkpoint(folder.file("c"), state);
  const RunState back = read_checkpoint(folder.file("c"));
  EXPECT_EQ(back.parameters, state.parameters);
  EXPECT_EQ(back.statistics, state.statistics);
  EXPECT_EQ(back.optimiser.first, state.optimiser.first);
  EXPECT_EQ(back.optimiser.average, state.optimiser.average);
  EXPECT_EQ(back.optimiser.step, 42);
  EXPECT_EQ(back.seen, 1234);
  EXPECT_NEAR(back.minutes, 5.5, 1e-6);
  neural::write_tensor_file(folder.file("other"), {}, false);
  EXPECT_THROW(read_checkpoint(folder.file("other")), FormatError);
}

TEST(LineMaker, ASeedGivesTheSameLineAndPlacesLieInTheStrip) {
  Corpus corpus;
  const recognise::Alphabet alphabet(recognise::latin_characters());
  const TextSource source(corpus.texts(), alphabet, false);
  const auto faces = compose::read_typeface_table(corpus.faces());
  LineMaker one(source, alphabet, faces, false, {}), two(source, alphabet, faces, false, {});
  for (int level = 0; level < 3; ++level) {
    for (uint64_t seed = 1; seed < 8; ++seed) {
      const TrainingLine line = one.make(static_cast<compose::ScanLevel>(level), 30, seed);
      EXPECT_EQ(line.strip.samples(),
                two.make(static_cast<compose::ScanLevel>(level), 30, seed).strip.samples());
      EXPECT_EQ(line.strip.height(), 48);
      EXPECT_EQ(line.classes.size(), line.text.size());
      for (float centre : line.centres) {
        EXPECT_GE(centre, -30);
        EXPECT_LE(centre, static_cast<float>(line.strip.width() + 30));
      }
    }
  }
}

TEST(Degrade, HeavierDamageLeavesMoreTraces) {
  FloatImage ink(200, 80);
  for (int y = 20; y < 60; ++y) std::fill_n(ink.row(y) + 50, 100, 1.f);
  compose::ScanDamage damage;
  damage.noise = 0.05;
  damage.specks = 8;
  Random random(5);
  const Gray clean = compose::scan(ink, nullptr, 20, {}, random),
             damaged = compose::scan(ink, nullptr, 20, damage, random);
  EXPECT_EQ(clean.row(5)[5], 255);
  EXPECT_LT(clean.row(40)[100], 15);
  int differing = 0;
  for (size_t i = 0; i < clean.samples().size(); ++i)
    differing += clean.samples()[i] != damaged.samples()[i];
  EXPECT_GT(differing, 2000);
}

// ---- the whole loop ----

struct Silent : Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string&) override {}
  void say(const std::string&) override {}
};

TrainSettings tiny_settings(const Corpus& corpus) {
  TrainSettings s;
  s.faces = corpus.faces();
  s.texts = corpus.texts();
  s.run_folder = corpus.file("run");
  s.plan.stem = {16, 16, 32};
  s.plan.context = 48;
  s.plan.dilations = {1, 2};
  s.lines = 6000;
  s.longest_line = 8;
  s.pool_lines = 60;
  s.batch_pixels = 500;
  s.batches_per_step = 2;
  s.validate_every = 100000;
  s.validation_lines = 12;
  s.characters = " abcdefghijklmnopqrstuvwxyz.";
  s.optimiser.warm_up_steps = 20;
  s.optimiser.peak_rate = 4e-3;
  s.optimiser.average_keep = 0.9;
  return s;
}

TEST(Train, LearnsToReadInSeconds) {
  Corpus corpus;
  TrainSettings settings = tiny_settings(corpus);
  Silent silent;
  const TrainRow row = train(settings, silent);
  EXPECT_GE(row.lines, settings.lines);
  EXPECT_LT(row.cer_clean, 0.6);  // an untrained network is at 1
  // The model it wrote can be read with, and the run goes on where it was.
  const recognise::Recogniser recogniser(corpus.file("run/model.safetensors"));
  ASSERT_EQ(read_log(corpus.file("run/log.tsv")).size(), 1u);
  TrainSettings further = tiny_settings(corpus);
  further.from = corpus.file("run/model.safetensors");
  further.run_folder = corpus.file("further");
  further.plan = {};  // taken from the model, like the alphabet
  further.characters = "";
  further.lines = 60;
  further.optimiser.peak_rate = 1e-4;
  EXPECT_LT(train(further, silent).cer_clean, row.cer_clean + 0.1);
  settings.go_on = true;
  settings.lines += 120;
  const TrainRow later = train(settings, silent);
  EXPECT_GT(later.steps, row.steps);
  EXPECT_LT(later.lines, row.lines + 400);
}

TEST(Train, TheSeedDecidesEverythingWhateverTheThreads) {
  Corpus corpus;
  TrainSettings settings = tiny_settings(corpus);
  settings.lines = 60;
  Silent silent;
  for (int threads : {1, 2}) {
    settings.threads = threads;
    settings.run_folder = corpus.file("run" + std::to_string(threads));
    train(settings, silent);
  }
  const auto weights = [&](const char* run) {
    return recognise::read_model(corpus.file(run) + "/model.safetensors")
        .tensors.at("head.weight")
        .values;
  };
  EXPECT_EQ(weights("run1"), weights("run2"));
}

TEST(Train, NonsenseIsRefused) {
  Silent silent;
  TrainSettings settings;
  settings.lines = 0;
  EXPECT_THROW(train(settings, silent), SettingsError);
}

// ---- transcriptions ----

Example transcribed(const std::string& page, const std::string& text) {
  burnisher::testing::PrintedPage picture(700, 160);
  picture.print({text, 60, 100, 40, "Liberation Mono"});
  return example_of(page, picture.picture(), {{{60, 100}, {600, 100}}, 21}, text);
}

std::vector<Example> transcriptions(int pages, int lines) {
  std::vector<Example> examples;
  for (int p = 0; p < pages; ++p) {
    for (const std::string& line : burnisher::testing::prose(lines, 18))
      examples.push_back(transcribed("page" + std::to_string(10 + p), line));
  }
  return examples;
}

TEST(Examples, SpacesAreOneAndMissingCharactersAreFound) {
  const Example e = transcribed("p", "  the\tꝑ lamp \n");
  EXPECT_EQ(encode_utf8(e.text), "the ꝑ lamp");
  std::vector<Example> examples;
  examples.push_back(transcribed("p", "the ꝑ lamp"));
  EXPECT_EQ(missing_characters(examples, " aehlmpt"), "ꝑ");
}

TEST(Examples, VariedStripsKeepTheirTextAndDiffer) {
  const Example e = transcribed("p", "the lamp was lit");
  const recognise::Alphabet alphabet(" abcdefghijklmnopqrstuvwxyz");
  Random random(5);
  const TrainingLine a = varied(e, {}, alphabet, random), b = varied(e, {}, alphabet, random);
  EXPECT_EQ(a.text, e.text);
  EXPECT_EQ(a.classes.size(), e.text.size());
  EXPECT_NE(a.strip.width(), b.strip.width());
}

TEST(Rounds, PagesAreKeptBackWhole) {
  std::vector<Example> learnt = transcriptions(10, 3), back;
  keep_back(0.2, learnt, back);
  EXPECT_EQ(back.size(), 6u);
  EXPECT_EQ(learnt.size(), 24u);
  for (const Example& b : back) {
    for (const Example& l : learnt) EXPECT_NE(b.page, l.page);
  }
  std::vector<Example> one = transcriptions(1, 10), lines;
  keep_back(0.1, one, lines);
  EXPECT_EQ(lines.size(), 1u);
  std::vector<Example> few = transcriptions(3, 1), fewer;
  keep_back(0.1, few, fewer);
  EXPECT_EQ(fewer.size(), 1u);
}

TEST(Rounds, GoingOnWithNewCharactersReadsAsBeforeAndThenBetter) {
  Corpus corpus;
  TrainSettings first = tiny_settings(corpus);
  Silent silent;
  train(first, silent);
  std::vector<Example> learnt = transcriptions(4, 6), back;
  learnt.push_back(transcribed("page10", "ꝑ the lamp"));
  keep_back(0.25, learnt, back);
  RoundSettings settings;
  settings.from = corpus.file("run/model.safetensors");
  settings.run_folder = corpus.file("rounds");
  settings.most_rounds = 6;
  settings.patience = 6;
  settings.optimiser = round_optimiser();
  settings.optimiser.peak_rate = 3e-3;
  const RoundsReport report = train_in_rounds(learnt, back, settings, silent);
  EXPECT_EQ(report.added, "Sꝑ");
  ASSERT_EQ(report.rounds.size(), 7u);
  const double before = report.rounds.front().cer;
  EXPECT_LT(report.rounds[1].cer, before + 0.3);  // a new character does not drown the others
  EXPECT_LT(report.rounds.back().cer, before);
  EXPECT_EQ(report.lines.size(), back.size());
  const recognise::Model model = recognise::read_model(corpus.file("rounds/model.safetensors"));
  EXPECT_GT(model.alphabet.class_of(U'ꝑ'), 0);
}

TEST(Learner, ANewClassBeginsAsTheOneItIsLikenedTo) {
  const recognise::Model base = burnisher::testing::tiny_model(4, "abc ");
  const recognise::Alphabet alphabet("xabc y");
  Learner learner(base.plan, base.frame, alphabet, OptimiserSettings(), 1);
  learner.start_from(base, {{U'x', U'b'}, {U'y', U'?'}});
  const ParameterMap& parameters = learner.state().parameters;
  const std::string head = base.layers.back().name;
  const std::vector<float>& bias = parameters.at(head + ".bias");
  const std::vector<float>& old = base.tensors.at(head + ".bias").values;
  const auto at = [&](char32_t c) { return bias[static_cast<size_t>(alphabet.class_of(c))]; };
  EXPECT_EQ(at(U'x'), old[static_cast<size_t>(base.alphabet.class_of(U'b'))]);
  EXPECT_EQ(at(U'b'), at(U'x'));
  // Likened to what the base does not know either: the mean of all.
  float mean = 0;
  for (const float b : old) mean += b / static_cast<float>(old.size());
  EXPECT_NEAR(at(U'y'), mean, 1e-6);
}

TEST(Rounds, NothingToMeasureWithIsSaid) {
  Silent silent;
  const std::vector<Example> learnt = transcriptions(1, 2);
  EXPECT_THROW(train_in_rounds(learnt, {}, {}, silent), InputError);
  EXPECT_THROW(train_in_rounds({}, learnt, {}, silent), InputError);
}

}  // namespace
}  // namespace burnisher::train
