#include <gtest/gtest.h>

#include "base/json.h"

#include <cmath>
#include <cstdio>
#include <filesystem>
#include <sstream>

#include "base/edit_distance.h"
#include "base/files.h"
#include "base/unicode.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "program.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/tiff.h"

namespace burnisher::tests {
namespace {

using testing::TemporaryFolder;

std::string log_text() {
  std::string text;
  for (const std::string& line : log_lines()) text += line + "\n";
  return text;
}

double error_rate(const std::string& read, const std::string& truth) {
  const auto a = decode_utf8(read), b = decode_utf8(truth);
  return static_cast<double>(edit_distance(a, b)) / static_cast<double>(b.size());
}

TEST(Run, AScanBecomesTextPdfAndAlto) {
  TemporaryFolder folder;
  const std::string scan = log_page(folder, "log.png", 1.2);
  const Outcome o =
      shell("cd " + folder.path() + " && $B run log.png --out log.txt --out log.pdf --out log.xml");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_LT(error_rate(content_of(folder.file("log.txt")), log_text()), 0.03)
      << content_of(folder.file("log.txt"));
  EXPECT_EQ(shell("xmllint --noout " + folder.file("log.xml")).code, 0);
  EXPECT_TRUE(contains(content_of(folder.file("log.xml")), "CONTENT=\"Skerrow\""));
}

TEST(Run, ThePdfIsSoundAndItsTextLiesOnTheWords) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(shell("cd " + folder.path() + " && $B run log.png --out log.pdf --lang en").code, 0);
  const Outcome check = shell("qpdf --check " + folder.file("log.pdf"));
  EXPECT_EQ(check.code, 0) << check.out << check.err;
  const Outcome text = shell("pdftotext " + folder.file("log.pdf") + " -");
  EXPECT_LT(error_rate(text.out.substr(0, text.out.find('\f')), log_text()), 0.06) << text.out;
  // "Skerrow" stands on the first line: 50-pixel type on a page of 300 dpi.
  const Outcome boxes = shell("pdftotext -bbox " + folder.file("log.pdf") + " -");
  std::istringstream lines(boxes.out);
  bool found = false;
  for (std::string line; std::getline(lines, line);) {
    double x0, y0, x1, y1;
    if (!contains(line, ">Skerrow<")) continue;
    ASSERT_EQ(
        std::sscanf(line.c_str(), " <word xMin=\"%lf\" yMin=\"%lf\" xMax=\"%lf\" yMax=\"%lf\"", &x0,
                    &y0, &x1, &y1),
        4);
    found = true;
    const double pixel = 72.0 / 300;
    EXPECT_LT(y0, 140 * pixel);
    EXPECT_GT(y1, 158 * pixel);
    EXPECT_NEAR(x1 - x0, 165 * pixel, 12 * pixel);
  }
  EXPECT_TRUE(found) << boxes.out;
  EXPECT_TRUE(
      contains(shell("pdffonts " + folder.file("log.pdf")).out, "yes"));  // embedded, with Unicode
  // The invisible text changes nothing: drawn, the page looks like the scan.
  ASSERT_EQ(
      shell("pdftoppm -gray -r 600 -png " + folder.file("log.pdf") + " " + folder.file("drawn"))
          .code,
      0);
  EXPECT_GT(likeness(folder.file("drawn-1.png"), folder.file("log.png"), 2), 0.9);
}

TEST(Run, PositionsCountInTheScanWhenAsked) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 3);
  ASSERT_EQ(shell("cd " + folder.path() + " && $B run log.png --out log.xml --positions scan").code,
            0);
  const std::string alto = content_of(folder.file("log.xml"));
  EXPECT_TRUE(contains(alto, "WIDTH=\"1300\" HEIGHT=\"800\"")) << alto.substr(0, 800);
  // The words of the straightened page, led back to the scan by its PAGE XML.
  ASSERT_EQ(shell("cd " + folder.path() + " && $B run log.png --out log.txt --job job").code, 0);
  const Page page = read_page_xml_file(folder.file("job/log-0001.xml")).page;
  ASSERT_FALSE(page.geometry.to_scan.is_identity());
  const Page found = read_alto_file(folder.file("log.xml")).at(0);
  int words = 0;
  for (size_t b = 0; b < found.blocks.size(); ++b) {
    for (size_t l = 0; l < found.blocks[b].lines.size(); ++l) {
      for (size_t w = 0; w < found.blocks[b].lines[l].words.size(); ++w, ++words) {
        const Word& of_page = page.blocks.at(b).lines.at(l).words.at(w);
        const Word& of_scan = found.blocks[b].lines[l].words[w];
        EXPECT_EQ(of_scan.text, of_page.text);
        const Box expected = placed(of_page.box, page, Positions::kScan);
        EXPECT_NEAR(of_scan.box.x0, expected.x0, 1) << of_page.text;
        EXPECT_NEAR(of_scan.box.y0, expected.y0, 1) << of_page.text;
        EXPECT_NEAR(of_scan.box.x1, expected.x1, 1.5) << of_page.text;
      }
    }
  }
  EXPECT_GT(words, 25);
}

TEST(Run, ManyInputsManyPagesOneDocumentEach) {
  TemporaryFolder folder;
  log_page(folder, "one.png");
  write_tiff(folder.file("two.tif"), Picture(to_bitonal(Gray(900, 1200, 255), 128)), 200);
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run one.png two.tif --out-dir done --to pdf,text,alto --json");
  ASSERT_EQ(o.code, 0) << o.err;
  for (const char* name : {"one.pdf", "one.txt", "one.xml", "two.pdf", "two.txt", "two.xml"}) {
    EXPECT_TRUE(std::filesystem::exists(folder.file(std::string("done/") + name))) << name;
  }
  const auto summary = parse_json(o.out);
  EXPECT_EQ(summary["pages"].size(), 2u);
  EXPECT_TRUE(summary["pages"][1]["blank"]);
  EXPECT_EQ(summary["written"].size(), 6u);
  EXPECT_EQ(content_of(folder.file("done/two.txt")), "");
}

TEST(Run, TheResultDoesNotDependOnTheThreads) {
  TemporaryFolder folder;
  for (const char* name : {"a.png", "b.png", "c.png"}) log_page(folder, name, name[0] - 'a');
  for (const char* threads : {"1", "4"}) {
    const std::string out = std::string("with-") + threads + "/all.";
    ASSERT_EQ(shell("cd " + folder.path() + " && mkdir with-" + threads +
                    " && $B run a.png b.png c.png --threads " + threads + " --out " + out +
                    "pdf --out " + out + "xml --out " + out + "txt")
                  .code,
              0);
  }
  for (const char* ending : {"txt", "xml", "pdf"}) {
    const std::string name = std::string("/all.") + ending;
    EXPECT_FALSE(content_of(folder.file("with-1" + name)).empty());
    EXPECT_TRUE(content_of(folder.file("with-1" + name)) ==
                content_of(folder.file("with-4" + name)))
        << ending;
  }
}

TEST(Run, PagesOfAPdfAreReadAndCanBeChosen) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(
      shell("cd " + folder.path() + " && $B run log.png log.png log.png --out three.pdf --quiet")
          .code,
      0);
  const Outcome o =
      shell("cd " + folder.path() + " && $B run three.pdf --pages 2-3 --out again.txt --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto summary = parse_json(o.out);
  ASSERT_EQ(summary["pages"].size(), 2u);
  EXPECT_EQ(summary["pages"][0]["page"], 2);
  EXPECT_NEAR(summary["pages"][0]["dpi"].get<double>(), 300, 3);
  EXPECT_TRUE(contains(json_text(summary["pages"][0]["notes"]), "has real text already"));
}

TEST(Run, StepsCanBeKeptAndLookedAt) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 2);
  ASSERT_EQ(
      shell("cd " + folder.path() + " && $B run log.png --out log.txt --keep-steps steps").code, 0);
  for (const char* step : {"1-scan", "2-page", "3-bitonal", "4-maps", "5-overlay"}) {
    EXPECT_GT(
        std::filesystem::file_size(folder.file(std::string("steps/log-0001-") + step + ".png")),
        500u)
        << step;
  }
}

TEST(Run, ExistingFilesAreKeptUnlessOverwritingIsAsked) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("log.txt"), "precious");
  const Outcome refused = shell("cd " + folder.path() + " && $B run log.png --out log.txt");
  EXPECT_EQ(refused.code, 3);
  EXPECT_TRUE(contains(refused.err, "log.txt") && contains(refused.err, "--overwrite"))
      << refused.err;
  EXPECT_EQ(content_of(folder.file("log.txt")), "precious");
  EXPECT_EQ(shell("cd " + folder.path() + " && $B run log.png --out log.txt --overwrite").code, 0);
  EXPECT_NE(content_of(folder.file("log.txt")), "precious");
}

TEST(Run, QuietSaysNothingWhenAllIsWell) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const Outcome o = shell("cd " + folder.path() + " && $B run log.png --out log.txt --quiet");
  EXPECT_EQ(o.code, 0);
  EXPECT_EQ(o.out + o.err, "");
}

TEST(Stages, OneAfterTheOtherGiveWhatRunGives) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 1.5);
  const Outcome o = shell("cd " + folder.path() +
                          " && $B clean log.png --out-dir pages --form both && $B segment "
                          "pages/log.png --out-dir layout --overlay drawn"
                          " && $B recognize pages/log.png --layout layout --out-dir read"
                          " && $B export read/log.xml --images pages --out log.pdf --out log.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  ASSERT_EQ(shell("cd " + folder.path() + " && $B run log.png --out whole.txt").code, 0);
  EXPECT_EQ(content_of(folder.file("log.txt")), content_of(folder.file("whole.txt")));
  EXPECT_LT(error_rate(content_of(folder.file("log.txt")), log_text()), 0.01);
  EXPECT_EQ(shell("qpdf --check " + folder.file("log.pdf")).code, 0);
  EXPECT_EQ(
      shell("xmllint --noout " + folder.file("layout/log.xml") + " " + folder.file("read/log.xml"))
          .code,
      0);
  EXPECT_TRUE(std::filesystem::exists(folder.file("pages/log.tif")));
  EXPECT_TRUE(std::filesystem::exists(folder.file("drawn/log.png")));
  EXPECT_TRUE(contains(content_of(folder.file("pages/clean.tsv")), "\t1.5"));
}

TEST(Stages, ALayoutChangedByHandIsWhatIsRead) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(shell("cd " + folder.path() + " && $B segment log.png --out-dir layout").code, 0);
  // Somebody deletes all lines but the first.
  std::string xml = content_of(folder.file("layout/log.xml"));
  const size_t first_end = xml.find("</TextLine>") + 11, last_end = xml.rfind("</TextLine>") + 11;
  xml.erase(first_end, last_end - first_end);
  put(folder.file("layout/log.xml"), xml);
  ASSERT_EQ(shell("cd " + folder.path() +
                  " && $B recognise log.png --layout layout --out-dir read && $B export "
                  "read/log.xml --images . --out log.txt")
                .code,
            0);
  const std::string text = content_of(folder.file("log.txt"));
  EXPECT_TRUE(contains(text, "Skerrow"));
  EXPECT_FALSE(contains(text, "gallons"));
}

TEST(Score, TellsErrorsByPageAndByCharacter) {
  TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("done"));
  std::filesystem::create_directories(folder.file("truth"));
  write_file(folder.file("done/a.txt"), "Larnp oil 4l2 gallons\n");
  write_file(folder.file("truth/a.txt"), "Lamp oil 412\ngallons\n");
  write_file(folder.file("truth/b.txt"), "Wicks\n");
  const Outcome o = shell("cd " + folder.path() + " && $B score done truth --tsv t.tsv");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.out, "1 read as l")) << o.out;
  EXPECT_TRUE(contains(o.err, "b.txt: has no result in done")) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("t.tsv")), "a\t20\t3\t15.00"));
  const auto json = parse_json(shell("cd " + folder.path() + " && $B score done truth --json").out);
  EXPECT_EQ(json["pages"].size(), 2u);
  EXPECT_EQ(json["all"]["errors"], 8);
  EXPECT_EQ(shell("cd " + folder.path() + " && $B score nowhere truth").code, 2);
}

TEST(Languages, AreReportedAndAWrongSettingIsPointedOut) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const auto run = [&](const std::string& options) {
    return shell("cd " + folder.path() + " && $B run log.png --out log.xml --overwrite --json " +
                 options);
  };
  const auto page = parse_json(run("").out)["pages"][0];
  EXPECT_EQ(page["languages"], parse_json("[\"en\"]"));
  EXPECT_TRUE(contains(content_of(folder.file("log.xml")), "LANG=\"en\""));
  EXPECT_TRUE(contains(run("--lang de").err, "reads like 'en', which is none of the languages"));
  EXPECT_FALSE(contains(run("--lang de,en").err, "reads like"));
  const Outcome none = run("--lang none");
  EXPECT_FALSE(contains(none.err, "reads like"));
  EXPECT_TRUE(parse_json(none.out)["pages"][0]["languages"].empty());
}

TEST(Help, EveryCommandHasOneWithAnExample) {
  for (const char* command : {"run", "survey", "clean", "segment", "stencil save", "recognise",
                              "correct", "proof", "amend", "lexicon", "export", "score", "train"}) {
    const Outcome o = shell(std::string("$B ") + command + " --help");
    EXPECT_EQ(o.code, 0);
    EXPECT_TRUE(contains(o.out, "Example")) << command;
  }
  EXPECT_TRUE(contains(shell("$B --version").out, "burnisher "));
}

TEST(Help, ExamplesAreCommandsThatAreUnderstood) {
  // Every option that an example names is an option of that command.
  const std::string all = shell("$B --help").out;
  for (const char* command : {"run", "survey", "clean", "segment", "recognise", "correct", "proof",
                              "amend", "export", "score", "train"}) {
    EXPECT_TRUE(contains(all, command)) << command;
    const std::string help = shell(std::string("$B ") + command + " --help").out;
    const size_t examples = help.find("\nExample");
    ASSERT_NE(examples, std::string::npos) << command;
    std::istringstream lines(help.substr(examples));
    for (std::string line; std::getline(lines, line);) {
      if (!contains(line, std::string("burnisher ") + command + " ")) continue;
      std::istringstream words(line);
      for (std::string word; words >> word;) {
        if (word.rfind("--", 0) != 0) continue;
        const std::string options = help.substr(0, examples);
        EXPECT_TRUE(contains(options, "  " + word + " ") || contains(options, "  " + word + "\n"))
            << command << ": " << word;
      }
    }
  }
}

// ---- bad input: a clear message, the right exit code, the others go on ----

struct BadFile {
  const char* name;
  const char* content;
  const char* said;
};

class BadInput : public ::testing::TestWithParam<BadFile> {};

TEST_P(BadInput, IsNamedAndTheOthersGoOn) {
  TemporaryFolder folder;
  log_page(folder, "good.png");
  const BadFile& bad = GetParam();
  if (bad.content != nullptr) put(folder.file(bad.name), bad.content);
  const Outcome alone =
      shell("cd " + folder.path() + " && $B run " + bad.name + " --out alone.txt");
  EXPECT_EQ(alone.code, 3) << alone.err;
  EXPECT_TRUE(contains(alone.err, bad.name) && contains(alone.err, bad.said)) << alone.err;
  EXPECT_FALSE(std::filesystem::exists(folder.file("alone.txt")));
  const Outcome both =
      shell("cd " + folder.path() + " && $B run " + bad.name + " good.png --out both.txt");
  EXPECT_EQ(both.code, 1) << both.err;
  EXPECT_TRUE(contains(content_of(folder.file("both.txt")), "Skerrow"));
}

INSTANTIATE_TEST_SUITE_P(Files, BadInput,
                         ::testing::Values(BadFile{"missing.png", nullptr, "no such file"},
                                           BadFile{"empty.png", "", "empty"},
                                           BadFile{"notes.tif", "plain text, whatever its name",
                                                   "no picture"},
                                           BadFile{"zero.pgm", "P5 0 0 255\n", "no pixels"},
                                           BadFile{"half.pgm", "P5 100 100 255\nabc", "end early"},
                                           BadFile{"broken.pdf", "%PDF-1.4\nnothing", "PDF"}));

TEST(BadInputs, AJpegCutInHalfIsReadAsFarAsItGoesAndSaid) {
  TemporaryFolder folder;
  testing::PrintedPage page(1300, 1600);
  page.print_column(log_lines(), 160, 160, 50, 90);
  page.print_column(log_lines(), 160, 900, 50, 90);
  auto bytes = write_jpeg(page.picture(), 85);
  bytes.resize(bytes.size() * 6 / 10);
  put(folder.file("cut.jpg"), std::string(bytes.begin(), bytes.end()));
  const Outcome o = shell("cd " + folder.path() + " && $B run cut.jpg --out cut.txt");
  EXPECT_TRUE(contains(o.err, "the JPEG data end early")) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("cut.txt")), "Skerrow"));
  EXPECT_EQ(shell("cd " + folder.path() + " && $B run cut.jpg --out strict.txt --strict").code, 3);
}

TEST(BadInputs, AHeaderOfAbsurdSizeIsRefusedBeforeItIsDecoded) {
  TemporaryFolder folder;
  // Signature and header of a PNG of 60000 x 60000 gray pixels, with the right check sum.
  const unsigned char head[] = {0x89, 'P',  'N', 'G', 0x0d, 0x0a, 0x1a, 0x0a, 0,    0,    0,
                                13,   'I',  'H', 'D', 'R',  0,    0,    0xea, 0x60, 0,    0,
                                0xea, 0x60, 8,   0,   0,    0,    0,    0xa5, 0xb9, 0x2a, 0x9e};
  put(folder.file("huge.png"), std::string(reinterpret_cast<const char*>(head), sizeof head));
  const Outcome o = shell("cd " + folder.path() + " && $B run huge.png --out huge.txt");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "huge.png") && contains(o.err, "60000 x 60000") &&
              contains(o.err, "--max-pixels"))
      << o.err;
}

TEST(BadInputs, AFolderWithoutPictures) {
  TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("bare"));
  const Outcome o = shell("cd " + folder.path() + " && $B run bare --out x.txt");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "bare") && contains(o.err, "no pictures")) << o.err;
}

TEST(BadInputs, APdfThatNeedsAPassword) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(shell("cd " + folder.path() +
                  " && $B run log.png --out log.pdf --quiet && qpdf --encrypt key key 256 -- "
                  "log.pdf locked.pdf")
                .code,
            0);
  const Outcome o = shell("cd " + folder.path() + " && $B run locked.pdf --out x.txt");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "locked.pdf") && contains(o.err, "password")) << o.err;
}

TEST(BadInputs, WrongUsageIsExitCodeTwo) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  for (const char* arguments :
       {"run", "run log.png", "run log.png --out x.docx", "run log.png --out-dir d --to word",
        "run log.png --out-dir d", "run log.png --out x.txt --pages 5-3",
        "run log.png --out x.txt --lang english!", "run log.png --out x.txt --dpi 3",
        "polish log.png"}) {
    const Outcome o = shell("cd " + folder.path() + " && $B " + arguments);
    EXPECT_EQ(o.code, 2) << arguments << "\n" << o.err;
    EXPECT_FALSE(o.err.empty()) << arguments;
  }
}

TEST(BadInputs, TwoInputsForOneNameAreRefused) {
  TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("a"));
  log_page(folder, "log.png");
  log_page(folder, "a/log.png");
  const Outcome o =
      shell("cd " + folder.path() + " && $B run log.png a/log.png --out-dir d --to text");
  EXPECT_EQ(o.code, 2);
  EXPECT_TRUE(contains(o.err, "both be written as log")) << o.err;
}

TEST(BadInputs, ADamagedModelIsNamed) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  put(folder.file("m.safetensors"), "not a model");
  const Outcome o =
      shell("cd " + folder.path() + " && $B run log.png --out x.txt --model m.safetensors");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "m.safetensors")) << o.err;
}

TEST(Run, PagesThatDoNotStandUprightAreTurned) {
  TemporaryFolder folder;
  log_page(folder, "upside.png", 180);
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run upside.png --out x.txt --out x.xml --positions scan --json");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_LT(error_rate(content_of(folder.file("x.txt")), log_text()), 0.03);
  EXPECT_EQ(parse_json(o.out)["pages"][0]["turn"], 180);
  EXPECT_TRUE(contains(o.err, "turned by 180 degrees")) << o.err;
  // In the scan as it came in, the first word stands at the lower right.
  const std::string alto = content_of(folder.file("x.xml"));
  const size_t word = alto.find("<String");
  EXPECT_GT(std::atoi(alto.c_str() + alto.find("HPOS=\"", word) + 6), 800);
  EXPECT_GT(std::atoi(alto.c_str() + alto.find("VPOS=\"", word) + 6), 500);
}

TEST(Run, APageTurnedWrongOnPurposeIsListedForAPerson) {
  TemporaryFolder folder;
  log_page(folder, "upside.png", 180);
  const Outcome o = shell("cd " + folder.path() + " && $B run upside.png --out x.txt --turn 0");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "look at upside.png") && contains(o.err, "upside down")) << o.err;
}

TEST(BadInputs, APlaceThatCannotBeWrittenIsNamed) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const Outcome o = shell("cd " + folder.path() + " && $B run log.png --out nowhere/x.txt");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "nowhere/x.txt")) << o.err;
}

}  // namespace
}  // namespace burnisher::tests
