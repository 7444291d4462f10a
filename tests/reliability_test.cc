// What must not be lost: one bad page never stops the others, jobs survive being moved, decisions
// another reading; wrong words on the command line meet the right one.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include "base/json.h"

#include "base/files.h"
#include "correct/decisions.h"
#include "pagefile/page_xml.h"
#include "program.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "raster/warp.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using testing::TemporaryFolder;

std::string demo_scan(const std::string& name) {
  return std::string(BURNISHER_DEMO_SCANS) + "/" + name;
}

// ---- one bad page ----

class BadPage : public ::testing::Test {
 protected:
  BadPage() {
    for (const char* name : {"a.png", "b.png", "c.png"}) log_page(folder_, name);
    const Outcome o = in(folder_, "$B run a.png b.png c.png --out all.txt --job job --lang en");
    EXPECT_EQ(o.code, 0) << o.err;
    put(folder_.file("job/b-0001.xml"), "<PcGts><Page");
  }
  // Done, but for one page; it is named.
  void expect_named(const Outcome& o) {
    EXPECT_EQ(o.code, 1) << o.err;
    EXPECT_TRUE(contains(o.err, "b-0001.xml")) << o.err;
  }
  TemporaryFolder folder_;
};

TEST_F(BadPage, LeavesTheOthersToBeExported) {
  expect_named(in(folder_, "$B export job --out two.txt --out two.pdf"));
  const std::string text = content_of(folder_.file("two.txt"));
  EXPECT_EQ(std::count(text.begin(), text.end(), '\f'), 1);
  EXPECT_EQ(in(folder_, "qpdf --show-npages two.pdf").out, "2\n");
}

TEST_F(BadPage, LeavesTheOthersToBeCorrectedProvedAndAmended) {
  expect_named(in(folder_, "$B correct job --out-dir checked --lang en"));
  EXPECT_TRUE(fs::exists(folder_.file("checked/c-0001.xml")));
  expect_named(in(folder_, "$B proof job --out proof.html --lang en"));
  EXPECT_TRUE(contains(content_of(folder_.file("proof.html")), "Proof of job"));
  expect_named(in(folder_, "$B amend job --replace lamp lantern"));
  EXPECT_TRUE(contains(content_of(folder_.file("job/c-0001.xml")), "lantern"));
}

TEST_F(BadPage, OfTheJobThatCannotBeWrittenIsNamedAndTheDocumentIsThere) {
  fs::remove_all(folder_.file("job"));
  fs::create_directories(folder_.file("job/b-0001.xml"));  // a folder where a file is to be
  const Outcome o =
      in(folder_, "$B run a.png b.png c.png --out again.txt --job job --lang en --json");
  EXPECT_EQ(o.code, 1);
  const auto report = parse_json(o.out);
  ASSERT_EQ(report["problems"].size(), 1u) << o.out;
  EXPECT_TRUE(contains(report["problems"][0], "b.png")) << o.out;
  const std::string text = content_of(folder_.file("again.txt"));
  EXPECT_EQ(std::count(text.begin(), text.end(), '\f'), 2);
  EXPECT_TRUE(fs::is_regular_file(folder_.file("job/c-0001.xml")));
}

TEST_F(BadPage, FoldersThatHoldNothingDoNotStopTheOthers) {
  fs::create_directories(folder_.file("empty"));
  const Outcome o = in(folder_, "$B run empty a.png nowhere --out a.txt --lang en");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "empty: the folder holds no pictures")) << o.err;
  EXPECT_TRUE(contains(o.err, "nowhere: there is no such file")) << o.err;
  EXPECT_TRUE(contains(content_of(folder_.file("a.txt")), "Skerrow"));
  const Outcome exported = in(folder_, "$B export empty job/a-0001.xml --out b.txt");
  EXPECT_EQ(exported.code, 1);
  EXPECT_TRUE(contains(content_of(folder_.file("b.txt")), "Skerrow"));
}

TEST_F(BadPage, TargetsThatAreThereAreToldBeforeTheWork) {
  fs::create_directories(folder_.file("done"));
  put(folder_.file("done/b.txt"), "mine");
  const Outcome o = in(folder_, "$B run a.png b.png c.png --out-dir done --to text --json");
  EXPECT_EQ(o.code, 1);
  const auto report = parse_json(o.out);
  EXPECT_EQ(report["pages"].size(), 2u) << "no page of b.png was worked on";
  EXPECT_TRUE(contains(report["problems"][0], "--overwrite")) << o.out;
  EXPECT_EQ(content_of(folder_.file("done/b.txt")), "mine");
  EXPECT_TRUE(fs::exists(folder_.file("done/c.txt")));
}

// ---- jobs ----

TEST(Jobs, StoreWhatTheyAreJudgedBy) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  ASSERT_EQ(in(folder, "$B run log.png --out log.txt --job job --lang en").code, 0);
  const Outcome o =
      in(folder, "$B export job --out log.pdf --report report.html --lang en && cat report.html");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_FALSE(contains(o.out, "hardly readable"));
  EXPECT_TRUE(contains(o.out, "<b>0</b>pages to look at"));
}

TEST(Jobs, FindTheirScansWhenBothAreMoved) {
  TemporaryFolder folder;
  fs::create_directories(folder.file("here/scans"));
  log_page(folder, "here/scans/log.png", 1);
  ASSERT_EQ(shell("cd " + folder.path() + " && $B run " + folder.file("here/scans/log.png") +
                  " --out log.txt --job here/job --lang en")
                .code,
            0);
  fs::rename(folder.file("here"), folder.file("there"));
  const Outcome o = in(folder, "$B export there/job --out log.pdf --face facsimile");
  EXPECT_EQ(o.code, 0) << o.err;
  fs::remove_all(folder.file("there/scans"));
  const Outcome lost = in(folder, "$B export there/job --out lost.pdf --face facsimile");
  EXPECT_EQ(lost.code, 3);
  EXPECT_TRUE(contains(lost.err, "--images")) << lost.err;
}

// Words of pages that were turned, levelled and flattened keep their places in the scan.
TEST(Jobs, DecisionsAboutTurnedSkewedAndCurledPagesSurviveAnotherReading) {
  for (const char* name :
       {"02-letter.jpg", "07-upside-down.jpg", "11-ledger.jpg", "10-spread.jpg"}) {
    TemporaryFolder folder;
    const std::string read =
        "$B run " + demo_scan(name) + " --out page.txt --overwrite --job job --lang en --quiet";
    ASSERT_EQ(in(folder, read).code, 0) << name;
    std::vector<correct::Decision> decisions;
    for (const auto& entry : fs::directory_iterator(folder.file("job"))) {
      if (entry.path().extension() != ".xml") continue;
      const Page page = read_page_xml_file(entry.path()).page;
      for (const Block& block : page.blocks) {
        for (const Line& line : block.lines) {
          if (line.words.size() < 3 || decisions.size() >= 12) continue;
          const Word& word = line.words[1];
          correct::Decision d;
          d.file = name;
          d.page = page.number;
          d.box = placed(word.box, page, Positions::kScan);
          d.read = word.text;
          d.verdict = correct::Verdict::kChange;
          d.text = "changed" + std::to_string(decisions.size());
          decisions.push_back(d);
        }
      }
    }
    ASSERT_GE(decisions.size(), 5u) << name;
    put(folder.file("decisions.tsv"), correct::decisions_table(decisions));
    const Outcome applied = in(folder, "$B amend job decisions.tsv");
    EXPECT_EQ(applied.code, 0) << name << applied.err;
    ASSERT_EQ(in(folder, read).code, 0);
    const std::string text = content_of(folder.file("page.txt"));
    for (const correct::Decision& d : decisions)
      EXPECT_TRUE(contains(text, d.text)) << name << ": " << d.read << " at " << d.box.x0;
  }
}

TEST(Jobs, AmendingLeavesTheWayBackToTheScanAsItWas) {
  TemporaryFolder folder;
  const std::string scan = demo_scan("02-letter.jpg");
  ASSERT_EQ(in(folder, "$B run " + scan + " --out a.txt --job job --lang en").code, 0);
  const std::string xml = folder.file("job/02-letter-0001.xml");
  const Affine before = read_page_xml_file(xml).page.geometry.to_scan.plane().affine;
  ASSERT_NE(before.d, 0);
  ASSERT_EQ(in(folder, "$B amend job --replace the teh && $B correct job --overwrite").code, 0);
  const Affine after = read_page_xml_file(xml).page.geometry.to_scan.plane().affine;
  for (const auto part : {&Affine::a, &Affine::b, &Affine::c, &Affine::d, &Affine::e, &Affine::f})
    EXPECT_EQ(before.*part, after.*part);
}

// ---- names ----

TEST(Names, NeedNotBeSoundText) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  const std::string odd = folder.file("b\xffx \x01 100% {down:1;}.png");
  fs::rename(folder.file("log.png"), odd);
  const Outcome o = in(folder,
                       "$B run b*.png --out a.pdf --out a.xml --out a.html --out a.epub "
                       "--out a.odt --out a.mets --out a.txt --job job --report r.html "
                       "--lang en");
  ASSERT_EQ(o.code, 0) << o.err;
  for (const char* file : {"a.xml", "a.html", "a.mets", "job/*.xml"})
    EXPECT_EQ(in(folder, std::string("xmllint --noout ") + file).code, 0) << file;
  EXPECT_EQ(in(folder, "$B export job --out again.pdf --face facsimile").code, 0);
}

TEST(Names, OfCommandsAndOptionsThatAreMisspeltMeetTheRightOne) {
  const Outcome command = shell("$B rnu a.png --out a.pdf");
  EXPECT_EQ(command.code, 2);
  EXPECT_TRUE(contains(command.err, "did you mean run?")) << command.err;
  const Outcome option = shell("$B run a.png --ou a.pdf");
  EXPECT_EQ(option.code, 2);
  EXPECT_TRUE(contains(option.err, "did you mean --out?")) << option.err;
  const Outcome far = shell("$B run a.png --zzzzzz a.pdf");
  EXPECT_TRUE(contains(far.err, "`burnisher --help`")) << far.err;
}

// ---- models ----

TEST(Models, AreLookedForInKnownPlacesAndThoseAreTold) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  fs::copy(BURNISHER_PROGRAM, folder.file("alone"));
  const Outcome lost = in(folder, "./alone run log.png --out a.txt");
  EXPECT_EQ(lost.code, 2);
  EXPECT_TRUE(contains(lost.err, "no bundle (NAME.bundle.json) was found")) << lost.err;
  EXPECT_TRUE(contains(lost.err, "BURNISHER_MODELS")) << lost.err;
  EXPECT_TRUE(contains(lost.err, folder.path())) << lost.err;
  const std::string models = BURNISHER_MODELS_FOLDER;
  EXPECT_EQ(in(folder, "BURNISHER_MODELS=" + models + " ./alone run log.png --out b.txt").code, 0);
  EXPECT_EQ(in(folder, "./alone run log.png --out c.txt --models " + models).code, 0);
  EXPECT_TRUE(contains(content_of(folder.file("c.txt")), "Skerrow"));
  EXPECT_EQ(content_of(folder.file("b.txt")), content_of(folder.file("c.txt")));
}

// ---- one number for one thing ----

TEST(Numbers, OfTheScansSizeAreTheSameEverywhere) {
  TemporaryFolder folder;
  const Outcome o = in(folder, "$B run " + demo_scan("10-spread.jpg") + " " +
                                   demo_scan("09-blank.jpg") + " " + demo_scan("02-letter.jpg") +
                                   " --out a.pdf --drop-blank --report r.html --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const size_t bytes = parse_json(o.out)["source_bytes"];
  size_t files = 0;
  for (const char* name : {"10-spread.jpg", "09-blank.jpg", "02-letter.jpg"})
    files += fs::file_size(demo_scan(name));
  EXPECT_EQ(bytes, files);
  const std::string report = content_of(folder.file("r.html"));
  EXPECT_TRUE(contains(report, ">" + bytes_text(bytes) + "<")) << bytes_text(bytes);
  EXPECT_TRUE(contains(report, "of the scans&#39; " + bytes_text(bytes)) ||
              contains(report, "of the scans' " + bytes_text(bytes)))
      << bytes_text(bytes);
}

}  // namespace
}  // namespace burnisher::tests
