// A document in work: runs that go on, do again only what changed, and take a person's word.
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <unistd.h>
#include <chrono>
#include <csignal>
#include <filesystem>
#include <random>
#include <regex>
#include <thread>
#include "base/json.h"

#include "background_program.h"
#include "base/files.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using testing::PrintedPage;
using testing::TemporaryFolder;

// Small pages, each with its own number, that are read quickly.
void small_scans(const TemporaryFolder& folder, int count) {
  fs::create_directories(folder.file("scans"));
  for (int i = 1; i <= count; ++i) {
    PrintedPage page(700, 260);
    page.print({"Leaf " + std::to_string(i) + " of the log", 60, 100, 38})
        .print({"The lamp was lit at dusk.", 60, 160, 34});
    char name[32];
    std::snprintf(name, sizeof name, "scans/leaf%03d.png", i);
    write_file(folder.file(name), write_png(page.picture(), 200));
  }
}

class Job : public ::testing::Test {
 protected:
  Outcome run(const std::string& more = "") { return in(folder_, "$B run --job job " + more); }
  void begin(int count, const std::string& more = "--out all.txt --out all.pdf") {
    small_scans(folder_, count);
    const Outcome o = in(folder_, "$B run scans --job job " + more);
    ASSERT_EQ(o.code, 0) << o.err;
  }
  std::string plan(const std::string& more = "") { return run("--explain " + more).out; }
  std::string text() { return content_of(folder_.file("all.txt")); }
  void replace_in(const std::string& file, const std::string& before, const std::string& after) {
    std::string content = content_of(folder_.file(file));
    const size_t at = content.find(before);
    ASSERT_NE(at, std::string::npos) << before << " in " << file;
    put(folder_.file(file), content.replace(at, before.size(), after));
  }
  TemporaryFolder folder_;
};

TEST_F(Job, IsUpToDateTheSecondTimeAndNeedsNothingSaidAgain) {
  begin(3);
  const std::string pdf = content_of(folder_.file("all.pdf"));
  const Outcome again = run();
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_TRUE(contains(again.err, "3 scans: 3 up to date")) << again.err;
  EXPECT_TRUE(contains(again.err, "up to date: all.pdf")) << again.err;
  EXPECT_EQ(content_of(folder_.file("all.pdf")), pdf);
}

TEST_F(Job, AnotherDeliveryReadsNothingAgain) {
  begin(2);
  const Outcome o = run("--title \"Keeper's log\" --json");
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "2 up to date")) << o.err;
  EXPECT_TRUE(contains(in(folder_, "pdfinfo all.pdf").out, "Keeper's log"));
  // What was said once is kept.
  EXPECT_TRUE(contains(run().err, "up to date: all.pdf"));
}

TEST_F(Job, OtherCleaningReadsAgainAndSaysWhy) {
  begin(2);
  EXPECT_TRUE(contains(plan("--specks 1px"), "2 to read (2 set otherwise)"));
  EXPECT_TRUE(contains(plan("--title x"), "2 up to date"));
}

TEST_F(Job, ScansJoinAndGoAndAreReplaced) {
  begin(3);
  fs::remove(folder_.file("scans/leaf002.png"));
  fs::copy(folder_.file("scans/leaf001.png"), folder_.file("scans/leaf004.png"));
  fs::copy(folder_.file("scans/leaf001.png"), folder_.file("scans/leaf003.png"),
           fs::copy_options::overwrite_existing);
  EXPECT_TRUE(contains(plan(), "1 up to date, 2 to read (1 new, 1 replaced)")) << plan();
  ASSERT_EQ(run().code, 0);
  EXPECT_FALSE(fs::exists(folder_.file("job/leaf002-0001.xml")));
  EXPECT_FALSE(contains(text(), "Leaf 2"));
  EXPECT_FALSE(contains(text(), "Leaf 3"));
}

TEST_F(Job, ARangeAndAScanThatIsAwayCostNothing) {
  begin(3);
  // A file of several pages, and one that is away for a while.
  ASSERT_EQ(in(folder_, "$B run all.pdf --job book --out book.txt").code, 0);
  ASSERT_EQ(in(folder_, "$B run --job book --pages 2 --out two.txt").code, 0);
  EXPECT_TRUE(contains(in(folder_, "$B run --job book --pages 1-3 --explain").out, "3 up to date"));
  fs::rename(folder_.file("scans/leaf002.png"), folder_.file("away.png"));
  EXPECT_EQ(
      in(folder_, "$B run scans/leaf001.png scans/leaf002.png scans/leaf003.png --job job").code,
      1);
  fs::rename(folder_.file("away.png"), folder_.file("scans/leaf002.png"));
  EXPECT_TRUE(contains(in(folder_, "$B run scans --job job --explain").out, "3 up to date"));
}

TEST_F(Job, MovesWithItsScans) {
  begin(2);
  fs::create_directories(folder_.file("elsewhere"));
  for (const char* name : {"scans", "job", "all.txt", "all.pdf"})
    fs::rename(folder_.file(name), folder_.file(std::string("elsewhere/") + name));
  const Outcome o = in(folder_, "cd elsewhere && $B run --job job");
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "up to date: all.pdf")) << o.err;
}

TEST_F(Job, APersonsWordStays) {
  begin(2);
  replace_in("job/leaf001-0001.xml", "<Unicode>lamp</Unicode>", "<Unicode>lantern</Unicode>");
  EXPECT_TRUE(contains(plan(), "1 as a person left them")) << plan();
  ASSERT_EQ(run().code, 0);
  EXPECT_TRUE(contains(text(), "The lantern was lit")) << text();
  EXPECT_TRUE(contains(run().err, "up to date: all.txt"));
  // Whatever is set otherwise later.
  ASSERT_EQ(run("--specks 1px").code, 0);
  EXPECT_TRUE(contains(text(), "The lantern was lit")) << text();
  // Until everything is asked for anew; then it is kept aside.
  ASSERT_EQ(run("--afresh").code, 0);
  EXPECT_FALSE(contains(text(), "lantern"));
  EXPECT_TRUE(contains(content_of(folder_.file("job/removed/leaf001-0001.xml")), "lantern"));
}

TEST_F(Job, ABlockThatAPersonDrewIsReadAndNothingElse) {
  begin(1);
  const std::string before = text();
  std::string xml = content_of(folder_.file("job/leaf001-0001.xml"));
  // All regions go; one is drawn round the lower line, with nothing in it.
  xml = std::regex_replace(xml, std::regex("<TextRegion[\\s\\S]*</TextRegion>"),
                           "<TextRegion id=\"mine\"><Coords points=\"40,120 640,120 640,180 "
                           "40,180\"/></TextRegion>");
  xml = std::regex_replace(xml, std::regex("<ReadingOrder>[\\s\\S]*</ReadingOrder>"), "");
  put(folder_.file("job/leaf001-0001.xml"), xml);
  const Outcome o = run();
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(text(), "The lamp was lit at dusk.")) << text();
  EXPECT_FALSE(contains(text(), "Leaf 1")) << text();
}

TEST_F(Job, FilesOfOthersAreNotReplaced) {
  begin(1, "--out all.txt");
  put(folder_.file("all.txt"), "my own notes");
  EXPECT_EQ(run().code, 3);
  EXPECT_EQ(text(), "my own notes");
  EXPECT_EQ(run("--overwrite").code, 0);
  EXPECT_TRUE(contains(text(), "Leaf 1"));
}

TEST_F(Job, FailuresAreKeptAndTriedAgain) {
  small_scans(folder_, 2);
  put(folder_.file("scans/leaf003.png"),
      content_of(folder_.file("scans/leaf001.png")).substr(0, 60));
  EXPECT_EQ(in(folder_, "$B run scans --job job --out all.txt").code, 1);
  const Outcome status = in(folder_, "$B status job --json");
  EXPECT_EQ(status.code, 1);
  const auto json = parse_json(status.out);
  EXPECT_EQ(json["read"], 2);
  ASSERT_EQ(json["failed"].size(), 1u);
  EXPECT_EQ(json["failed"][0]["scan"], "leaf003-0001");
  EXPECT_TRUE(contains(plan(), "1 failed before"));
  fs::copy(folder_.file("scans/leaf001.png"), folder_.file("scans/leaf003.png"),
           fs::copy_options::overwrite_existing);
  const Outcome again = run();
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(in(folder_, "$B status job").code, 0);
}

TEST_F(Job, ManyDocumentsAreDoneOneByOne) {
  begin(3, "--out-dir done --to text,pdf");
  fs::copy(folder_.file("scans/leaf001.png"), folder_.file("scans/leaf002.png"),
           fs::copy_options::overwrite_existing);
  const auto first = fs::last_write_time(folder_.file("done/leaf001.txt"));
  const Outcome o = run();
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(content_of(folder_.file("done/leaf002.txt")), "Leaf 1"));
  EXPECT_EQ(fs::last_write_time(folder_.file("done/leaf001.txt")), first);
}

TEST_F(Job, FieldsReachTheDocuments) {
  begin(1,
        "--out all.pdf --out all.mets --out all.epub --field publisher=\"Skerrow Light Board\" "
        "--field shelfmark=\"B 12\"");
  const std::string xmp = in(folder_, "pdfinfo -meta all.pdf").out;
  EXPECT_TRUE(contains(xmp, "Skerrow Light Board")) << xmp;
  EXPECT_TRUE(contains(xmp, "shelfmark: B 12")) << xmp;
  EXPECT_TRUE(contains(content_of(folder_.file("all.mets")), "dc:publisher"));
  EXPECT_TRUE(contains(in(folder_, "unzip -p all.epub '*.opf'").out, "dc:publisher"));
}

TEST_F(Job, ATableGivesEachFileItsFields) {
  small_scans(folder_, 2);
  put(folder_.file("about.tsv"), "file\ttitle\tpublisher\nscans/leaf001.png\tFirst leaf\tBoard\n");
  ASSERT_EQ(in(folder_, "$B run scans --out-dir done --to pdf --fields about.tsv").code, 0);
  EXPECT_TRUE(contains(in(folder_, "pdfinfo done/leaf001.pdf").out, "First leaf"));
  EXPECT_FALSE(contains(in(folder_, "pdfinfo done/leaf002.pdf").out, "First leaf"));
  put(folder_.file("about.tsv"), "name\ttitle\nx\ty\n");
  EXPECT_EQ(in(folder_, "$B run scans --out x.pdf --fields about.tsv").code, 3);
}

TEST_F(Job, ARecipeBesideTheScansIsFoundAndSaid) {
  small_scans(folder_, 1);
  put(folder_.file("scans/burnisher.toml"), "title = \"From the folder\"\n");
  const Outcome o = in(folder_, "$B run scans --out all.pdf");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "settings from scans/burnisher.toml")) << o.err;
  EXPECT_TRUE(contains(in(folder_, "pdfinfo all.pdf").out, "From the folder"));
  fs::create_directories(folder_.file("config/burnisher"));
  put(folder_.file("config/burnisher/recipe.toml"), "author = \"Of the user\"\n");
  ASSERT_EQ(in(folder_, "XDG_CONFIG_HOME=config $B run scans --out all.pdf --overwrite").code, 0);
  EXPECT_TRUE(contains(in(folder_, "pdfinfo all.pdf").out, "Of the user"));
}

TEST_F(Job, ASecondRunSaysSoAndEnds) {
  small_scans(folder_, 12);
  // The first run is stopped for a while: it has the job, and lives.
  const Outcome o = in(folder_,
                       "{ $B run scans --job job --out all.txt > first.log 2>&1 & pid=$!; "
                       "while [ ! -f job/job.json ]; do sleep 0.005; done; "
                       "kill -STOP $pid; $B run --job job; code=$?; kill -CONT $pid; wait $pid; "
                       "exit $code; }");
  EXPECT_EQ(o.code, 2) << o.err;
  EXPECT_TRUE(contains(o.err, "another run is at work")) << o.err;
  EXPECT_TRUE(contains(text(), "Leaf 12"));
}

TEST_F(Job, AnInterruptionEndsAfterThePagesInWork) {
  small_scans(folder_, 40);
  const Outcome o = in(folder_,
                       "{ $B run scans --job job --out all.txt 2> log & pid=$!; "
                       "while [ ! -f job/read/leaf002-0001.json ]; do sleep 0.005; done; "
                       "kill -INT $pid; wait $pid; }");
  EXPECT_EQ(o.code, 130) << content_of(folder_.file("log"));
  EXPECT_TRUE(contains(content_of(folder_.file("log")), "`burnisher run --job job` goes on"));
  EXPECT_FALSE(fs::exists(folder_.file("all.txt")));
  const auto status = parse_json(in(folder_, "$B status job --json").out);
  EXPECT_GT(status["read"], 0);
  EXPECT_LT(status["read"], 40);
  EXPECT_TRUE(status["workers"].empty());
  for (const auto& entry : fs::recursive_directory_iterator(folder_.file("job")))
    EXPECT_FALSE(contains(entry.path().filename(), ".part-")) << entry.path();
  ASSERT_EQ(run().code, 0);
  EXPECT_TRUE(contains(text(), "Leaf 40"));
}

// Runs until killed; true when it came to its end before.
bool killed_after(const TemporaryFolder& folder, const std::string& arguments, double seconds) {
  BackgroundProgram program(folder);
  program.start(arguments + " --quiet");
  std::this_thread::sleep_for(std::chrono::duration<double>(seconds));
  return program.stop(SIGKILL) != 128 + SIGKILL;
}

std::map<std::string, std::string> files_of(const std::string& folder) {
  std::map<std::string, std::string> files;
  for (const auto& entry : fs::recursive_directory_iterator(folder)) {
    if (!entry.is_regular_file()) continue;
    const std::string name = entry.path().lexically_relative(folder);
    // Times of writing and of reading differ; what they are times of must not. An index has its
    // pages in the order in which they were put in.
    if (entry.path().extension() != ".json" && !contains(name, "find.sqlite"))
      files[name] = content_of(entry.path());
  }
  return files;
}

TEST_F(Job, KilledAtFiftyRandomMomentsEndsWithTheSameBytes) {
  TemporaryFolder whole;
  small_scans(folder_, 40);
  small_scans(whole, 40);
  const std::string arguments = "run scans --job job --out all.txt --out all.pdf --out all.xml";
  ASSERT_EQ(in(whole, "$B " + arguments).code, 0);
  std::mt19937 random(7);
  std::uniform_real_distribution<double> seconds(0.03, 0.5);
  int kills = 0;
  for (; kills < 50; ++kills) {
    // Where the work is done before, some of it is taken away again.
    if (killed_after(folder_, arguments, seconds(random))) {
      for (int i = 1; i <= 40; i += 2) {
        char name[48];
        std::snprintf(name, sizeof name, "job/read/leaf%03d-0001.json", i);
        fs::remove(folder_.file(name));
        std::snprintf(name, sizeof name, "job/leaf%03d-0001.xml", i);
        fs::remove(folder_.file(name));
      }
      fs::remove(folder_.file("all.pdf"));
    }
  }
  ASSERT_EQ(in(folder_, "$B " + arguments).code, 0);
  for (const char* name : {"all.txt", "all.xml", "all.pdf"})
    EXPECT_EQ(content_of(folder_.file(name)), content_of(whole.file(name))) << name;
  const auto killed = files_of(folder_.file("job")), undisturbed = files_of(whole.file("job"));
  EXPECT_EQ(killed.size(), undisturbed.size());
  for (const auto& [name, content] : undisturbed) {
    ASSERT_EQ(killed.count(name), 1u) << name;
    EXPECT_TRUE(killed.at(name) == content) << name;
  }
  EXPECT_EQ(in(folder_, "$B find lamp --in job --count").out,
            in(whole, "$B find lamp --in job --count").out);
  // Nothing half written is left, neither in the job nor beside the documents.
  for (const auto& entry : fs::recursive_directory_iterator(folder_.path()))
    EXPECT_FALSE(contains(entry.path().filename(), ".part-")) << entry.path();
}

TEST_F(Job, WorkersShareAndDeliverTheSame) {
  TemporaryFolder whole;
  small_scans(folder_, 16);
  small_scans(whole, 16);
  ASSERT_EQ(in(whole, "$B run scans --job job --out all.txt --out all.pdf").code, 0);
  // The job is made by a run that is stopped at once; two workers do it, one of them is killed.
  const Outcome o = in(folder_,
                       "{ $B run scans --job job --out all.txt --out all.pdf & pid=$!; "
                       "while [ ! -f job/job.json ]; do sleep 0.01; done; kill -9 $pid; wait $pid; "
                       "$B work job --threads 1 2> one.log & one=$!; "
                       "$B work job --threads 1 2> two.log & two=$!; "
                       "sleep 0.4; kill -9 $one; wait $two; }");
  EXPECT_EQ(o.code, 0) << content_of(folder_.file("two.log"));
  const auto status = parse_json(in(folder_, "$B status job --json").out);
  EXPECT_EQ(status["read"], 16);
  EXPECT_FALSE(fs::exists(folder_.file("all.txt")));
  const Outcome delivered = run();
  EXPECT_EQ(delivered.code, 0) << delivered.err;
  EXPECT_TRUE(contains(delivered.err, "16 up to date")) << delivered.err;
  for (const char* name : {"all.txt", "all.pdf"})
    EXPECT_TRUE(content_of(folder_.file(name)) == content_of(whole.file(name))) << name;
}

TEST_F(Job, AFullDiskLosesNothing) {
  if (geteuid() != 0) GTEST_SKIP() << "only root mounts file systems";
  small_scans(folder_, 6);
  const std::string small = folder_.file("small");
  fs::create_directories(small);
  if (shell("mount -t tmpfs -o size=100k tmpfs " + small).code != 0)
    GTEST_SKIP() << "file systems cannot be mounted here";
  const Outcome full = in(folder_, "$B run scans --job small/job --out small/all.pdf");
  EXPECT_NE(full.code, 0);
  EXPECT_TRUE(contains(full.err, "No space left")) << full.err;
  if (fs::exists(small + "/all.pdf")) {
    EXPECT_EQ(in(folder_, "qpdf --show-npages small/all.pdf").out, "6\n");
  }
  EXPECT_EQ(shell("mount -o remount,size=20m " + small).code, 0);
  const Outcome more = in(folder_, "$B run --job small/job");
  EXPECT_EQ(more.code, 0) << more.err;
  EXPECT_EQ(in(folder_, "qpdf --show-npages small/all.pdf").out, "6\n");
  shell("umount " + small);
}

TEST_F(Job, AFolderThatTakesNothingIsNamed) {
  small_scans(folder_, 1);
  // A file stands where the folder is to be: root can write anywhere else.
  put(folder_.file("taken"), "x");
  const Outcome job = in(folder_, "$B run scans --job taken --out all.txt");
  EXPECT_EQ(job.code, 3);
  EXPECT_TRUE(contains(job.err, "taken")) << job.err;
  const Outcome out = in(folder_, "$B run scans --job job --out taken/all.txt");
  EXPECT_EQ(out.code, 3);
  EXPECT_TRUE(contains(out.err, "taken/all.txt")) << out.err;
}

TEST_F(Job, PdfPagesThatKeepTheirTextAreRememberedToo) {
  begin(2, "--out old.pdf");
  const std::string go = "$B run old.pdf --job kept --out all.txt";
  ASSERT_EQ(in(folder_, go).code, 0);
  EXPECT_TRUE(contains(text(), "Leaf 2"));
  EXPECT_TRUE(contains(in(folder_, "$B run --job kept").err, "up to date: all.txt"));
  EXPECT_EQ(in(folder_, "$B status kept").code, 0);
  replace_in("kept/old-0002.xml", "<Unicode>lamp</Unicode>", "<Unicode>lantern</Unicode>");
  ASSERT_EQ(in(folder_, "$B run --job kept").code, 0);
  EXPECT_TRUE(contains(text(), "The lantern was lit")) << text();
  EXPECT_TRUE(contains(in(folder_, "$B run --job kept").err, "up to date: all.txt"));
}

TEST_F(Job, WhatAnEarlierVersionReadIsReadAgainUnlessItIsToStay) {
  begin(2);
  // As if another version had read one of them; another one's reading says so itself.
  const std::string record = "job/read/leaf001-0001.json", version = "\"program\": \"";
  std::string content = content_of(folder_.file(record));
  const size_t at = content.find(version);
  ASSERT_NE(at, std::string::npos);
  const std::string now = content.substr(at + version.size(), 12);
  put(folder_.file(record), content.replace(at + version.size(), 12, "000000000000"));
  EXPECT_TRUE(contains(plan(), "1 up to date, 1 to read (1 read by an earlier version)")) << plan();
  EXPECT_TRUE(contains(plan("--as-read"), "2 up to date")) << plan("--as-read");
  ASSERT_EQ(run().code, 0);
  EXPECT_TRUE(contains(plan(), "2 up to date")) << plan();
  // Documents name the version that read their pages.
  EXPECT_TRUE(contains(in(folder_, "pdfinfo all.pdf").out, "Burnisher (reading " + now + ")"));
  ASSERT_EQ(in(folder_, "$B export job --out all.mets --out again.pdf").code, 0);
  EXPECT_TRUE(contains(content_of(folder_.file("all.mets")), "<note>reading " + now + "</note>"));
  EXPECT_TRUE(contains(in(folder_, "pdfinfo again.pdf").out, "reading " + now));
}

TEST_F(Job, WhatIsNoJobIsSaid) {
  EXPECT_EQ(in(folder_, "$B status nowhere").code, 3);
  EXPECT_EQ(in(folder_, "$B work nowhere").code, 3);
  EXPECT_EQ(in(folder_, "$B run --job nowhere --out x.txt").code, 2);
  begin(1);
  put(folder_.file("job/job.json"), "{\"format\": \"burnis");
  const Outcome o = run();
  EXPECT_EQ(o.code, 2);
  EXPECT_TRUE(contains(o.err, "job.json")) << o.err;
}

}  // namespace
}  // namespace burnisher::tests
