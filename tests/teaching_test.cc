// Training from transcriptions, language models and scores, through the built program.
#include <gtest/gtest.h>

#include <filesystem>
#include "base/json.h"

#include "base/files.h"
#include "pagefile/page_xml.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

using testing::PrintedPage;
using testing::TemporaryFolder;

// Pictures of one line each, with their texts beside them.
void make_line_pictures(const TemporaryFolder& folder, int count) {
  std::filesystem::create_directories(folder.file("lines"));
  const std::vector<std::string> texts = testing::prose(count, 24);
  for (int i = 0; i < count; ++i) {
    const std::string& text = texts[static_cast<size_t>(i)];
    PrintedPage page(800, 110);
    page.print({text, 40, 72, 40, "Liberation Sans"});
    const std::string stem = folder.file("lines/line-" + std::to_string(10 + i));
    write_file(stem + ".png", write_png(page.picture(), 200));
    put(stem + ".txt", text + "\n");
  }
}

TEST(Teaching, LinePicturesMakeAModelAndAReport) {
  TemporaryFolder folder;
  make_line_pictures(folder, 10);
  const Outcome o =
      shell("cd " + folder.path() +
            " && $B train --transcribed lines --run-dir run --rounds 2 --validate 20%");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "before: CER")) << o.err;
  EXPECT_TRUE(contains(o.err, "on 2 kept-back lines")) << o.err;
  EXPECT_TRUE(contains(o.err, "round 2:")) << o.err;
  const std::string report = content_of(folder.file("run/report.html"));
  EXPECT_TRUE(contains(report, "8 lines learnt from, 2 kept back"));
  EXPECT_TRUE(contains(content_of(folder.file("run/rounds.tsv")), "\n2\t"));
  // What it wrote reads.
  const Outcome read = shell("cd " + folder.path() +
                             " && $B run lines/line-10.png --model run/model.safetensors --out "
                             "read.txt && cat read.txt lines/line-10.txt");
  EXPECT_EQ(read.code, 0) << read.err;
  EXPECT_FALSE(read.out.empty());
}

TEST(Teaching, PagesToKeepBackCanBeNamed) {
  TemporaryFolder folder;
  make_line_pictures(folder, 4);
  put(folder.file("back.txt"), "line-11\nline-12.png\n");
  const Outcome o = shell("cd " + folder.path() +
                          " && $B train --transcribed lines --run-dir run --rounds 1 --validate "
                          "back.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("run/report.html")), "2 lines learnt from, 2 kept"));
  put(folder.file("back.txt"), "line-99\n");
  const Outcome wrong = shell("cd " + folder.path() +
                              " && $B train --transcribed lines --run-dir run --validate back.txt");
  EXPECT_EQ(wrong.code, 3);
  EXPECT_TRUE(contains(wrong.err, "names line-99, which is no transcribed page")) << wrong.err;
}

TEST(Teaching, TranscribedPagesMayBePageXmlOrAlto) {
  TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("pages"));
  log_page(folder, "pages/one.png");
  log_page(folder, "pages/two.png");
  const Outcome made = shell("cd " + folder.path() +
                             "/pages && $B recognise one.png --out-dir . && $B run two.png --out "
                             "two.xml --positions scan");
  ASSERT_EQ(made.code, 0) << made.err;
  const Outcome o =
      shell("cd " + folder.path() +
            " && $B train --transcribed pages --run-dir run --rounds 1 --validate 50%");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "round 1:")) << o.err;
}

TEST(Teaching, WhatIsMissingIsSaid) {
  TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("empty"));
  const auto said = [&](const std::string& options, int code, const std::string& words) {
    const Outcome o = shell("cd " + folder.path() + " && $B train " + options);
    EXPECT_EQ(o.code, code) << options << o.err;
    EXPECT_TRUE(contains(o.err, words)) << options << "\n" << o.err;
  };
  said("--run-dir run", 2, "--faces is missing");
  said("--transcribed empty", 2, "--run-dir is missing");
  said("--transcribed empty --run-dir run", 3, "empty");
  said("--language-model x.glyphs --texts empty", 2, "--lang is missing");
  said("--language-model x.glyphs --texts empty --lang en", 3, "neither en.running.txt nor");
  make_line_pictures(folder, 3);
  said("--transcribed lines --run-dir run --validate 0%", 2, "1% to 90%");
}

TEST(Teaching, ALanguageModelIsLearntFromText) {
  TemporaryFolder folder;
  std::string text;
  for (const std::string& line : testing::prose(300, 60)) text += line + "\n";
  put(folder.file("en.running.txt"), text);
  const Outcome o =
      shell("cd " + folder.path() + " && $B train --language-model en.glyphs --lang en --texts .");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "bits a character on")) << o.err;
  EXPECT_GT(std::filesystem::file_size(folder.file("en.glyphs")), 1000u);
}

TEST(Teaching, ScoresOfTwoResultsAreCompared) {
  TemporaryFolder folder;
  put(folder.file("truth.txt"), "The lamp was lit before dusk.\nNo signal given.\n");
  put(folder.file("first.txt"), "The iamp vvas lit before dusk.\n");
  put(folder.file("second.txt"),
      "The lamp was lit before dusk.\nNo signal given\nWho knows what\n");
  const Outcome o =
      shell("cd " + folder.path() + " && $B score second.txt truth.txt --compare first.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.out, "earlier %")) << o.out;
  const Outcome one = shell("cd " + folder.path() + " && $B score first.txt truth.txt");
  EXPECT_TRUE(contains(one.out, "lines missing 1, lines that nothing corresponds to 0")) << one.out;
  const Outcome two = shell("cd " + folder.path() + " && $B score second.txt truth.txt");
  EXPECT_TRUE(contains(two.out, "lines missing 0, lines that nothing corresponds to 1")) << two.out;
}

TEST(Teaching, ConfidencesOfAltoAreHeldAgainstTheTruth) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  std::string truth;
  for (const std::string& line : log_lines()) truth += line + "\n";
  put(folder.file("log.txt"), truth);
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run log.png --out log.xml --quiet; $B score log.xml log.txt");
  EXPECT_TRUE(contains(o.out, "expected calibration error 0.0")) << o.out << o.err;
}

TEST(Teaching, ScoresAsJsonTellKindsOfBlocks) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("log.txt"), "something else\n");
  const std::string cd = "cd " + folder.path() + " && ";
  shell(cd + "$B run log.png --out log.pdf --job job --quiet");
  const Outcome o = shell(cd + "$B score job/log-0001.xml log.txt --json --tsv table.tsv");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto json = parse_json(o.out);
  EXPECT_GT(json["kinds"]["text"]["errors"], 0);
  EXPECT_EQ(json["pages"].size(), 1u);
  EXPECT_EQ(json["pages"][0]["errors"], json["all"]["errors"]);
  EXPECT_TRUE(json.contains("expected_calibration_error"));
  EXPECT_TRUE(contains(content_of(folder.file("table.tsv")), "cer_percent"));
  // Plain text on both sides has no blocks.
  put(folder.file("read.txt"), "something\n");
  const auto plain = parse_json(shell(cd + "$B score read.txt log.txt --json").out);
  EXPECT_TRUE(plain["kinds"].empty());
  EXPECT_EQ(shell(cd + "$B score read.txt log.txt --html e.html --images nowhere").code, 2);
}

TEST(Teaching, ErrorsAreShownWithPicturesByKindOfBlock) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  std::string truth;
  for (const std::string& line : log_lines()) truth += line + "\n";
  truth.replace(truth.find("lamp"), 4, "damp");
  put(folder.file("log.txt"), truth);
  const std::string in = "cd " + folder.path() + " && ";
  ASSERT_EQ(shell(in + "$B clean log.png --out-dir pages --quiet && $B recognise pages/log.png "
                       "--out-dir read --quiet")
                .code,
            0);
  const Outcome o = shell(in + "$B score read/log.xml log.txt --images pages --html errors.html");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_EQ(o.err, "");
  EXPECT_TRUE(contains(o.out, "kind of block")) << o.out;
  const std::string page = content_of(folder.file("errors.html"));
  EXPECT_TRUE(contains(page, "alt=\"lamp\"")) << o.out;
  EXPECT_TRUE(contains(page, "data:image/"));
  const Outcome without =
      shell(in + "$B score read/log.xml log.txt --html errors.html --overwrite");
  EXPECT_EQ(without.code, 0);
  EXPECT_TRUE(contains(without.err, "--images")) << without.err;
}

// Texts and faces to render a few lines from.
void make_corpus(const TemporaryFolder& folder) {
  std::filesystem::create_directories(folder.file("text"));
  std::string prose;
  for (const std::string& line : testing::prose(60, 70)) prose += line + ".\n";
  put(folder.file("text/en.running.txt"), prose);
  put(folder.file("text/en.words.txt"), "lamp\nkeeper\ntower\noil\nrelief\nfog\nsignal\n");
  put(folder.file("faces.tsv"),
      "/usr/share/fonts/truetype/liberation/LiberationSerif-Regular.ttf\t0\tserif\ttrain\tSerif\n");
}

TEST(Teaching, APageNetworkIsLearntFromComposedPages) {
  TemporaryFolder folder;
  make_corpus(folder);
  const std::string train =
      "cd " + folder.path() + " && $B train --faces faces.tsv --texts text --run-dir run ";
  const Outcome o = shell(train + "--pages 4 --threads 2");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "axis of text right in")) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("run/pages.tsv")), "baseline"));
  EXPECT_LT(std::filesystem::file_size(folder.file("run/pages.safetensors")), 1500000u);
  EXPECT_EQ(shell(train + "--pages 8 --go-on --quiet").code, 0);
  EXPECT_GT(width_of(read_png(read_file(folder.file("run/pages.png")), 1e9).picture), 500);
  EXPECT_TRUE(contains(content_of(folder.file("run/pages.tsv")), "\t8\t"));
  const Outcome both = shell(train + "--pages 4 --go-on --from run/pages.safetensors");
  EXPECT_EQ(both.code, 2);
  EXPECT_TRUE(contains(both.err, "exclude each other")) << both.err;
}

TEST(Teaching, WhatIsMixedUpIsLearntFromRenderedLines) {
  TemporaryFolder folder;
  make_corpus(folder);
  const std::string train =
      "cd " + folder.path() +
      " && $B train --suspects confusion_model.json --faces faces.tsv --texts text ";
  const Outcome o = shell(train + "--lang en --lines 60");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "words were wrong")) << o.err;
  const auto confusion_model = parse_json(content_of(folder.file("confusion_model.json")));
  EXPECT_EQ(confusion_model["record"]["language"], "en");
  EXPECT_GT(confusion_model["limit"].get<double>(), 0);
  // An unknown word is more suspicious than another.
  EXPECT_GT(confusion_model["weights"][3].get<double>(), 0);
  // The same seed gives the same confusion_model.
  const std::string first = content_of(folder.file("confusion_model.json"));
  ASSERT_EQ(shell(train + "--lang en --lines 60 --threads 1").code, 0);
  EXPECT_EQ(content_of(folder.file("confusion_model.json")), first);
  const Outcome none = shell(train + "--lang zz");
  EXPECT_EQ(none.code, 2);
  EXPECT_TRUE(contains(none.err, "no dictionary is installed for 'zz'")) << none.err;
  EXPECT_TRUE(contains(shell(train).err, "--lang is missing"));
}

}  // namespace
}  // namespace burnisher::tests
