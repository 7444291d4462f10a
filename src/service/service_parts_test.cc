#include <gtest/gtest.h>

#include <fcntl.h>
#include <unistd.h>

#include <chrono>
#include <filesystem>
#include <set>
#include <thread>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "raster/png.h"
#include "service/access.h"
#include "service/claims.h"
#include "service/desk.h"
#include "service/inbox.h"
#include "service/openapi.h"
#include "service/problem.h"
#include "service/request_settings.h"
#include "service/store.h"
#include "testing/printed_page.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;

using testing::TemporaryFolder;
using Names = std::vector<std::string>;

std::string small_png() {
  Gray picture(20, 10);
  for (int y = 0; y < picture.height(); ++y)
    std::fill(picture.row(y), picture.row(y) + picture.width(), static_cast<uint8_t>(255));
  const auto bytes = write_png(Picture(std::move(picture)), 200);
  return {bytes.begin(), bytes.end()};
}

TEST(TemporaryNames, AreThoseOfFilesInWork) {
  for (const char* name :
       {".hidden", "a.pdf.part", "a.crdownload", "a.tmp", "~$a.doc", "a.pdf~", "a.filepart",
        "a.pdf.part-311-0", "Thumbs.db", "desktop.ini", "burnisher.toml", ""})
    EXPECT_TRUE(is_temporary_name(name)) << name;
  for (const char* name :
       {"a.pdf", "part", "temp.tif", "a.part.png", "a.part-two.png", "burnisher.toml.pdf"})
    EXPECT_FALSE(is_temporary_name(name)) << name;
}

TEST(Inbox, GivesWhatIsCompleteInOrder) {
  TemporaryFolder folder;
  Inbox inbox(folder.path(), 0);
  EXPECT_TRUE(inbox.complete().empty());
  write_file(folder.file("b.png"), std::string("b"));
  write_file(folder.file("a.png"), std::string("a"));
  write_file(folder.file("c.png.part"), std::string("c"));
  fs::create_directories(folder.file("box"));
  EXPECT_EQ(inbox.complete(), (Names{"a.png", "b.png"}));  // an empty folder is not complete
  EXPECT_EQ(inbox.unsettled(), 1u);
  write_file(folder.file("box/1.png"), std::string("1"));
  EXPECT_EQ(inbox.complete(), (Names{"a.png", "b.png", "box"}));
}

TEST(Inbox, WaitsWhileAFileIsOpenForWriting) {
  TemporaryFolder folder;
  Inbox inbox(folder.path(), 0);
  const int file = open(folder.file("slow.png").c_str(), O_WRONLY | O_CREAT, 0644);
  ASSERT_EQ(write(file, "half", 4), 4);
  EXPECT_TRUE(inbox.complete().empty());
  close(file);
  EXPECT_EQ(inbox.complete(), Names{"slow.png"});
}

TEST(Inbox, ClosedFilesNeedNoQuietButOthersDo) {
  TemporaryFolder folder;
  write_file(folder.file("before.png"), std::string("was there"));
  Inbox inbox(folder.path(), 3600);
  EXPECT_TRUE(inbox.complete().empty());
  EXPECT_EQ(inbox.unsettled(), 1u);
  const int file = open(folder.file("new.png").c_str(), O_WRONLY | O_CREAT, 0644);
  ASSERT_EQ(write(file, "all", 3), 3);
  close(file);
  inbox.wait(5);
  EXPECT_EQ(inbox.complete(), Names{"new.png"});
}

TEST(Inbox, ASignatureChangesWithAnythingInAFolder) {
  TemporaryFolder folder;
  fs::create_directories(folder.file("box/inner"));
  write_file(folder.file("box/inner/1.png"), std::string("1"));
  Inbox inbox(folder.path(), 0);
  const std::string before = inbox.signature("box");
  EXPECT_EQ(inbox.signature("box"), before);
  write_file(folder.file("box/inner/2.png"), std::string("2"));
  EXPECT_NE(inbox.signature("box"), before);
  EXPECT_THROW(Inbox(folder.file("nowhere"), 0), InputError);
}

TEST(Desk, KeepsRecordsOverARestart) {
  TemporaryFolder folder;
  DocumentRecord record{"box", "/in/box", "12 34", Stage::kWaiting, {"box.pdf"}, "doubtful", false};
  {
    Desk desk(folder.path());
    desk.put(record);
    EXPECT_TRUE(desk.knows("/in/box", "12 34"));
    EXPECT_FALSE(desk.knows("/in/box", "12 35"));
    EXPECT_THROW(Desk(folder.path()), SettingsError);  // one at a time
  }
  write_file(folder.file("broken.json"), std::string("{\"document\": \"br"));
  Desk desk(folder.path());
  ASSERT_EQ(desk.records().size(), 1u);
  EXPECT_FALSE(fs::exists(folder.file("broken.json")));
  const DocumentRecord back = *desk.record_of("box");
  EXPECT_EQ(back.stage, Stage::kWaiting);
  EXPECT_EQ(back.files, Names{"box.pdf"});
  EXPECT_EQ(back.why, "doubtful");
  fs::create_directories(desk.job_of("box"));
  fs::create_directories(desk.made_of("box"));
  desk.forget("box");
  EXPECT_TRUE(desk.records().empty());
  EXPECT_FALSE(fs::exists(desk.job_of("box")));
  EXPECT_FALSE(fs::exists(desk.made_of("box")));
}

TEST(Access, KnowsWhoHasAToken) {
  TemporaryFolder folder;
  const std::string path = folder.file("tokens");
  const auto told = [&](const std::string& text) {
    write_file(path, text);
    fs::permissions(path, fs::perms::owner_read | fs::perms::owner_write);
    return Access::read(path);
  };
  const Access access =
      told("# names\nrask 0123456789abcdef\n\nholm fedcba9876543210 # the other\n");
  EXPECT_EQ(access.who("Bearer 0123456789abcdef"), "rask");
  EXPECT_EQ(access.who("Bearer fedcba9876543210"), "holm");
  for (const char* wrong : {"", "Bearer ", "Bearer 0123456789abcdeg", "Bearer 0123456789abcdef0",
                            "0123456789abcdef", "bearer 0123456789abcdef"})
    EXPECT_FALSE(access.who(wrong).has_value()) << wrong;
  EXPECT_EQ(Access().who(""), "");
  EXPECT_TRUE(Access().reviews(""));  // nobody is told apart
  const Access some = told("rask 0123456789abcdef\nholm fedcba9876543210 reviewer\n");
  EXPECT_FALSE(some.reviews("rask"));
  EXPECT_TRUE(some.reviews("holm"));
  EXPECT_FALSE(some.reviews(""));
  EXPECT_THROW(told("rask short\n"), FormatError);
  EXPECT_THROW(told("rask\n"), FormatError);
  EXPECT_THROW(told("rask 0123456789abcdef more\n"), FormatError);
  EXPECT_THROW(told("# nobody\n"), FormatError);
  fs::permissions(path, fs::perms::group_read, fs::perm_options::add);
  EXPECT_THROW(Access::read(path), InputError);
  EXPECT_THROW(Access::read(folder.file("nowhere")), InputError);
}

TEST(Access, LoopbackIsThisMachine) {
  for (const char* here : {"127.0.0.1", "127.1.2.3", "localhost", "::1"})
    EXPECT_TRUE(is_loopback(here)) << here;
  for (const char* beyond : {"0.0.0.0", "::", "192.168.1.7", "example.org", "128.0.0.1"})
    EXPECT_FALSE(is_loopback(beyond)) << beyond;
}

TEST(RequestSettings, AreAClosedList) {
  EXPECT_EQ(arguments_of(""), Names());
  EXPECT_EQ(arguments_of("{\"lang\": \"en,de\", \"even\": true, \"mend\": false, \"gamma\": 0.7}"),
            (Names{"--even", "--gamma=0.7", "--lang=en,de"}));
  EXPECT_EQ(arguments_of("{\"field\": [\"box=7\", \"shelf=B\"]}"),
            (Names{"--field=box=7", "--field=shelf=B"}));
  EXPECT_EQ(arguments_of("{\"recipe\": \"fax\"}"), Names{"--recipe=fax"});
  // A value is never taken for an option.
  EXPECT_EQ(arguments_of("{\"title\": \"--job /etc\"}"), Names{"--title=--job /etc"});
  for (const char* refused :
       {"[]", "nonsense", "{\"job\": \"x\"}", "{\"out\": \"/etc/x\"}", "{\"keep-steps\": \"/tmp\"}",
        "{\"password-file\": \"/etc/shadow\"}", "{\"words\": \"/etc/passwd\"}",
        "{\"model\": \"/x\"}", "{\"stencil\": \"/x\"}", "{\"fields\": \"/x\"}",
        "{\"recipe\": \"/etc/passwd\"}", "{\"recipe\": \"../fax\"}", "{\"even\": \"yes\"}",
        "{\"lang\": {}}", "{\"field\": \"a=b\"}", "{\"lang\": null}", "{\"labels\": true}"})
    try {
      arguments_of(refused);
      ADD_FAILURE() << refused;
    } catch (const HttpProblem& problem) {
      EXPECT_EQ(problem.status(), 422);
    }
  EXPECT_THROW(arguments_of("{\"title\": \"" + std::string(5000, 'x') + "\"}"), HttpProblem);
}

TEST(RequestSettings, RulesThatHoldAreLookedAtAtOnce) {
  EXPECT_EQ(arguments_of("{\"hold-if\": \"suspects>2%,no-text\"}"),
            Names{"--hold-if=suspects>2%,no-text"});
  EXPECT_THROW(arguments_of("{\"hold-if\": \"suspects\"}"), HttpProblem);
}

TEST(RequestSettings, ThoseOfDeliveryCountForDocumentsMadeLater) {
  EXPECT_EQ(delivery_arguments({"--lang=en", "--even", "--title=Log=book", "--archive",
                                "--hold-if=no-text", "--field=box=7"}),
            (Names{"--lang=en", "--title=Log=book", "--archive", "--field=box=7"}));
}

TEST(Claims, AreOfOneAtATimeAndLapse) {
  auto now = Claims::Clock::now();
  Claims claims([&] { return now; });
  const auto mine = claims.claim("a", "Rask", "");
  ASSERT_TRUE(mine.has_value());
  EXPECT_EQ(claims.holder("a"), "Rask");
  EXPECT_FALSE(claims.holder("b").has_value());
  EXPECT_FALSE(claims.claim("a", "Holm", "").has_value());
  EXPECT_FALSE(claims.claim("a", "Holm", "guessed").has_value());
  EXPECT_FALSE(claims.holds("a", "guessed"));
  claims.release("a", "guessed");
  EXPECT_TRUE(claims.holds("a", *mine));
  // It holds as long as it is heard of.
  now += Claims::kLapse - std::chrono::seconds(1);
  EXPECT_EQ(claims.claim("a", "Rask", *mine), mine);
  now += Claims::kLapse - std::chrono::seconds(1);
  EXPECT_TRUE(claims.holds("a", *mine));
  now += std::chrono::seconds(2);
  EXPECT_FALSE(claims.holds("a", *mine));
  const auto hers = claims.claim("a", "Holm", "");
  ASSERT_TRUE(hers.has_value());
  EXPECT_NE(*hers, *mine);
  claims.release("a", *hers);
  EXPECT_FALSE(claims.holder("a").has_value());
  const auto again = claims.claim("a", "Rask", "");
  claims.drop("a");
  EXPECT_FALSE(claims.holds("a", *again));
}

TEST(Store, WhatWaitsForAPersonIsFoundWhosoeverItIs) {
  TemporaryFolder folder;
  Store store(folder.file("store"));
  StoredDocument one = store.add({{"a.png", "", small_png()}}, "rask", {}, 0);
  EXPECT_TRUE(store.held().empty());
  EXPECT_FALSE(store.find_held(one.id).has_value());
  one.state = DocumentState::kHeld;
  one.held = {"page 1 of a.png: suspect words 4 % (limit 1 %)"};
  store.put(one);
  ASSERT_EQ(store.held().size(), 1u);
  EXPECT_EQ(store.find_held(one.id)->owner, "rask");
  EXPECT_EQ(Store(folder.file("store")).held().front().held, one.held);  // over a restart
}

TEST(Problems, AreToldAsTheStandardHasIt) {
  const auto problem = parse_json(problem_json(429, "too many \"documents\""));
  EXPECT_EQ(problem["title"], "Too Many Requests");
  EXPECT_EQ(problem["status"], 429);
  EXPECT_EQ(problem["detail"], "too many \"documents\"");
}

TEST(Description, NamesEverySettingThatIsAllowed) {
  const auto api = parse_json(openapi_json());
  const auto& keys = api["paths"]["/v1/documents"]["post"]["requestBody"]["content"]
                        ["multipart/form-data"]["schema"]["properties"]["settings"]["x-keys"];
  EXPECT_EQ(keys.get<Names>(), allowed_settings());
}

TEST(Store, KeepsDocumentsApartAndOverARestart) {
  TemporaryFolder folder;
  std::string id;
  {
    Store store(folder.path());
    const StoredDocument one =
        store.add({{"../../a.png", "image/png", small_png()}}, "rask", {"--lang=en"}, 0);
    id = one.id;
    EXPECT_EQ(one.id.size(), 32u);
    EXPECT_EQ(one.files, Names{"0001.png"});
    EXPECT_EQ(one.names, Names{"../../a.png"});
    EXPECT_EQ(one.pages, 1);
    EXPECT_TRUE(store.find(id, "rask"));
    EXPECT_FALSE(store.find(id, "holm"));
    EXPECT_FALSE(store.find("../" + id, "rask"));
    EXPECT_EQ(store.of("holm").size(), 0u);
    const auto next = store.next([] { return false; });
    ASSERT_TRUE(next);
    EXPECT_EQ(next->id, id);
    EXPECT_EQ(store.count(DocumentState::kWorking), 1u);
  }
  // What was at work waits again; what was half taken in is gone.
  fs::create_directories(folder.file("00000000000000000000000000000000/in"));
  Store store(folder.path());
  EXPECT_EQ(store.find(id, "rask")->state, DocumentState::kWaiting);
  EXPECT_FALSE(fs::exists(folder.file("00000000000000000000000000000000")));
  EXPECT_FALSE(store.remove(id, "holm"));
  EXPECT_TRUE(store.remove(id, "rask"));
  EXPECT_FALSE(fs::exists(store.folder_of(id)));
}

TEST(Store, ADocumentAtWorkGoesWhenTheWorkHasEnded) {
  TemporaryFolder folder;
  Store store(folder.path());
  const std::string id = store.add({{"a", "", small_png()}}, "", {}, 0).id;
  StoredDocument working = *store.next([] { return false; });
  EXPECT_TRUE(store.remove(id, ""));
  EXPECT_TRUE(store.gone(id));
  EXPECT_TRUE(fs::exists(store.folder_of(id)));
  working.state = DocumentState::kDone;
  store.put(working);  // too late
  EXPECT_TRUE(store.gone(id));
  store.sweep(id);
  EXPECT_FALSE(fs::exists(store.folder_of(id)));
  EXPECT_FALSE(store.next([] { return true; }));
}

TEST(Store, TakesScansAlone) {
  TemporaryFolder folder;
  Store store(folder.path());
  EXPECT_THROW(store.add({}, "", {}, 0), InputError);
  EXPECT_THROW(store.add({{"a.png", "image/png", "no picture"}}, "", {}, 0), Error);
  EXPECT_THROW(store.add({{"a.png", "", small_png()}, {"b.png", "", small_png()}}, "", {}, 1),
               FormatError);
  EXPECT_TRUE(fs::is_empty(folder.path()));  // nothing of them stays
}

TEST(RandomNames, AreNeverTheSame) {
  std::set<std::string> names;
  for (int i = 0; i < 200; ++i) names.insert(random_name(32));
  EXPECT_EQ(names.size(), 200u);
  EXPECT_EQ(random_name(7).size(), 7u);
}

}  // namespace
}  // namespace burnisher::service
