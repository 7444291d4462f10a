#include <gtest/gtest.h>
#include <unistd.h>

#include <fstream>
#include <thread>

#include "base/error.h"
#include "base/files.h"
#include "job/digest.h"
#include "job/job_file.h"
#include "job/record.h"
#include "job/worker.h"
#include "testing/printed_page.h"

namespace burnisher::job {
namespace {

using burnisher::testing::TemporaryFolder;

TEST(Digest, IsThatOfTheBytes) {
  TemporaryFolder folder;
  write_file(folder.file("a"), "the lamp was lit");
  EXPECT_EQ(digest_of_file(folder.file("a")), digest_of("the lamp was lit"));
  EXPECT_NE(digest_of("the lamp was lit"), digest_of("the lamp was lit."));
  EXPECT_EQ(digest_of("").size(), 32u);
  EXPECT_THROW(digest_of_file(folder.file("none")), InputError);
}

TEST(Digest, AStampTellsAbsenceAndChange) {
  TemporaryFolder folder;
  EXPECT_FALSE(stamp_of(folder.file("a")).there());
  write_file(folder.file("a"), "one");
  const FileStamp first = stamp_of(folder.file("a"));
  EXPECT_TRUE(first.there());
  EXPECT_EQ(first, stamp_of(folder.file("a")));
  write_file(folder.file("a"), "three");
  EXPECT_FALSE(first == stamp_of(folder.file("a")));
}

TEST(Record, ComesBackAsItWas) {
  ScanRecord record;
  record.sources = {"s", "t", "m", "1"};
  record.turn = 90;
  record.turn_confidence = 0.25;
  record.misfits = {"the stencil does not fit"};
  PageRecord page;
  page.part = 2;
  page.reading = "abc";
  page.stamp = {12, 1234567890123456789};
  page.written = {"new", "old"};
  page.person = true;
  page.skew = -0.37;
  page.notes = {"right page of a \"spread\""};
  page.held = {"nothing was read on it"};
  record.pages = {page};
  const ScanRecord back = read_record(written_record(record));
  EXPECT_EQ(written_record(back), written_record(record));
  EXPECT_EQ(back.pages[0].stamp.modified, 1234567890123456789);
  EXPECT_EQ(back.pages[0].written, page.written);
}

TEST(Record, CutShortIsNone) {
  const std::string text = written_record({});
  for (const size_t length : {size_t{0}, text.size() / 2, text.size() - 3})
    EXPECT_THROW(read_record(text.substr(0, length)), FormatError) << length;
  EXPECT_THROW(read_record("{\"format\": \"another\"}"), FormatError);
}

TEST(JobFile, ComesBackAsItWas) {
  JobFile job;
  job.inputs = {"../scans", "../box 3.tif"};
  job.settings = {{"lang", {"en,de"}}, {"out", {"a.pdf", "b.txt"}}, {"even", {"true"}}};
  job.fields = {{"publisher", "Skerrow Light Board"}};
  job.scans = {{"../box 3.tif", {100, 5}, "d1", 12}};
  job.order = {"box 3-0001"};
  job.documents = {{"../a.pdf", {7, 8}, "m"}};
  job.wishes["box 3-0001"].turn = 90;
  job.wishes["box 3-0002-left"].leave_out = true;
  const JobFile back = read_job(written_job(job));
  EXPECT_EQ(written_job(back), written_job(job));
  EXPECT_EQ(back.settings[1].second, job.settings[1].second);
  EXPECT_THROW(read_job("{}"), FormatError);
  EXPECT_THROW(read_job(written_job(job).substr(0, 60)), FormatError);
}

constexpr double kBeat = 0.2, kPatience = 1.0;  // seconds

TEST(Worker, ShowsWhatItDoesAndLeavesNothing) {
  TemporaryFolder folder;
  {
    Worker worker(folder.path(), "work", kBeat, kPatience);
    worker.progress(3, 9);
    std::this_thread::sleep_for(std::chrono::milliseconds(600));
    const auto workers = workers_of(folder.path(), kPatience);
    ASSERT_EQ(workers.size(), 1u);
    EXPECT_TRUE(workers[0].alive);
    EXPECT_EQ(workers[0].done, 3);
    EXPECT_EQ(workers[0].pid, getpid());
  }
  EXPECT_TRUE(workers_of(folder.path(), kPatience).empty());
}

TEST(Worker, OneClaimsAndTheOthersDoNot) {
  TemporaryFolder folder;
  Worker one(folder.path(), "work", kBeat, kPatience), two(folder.path(), "work", kBeat, kPatience);
  auto claim = one.claim("box-0001");
  ASSERT_TRUE(claim);
  std::string holder;
  EXPECT_FALSE(two.claim("box-0001", &holder));
  EXPECT_EQ(holder, one.name());
  EXPECT_FALSE(one.claim("box-0001"));
  EXPECT_TRUE(two.claim("box-0002"));
  claim.reset();
  EXPECT_TRUE(two.claim("box-0001"));
}

TEST(Worker, ManyAtOnceGiveOneClaimEach) {
  TemporaryFolder folder;
  std::vector<std::unique_ptr<Worker>> workers;
  for (int i = 0; i < 8; ++i)
    workers.push_back(std::make_unique<Worker>(folder.path(), "work", 5, 60));
  for (int round = 0; round < 10; ++round) {
    std::vector<std::optional<Worker::Claim>> claims(workers.size());
    std::vector<std::thread> threads;
    for (size_t i = 0; i < workers.size(); ++i)
      threads.emplace_back([&, i] { claims[i] = workers[i]->claim("page"); });
    for (std::thread& thread : threads) thread.join();
    EXPECT_EQ(std::count_if(claims.begin(), claims.end(), [](const auto& c) { return !!c; }), 1);
  }
}

// A worker of another machine that gave its last sign long ago.
void leave_behind(const TemporaryFolder& folder, const std::string& claim) {
  write_file(folder.file("workers/far-1-2-0.json"),
             R"({"host":"far","pid":1,"started":"2","doing":"work","since":0,"done":0,"total":9})");
  write_file(folder.file("claims/" + claim + ".0"), "far-1-2-0");
}

TEST(Worker, ClaimsOfThoseWhoFellSilentAreTakenOver) {
  TemporaryFolder folder;
  Worker worker(folder.path(), "work", kBeat, kPatience);
  leave_behind(folder, "box-0001");
  EXPECT_FALSE(worker.claim("box-0001"));
  std::this_thread::sleep_for(std::chrono::milliseconds(1200));
  EXPECT_TRUE(worker.claim("box-0001"));
}

TEST(Worker, ClaimsOfProcessesThatEndedAreTakenOverAtOnce) {
  TemporaryFolder folder;
  Worker worker(folder.path(), "work", 5, 60);
  char host[256] = {};
  gethostname(host, sizeof host - 1);
  write_file(folder.file("workers/dead.json"),
             std::string(R"({"host":")") + host +
                 R"(","pid":999999999,"started":"1","doing":"run","since":0,"done":0,"total":1})");
  write_file(folder.file("claims/run.0"), "dead");
  const auto claim = worker.claim("run");
  EXPECT_TRUE(claim);
  // It is outbid, not removed: whoever looks now sees that the higher one counts.
  EXPECT_TRUE(std::ifstream(folder.file("claims/run.1")).good());
}

TEST(Worker, AClaimWithoutAWorkerIsNobodys) {
  TemporaryFolder folder;
  Worker worker(folder.path(), "work", 5, 60);
  write_file(folder.file("claims/box-0001.0"), "whoever");
  EXPECT_TRUE(worker.claim("box-0001"));
}

TEST(JobFiles, KeepWhichPagesAPdfHasAndWhatASheetSaid) {
  JobFile file;
  file.settings = {{"title", {"Log"}}, {"out", {"a.pdf", "b.txt"}}, {"even", {}}};
  file.scans = {{"a.tif", {12, 34}, "ab", 2, {{"box", "7"}, {"shelf", "B"}}}};
  file.documents = {{"a.pdf", {1, 2}, "cd", {{"a-0001", 1}, {"a-0002-left", 2}}},
                    {"b.txt", {}, "", {}}};
  const JobFile back = read_job(written_job(file));
  EXPECT_EQ(back.scans[0].fields, file.scans[0].fields);
  EXPECT_EQ(back.documents[0].sheets, file.documents[0].sheets);
  EXPECT_TRUE(back.documents[1].sheets.empty());
  EXPECT_EQ(setting_of(back, "title"), "Log");
  EXPECT_EQ(setting_of(back, "out"), "b.txt");
  EXPECT_EQ(setting_of(back, "even"), "");
  EXPECT_EQ(setting_of(back, "nothing"), "");
}

}  // namespace
}  // namespace burnisher::job
