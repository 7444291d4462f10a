// A flow with a program that only pretends: what it does with every way in which one can end.
#include "service/flow.h"

#include <gtest/gtest.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;

using testing::TemporaryFolder;

// `run` writes "read" into every --out and answers with what `answer` holds; `code` is its exit
// code. What it was called with is in `calls`.
const char* const kProgram = R"(#!/bin/sh
here=$(dirname "$0")
echo "$@" >> "$here/calls"
[ "$1" = run ] || { cat "$here/said" >&2 2>/dev/null; exit $(cat "$here/$1-code" 2>/dev/null || echo 0); }
[ -e "$here/sleep" ] && sleep 30
[ -e "$here/vanish" ] && { rm "$2"; exit 3; }
code=$(cat "$here/code" 2>/dev/null || echo 0)
if [ "$code" -le 1 ]; then
  while [ $# -gt 0 ]; do
    [ "$1" = --out ] && echo read > "$2"
    [ "$1" = --out-dir ] && { echo one > "$2/part-1.txt"; mkdir -p "$2/waiting"; echo two > "$2/waiting/part-2.txt"; }
    shift
  done
fi
cat "$here/answer"
cat "$here/said" >&2 2>/dev/null
exit $code
)";
const char* const kGood =
    R"({"pages": [{"failed": false, "look": []}], "problems": [], "waiting": [], "seconds": 1.5})";
const char* const kHeld =
    R"({"pages": [{"failed": false, "look": [], "held": ["suspect words 9 %"]}], "problems": [], "waiting": ["x"], "seconds": 1})";

class FlowTest : public ::testing::Test {
 protected:
  FlowTest() {
    fs::create_directories(folder_.file("in"));
    write_file(folder_.file("program"), std::string(kProgram));
    fs::permissions(folder_.file("program"), fs::perms::owner_all);
    write_file(folder_.file("answer"), std::string(kGood));
    settings_.name = "flow";
    settings_.in = folder_.file("in");
    settings_.out = folder_.file("out");
    settings_.kinds = {".txt", ".pdf"};
    settings_.kinds_named = "text,pdf";
    settings_.settle = 0;
  }
  void drop(const std::string& name) {
    write_file(folder_.file("in/" + name), std::string("a scan"));
  }
  // What happened, in a word each: "taken read delivered".
  std::string round() {
    told_.clear();
    Flow flow(
        settings_, folder_.file("program"),
        [this](const Event& e) {
          told_ += (told_.empty() ? "" : ", ") + e.document + " " + e.what;
          why_ = e.why;
        },
        [this] { return cancelled_; });
    flow.round();
    failed_ = flow.failed();
    waiting_ = flow.waiting();
    return told_;
  }
  bool there(const std::string& name) { return fs::exists(folder_.file(name)); }
  std::string text_of(const std::string& name) {
    const auto bytes = read_file(folder_.file(name));
    return {bytes.begin(), bytes.end()};
  }
  TemporaryFolder folder_;
  FlowSettings settings_;
  std::string told_, why_;
  bool cancelled_ = false;
  int failed_ = 0, waiting_ = 0;
};

TEST_F(FlowTest, DeliversAndForgetsNothing) {
  drop("a.png");
  settings_.options = {"--lang=en"};
  EXPECT_EQ(round(), "a taken, a read, a delivered");
  EXPECT_EQ(text_of("out/a.txt"), "read\n");
  EXPECT_TRUE(there("out/a.pdf"));
  EXPECT_NE(text_of("calls").find("--json --quiet --out"), std::string::npos);
  EXPECT_NE(text_of("calls").find("--lang=en"), std::string::npos);
  EXPECT_EQ(round(), "");
}

TEST_F(FlowTest, ReplacesNothingThatIsThere) {
  fs::create_directories(folder_.file("out"));
  write_file(folder_.file("out/a.pdf"), std::string("somebody's"));
  drop("a.png");
  EXPECT_EQ(round(), "a-2 taken, a-2 read, a-2 delivered");
  EXPECT_EQ(text_of("out/a.pdf"), "somebody's");
  EXPECT_EQ(text_of("out/a-2.pdf"), "read\n");
}

TEST_F(FlowTest, WhatGoesAwayBeforeItIsReadIsNoFailure) {
  drop("a.png");
  write_file(folder_.file("vanish"), std::string());
  EXPECT_EQ(round(), "a taken, a gone");
  EXPECT_EQ(failed_, 0);
  EXPECT_FALSE(there("out/failed"));
  // Its new name is taken as it is.
  fs::remove(folder_.file("vanish"));
  drop("a.png");
  EXPECT_EQ(round(), "a taken, a read, a delivered");
}

TEST_F(FlowTest, FailsWithTheReasonThatWasGiven) {
  drop("a.png");
  write_file(folder_.file("code"), std::string("3"));
  write_file(folder_.file("said"), std::string("burnisher: a.png: is no picture\n"));
  EXPECT_EQ(round(), "a taken, a failed");
  EXPECT_EQ(why_, "a.png: is no picture");
  EXPECT_EQ(failed_, 1);
  EXPECT_NE(text_of("out/failed/a.txt").find("is no picture"), std::string::npos);
  EXPECT_TRUE(there("in/a.png"));
  EXPECT_EQ(round(), "");  // not tried again as it is
  settings_.originals = Originals::kDelete;
  drop("b.png");
  EXPECT_EQ(round(), "b taken, b failed");
  EXPECT_TRUE(there("out/failed/b.png"));  // what failed is never deleted
}

TEST_F(FlowTest, AnswersThatMakeNoSenseAreFailures) {
  drop("a.png");
  write_file(folder_.file("answer"), std::string("Segmentation fault"));
  EXPECT_EQ(round(), "a taken, a failed");
  EXPECT_EQ(why_, "the program ended with code 0");
}

TEST_F(FlowTest, WhatTakesTooLongIsEnded) {
  drop("a.png");
  write_file(folder_.file("sleep"), std::string());
  settings_.most_seconds = 0.3;
  EXPECT_EQ(round(), "a taken, a failed");
  EXPECT_EQ(why_, "took longer than it may");
}

TEST_F(FlowTest, StoppedInTheMiddleItGoesOnTheNextTime) {
  drop("a.png");
  write_file(folder_.file("code"), std::string("130"));
  EXPECT_EQ(round(), "a taken");
  EXPECT_TRUE(there("out/in-work/a.json"));
  write_file(folder_.file("code"), std::string("0"));
  EXPECT_EQ(round(), "a read, a delivered");
  // A kill between being made and being put in place.
  drop("b.png");
  round();
  std::string record = text_of("out/in-work/b.json");
  record.replace(record.find("\"done\""), 6, "\"delivering\"");
  write_file(folder_.file("out/in-work/b.json"), record);
  fs::create_directories(folder_.file("out/in-work/b.made"));
  fs::rename(folder_.file("out/b.pdf"), folder_.file("out/in-work/b.made/b.pdf"));
  EXPECT_EQ(round(), "b delivered");
  EXPECT_TRUE(there("out/b.pdf"));
  EXPECT_TRUE(there("out/b.txt"));
  EXPECT_FALSE(there("out/b-2.pdf"));
}

TEST_F(FlowTest, WhatIsHeldWaitsUntilSomebodyDecides) {
  drop("a.png");
  write_file(folder_.file("answer"), std::string(kHeld));
  EXPECT_EQ(round(), "a taken, a waits for a person");
  EXPECT_EQ(why_, "suspect words 9 %");
  EXPECT_EQ(waiting_, 1);
  EXPECT_TRUE(there("out/waiting/a.pdf"));
  EXPECT_NE(text_of("calls").find("proof "), std::string::npos);
  EXPECT_FALSE(there("out/a.pdf"));
  EXPECT_EQ(round(), "");
  write_file(folder_.file("out/waiting/a-decisions.tsv"), std::string("a table"));
  EXPECT_EQ(round(), "a decided, a delivered");
  EXPECT_NE(text_of("calls").find("amend "), std::string::npos);
  EXPECT_TRUE(there("out/a.pdf"));
  EXPECT_FALSE(there("out/waiting/a-decisions.tsv"));
  EXPECT_FALSE(there("out/waiting/a.pdf"));
}

TEST_F(FlowTest, ATableThatIsNoneIsPutAsideAndTheDocumentWaitsOn) {
  drop("a.png");
  write_file(folder_.file("answer"), std::string(kHeld));
  round();
  write_file(folder_.file("amend-code"), std::string("2"));
  write_file(folder_.file("said"), std::string("burnisher: row 1: no decision\n"));
  write_file(folder_.file("out/waiting/a.tsv"), std::string("nonsense"));
  EXPECT_EQ(round(), "a decisions refused");
  EXPECT_EQ(why_, "row 1: no decision");
  EXPECT_TRUE(there("out/waiting/a-refused.txt"));
  EXPECT_EQ(round(), "");
  EXPECT_EQ(waiting_, 1);
}

TEST_F(FlowTest, ABatchIsDeliveredInItsPartsAndWaitsAsAWhole) {
  settings_.splits = true;
  drop("batch.tif");
  EXPECT_EQ(round(), "batch taken, batch read, batch delivered");
  EXPECT_EQ(text_of("out/part-1.txt"), "one\n");
  EXPECT_EQ(text_of("out/part-2.txt"), "two\n");
  drop("more.tif");
  EXPECT_EQ(round(), "more taken, more read, more delivered");
  EXPECT_TRUE(there("out/part-1-2.txt"));  // a name that is taken gets a number
  write_file(folder_.file("answer"), std::string(kHeld));
  drop("held.tif");
  EXPECT_EQ(round(), "held taken, held waits for a person");
  EXPECT_TRUE(there("out/waiting/part-1.txt"));
  EXPECT_TRUE(there("out/waiting/part-2.txt"));
}

TEST_F(FlowTest, ItsOwnPlaceOfDeliveryIsNoDocument) {
  settings_.out = folder_.file("in/out");
  drop("a.png");
  EXPECT_EQ(round(), "a taken, a read, a delivered");
  EXPECT_EQ(round(), "");
}

}  // namespace
}  // namespace burnisher::service
