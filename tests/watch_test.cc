// Watched folders: what is taken and when, what becomes of it, and that nothing is lost or doubled.
#include <gtest/gtest.h>

#include <fcntl.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <filesystem>
#include <sstream>
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

using nlohmann::json;
using testing::PrintedPage;
using testing::TemporaryFolder;

class Watch : public ::testing::Test {
 protected:
  Watch() { fs::create_directories(folder_.file("in")); }

  std::string leaf(const std::string& text) {
    PrintedPage page(700, 260);
    page.print({text, 60, 100, 38}).print({"in the keeper's log.", 60, 160, 34});
    const std::vector<uint8_t> png = write_png(page.picture(), 200);
    return {png.begin(), png.end()};
  }
  void drop(const std::string& name, const std::string& text) {
    fs::create_directories(fs::path(folder_.file(name)).parent_path());
    put(folder_.file(name), leaf(text));
  }
  Outcome once(const std::string& more = "") {
    return in(folder_, "$B watch in --out-dir out --to text --once --settle 0.1 --lang en " + more);
  }
  bool there(const std::string& name) { return fs::exists(folder_.file(name)); }
  std::string text_of(const std::string& name) { return folded(content_of(folder_.file(name))); }

  TemporaryFolder folder_;
  BackgroundProgram program_{folder_};
};

TEST_F(Watch, OnceDoesWhatIsThere) {
  drop("in/a.png", "The lamp was lit");
  drop("in/box/1.png", "First leaf");
  drop("in/box/2.png", "Second leaf");
  drop("in/b.png.part", "Half a leaf");
  put(folder_.file("in/bad.tif"), "no picture");
  const Outcome o = once();
  EXPECT_EQ(o.code, 1) << o.err;
  EXPECT_TRUE(contains(text_of("out/a.txt"), "The lamp was lit")) << text_of("out/a.txt");
  EXPECT_TRUE(contains(text_of("out/box.txt"), "Second leaf")) << text_of("out/box.txt");
  EXPECT_TRUE(contains(text_of("out/failed/bad.txt"), "is no picture Burnisher can read"));
  EXPECT_FALSE(there("out/b.txt"));
  EXPECT_TRUE(contains(o.err, "a: delivered a.txt")) << o.err;
  // The second time nothing is left to do, and what failed is not tried again.
  EXPECT_EQ(once().err, "");
  drop("in/a.png", "Another lamp");
  EXPECT_EQ(once().code, 0);
  EXPECT_TRUE(contains(text_of("out/a-2.txt"), "Another lamp")) << text_of("out/a-2.txt");
  EXPECT_TRUE(contains(text_of("out/a.txt"), "The lamp was lit")) << text_of("out/a.txt");
}

TEST_F(Watch, OriginalsAreMovedOrDeletedWhenTheirDocumentsAreInPlace) {
  drop("in/a.png", "The lamp was lit");
  EXPECT_EQ(once("--originals move").code, 0);
  EXPECT_TRUE(there("out/originals/a.png"));
  EXPECT_FALSE(there("in/a.png"));
  drop("in/a.png", "Another lamp");
  put(folder_.file("in/bad.png"), "no picture");
  EXPECT_EQ(once("--originals delete").code, 1);
  EXPECT_TRUE(contains(text_of("out/a-2.txt"), "Another lamp")) << text_of("out/a-2.txt");
  EXPECT_FALSE(there("in/a.png"));
  EXPECT_TRUE(there("out/failed/bad.png"));  // never deleted
  EXPECT_EQ(std::distance(fs::directory_iterator(folder_.file("out/in-work")), {}), 1);  // the lock
}

TEST_F(Watch, AFileIsTakenWhenItsWriterIsDone) {
  program_.start("watch in --out-dir out --to text --settle 0.2 --lang en");
  ASSERT_TRUE(until([&] { return there("out/in-work/.lock"); }));
  const std::string bytes = leaf("The lamp was lit");
  const int file = open(folder_.file("in/slow.png").c_str(), O_WRONLY | O_CREAT, 0644);
  ASSERT_EQ(write(file, bytes.data(), bytes.size() / 2), static_cast<ssize_t>(bytes.size() / 2));
  // Another one goes its way meanwhile, though the first has been quiet for long.
  std::this_thread::sleep_for(std::chrono::milliseconds(600));
  drop("in/quick.png", "A quick leaf");
  ASSERT_TRUE(until([&] { return there("out/quick.txt"); }));
  EXPECT_FALSE(contains(program_.log(), "slow"));
  ASSERT_GT(write(file, bytes.data() + bytes.size() / 2, bytes.size() - bytes.size() / 2), 0);
  close(file);
  ASSERT_TRUE(until([&] { return there("out/slow.txt"); }));
  EXPECT_TRUE(contains(text_of("out/slow.txt"), "The lamp was lit")) << text_of("out/slow.txt");
  EXPECT_EQ(program_.stop(SIGTERM), 0);
}

TEST_F(Watch, KilledAndStartedAgainItLosesAndDoublesNothing) {
  for (int i = 0; i < 8; ++i)
    drop("in/leaf" + std::to_string(i) + ".png", "Leaf " + std::to_string(i));
  for (const int wait : {250, 500, 150, 700, 400}) {
    program_.start("watch in --out-dir out --to text --settle 0.05 --lang en --originals move");
    std::this_thread::sleep_for(std::chrono::milliseconds(wait));
    program_.stop(SIGKILL);
  }
  // A child that outlived the killed one may still be at its job.
  ASSERT_TRUE(until([&] { return once("--originals move").code == 0; }));
  int documents = 0;
  for (const auto& entry : fs::directory_iterator(folder_.file("out")))
    documents += entry.path().extension() == ".txt";
  EXPECT_EQ(documents, 8);
  for (int i = 0; i < 8; ++i) {
    const std::string name = "leaf" + std::to_string(i);
    EXPECT_TRUE(contains(text_of("out/" + name + ".txt"), "Leaf " + std::to_string(i)))
        << text_of("out/" + name + ".txt");
    EXPECT_TRUE(there("out/originals/" + name + ".png"));
  }
  EXPECT_TRUE(fs::is_empty(folder_.file("in")));
}

TEST_F(Watch, WhatWaitsIsDeliveredWhenDecisionsCome) {
  drop("in/odd.png", "xqzvk jwpfh");
  const Outcome o = once("--hold-if 'suspects>1%'");
  EXPECT_EQ(o.code, 1) << o.err;
  EXPECT_TRUE(contains(o.err, "odd: waits for a person")) << o.err;
  EXPECT_TRUE(there("out/waiting/odd.txt"));
  EXPECT_TRUE(contains(content_of(folder_.file("out/waiting/odd-proof.html")), "xqzvk"));
  EXPECT_FALSE(there("out/odd.txt"));
  put(folder_.file("out/waiting/odd.tsv"), "no table of decisions");
  EXPECT_TRUE(contains(once("--hold-if 'suspects>1%'").err, "decisions refused"));
  EXPECT_TRUE(there("out/waiting/odd-refused.txt"));
  // As the proof sheet writes it: the word's place in its scan.
  const std::string job = folder_.file("out/in-work/odd.job");
  const json word = parse_json(
      in(folder_, "$B find xqzvk --in " + job + " --json").out)["hits"][0]["lines"][0]["scan_box"];
  std::ostringstream table;
  table << "id\tfile\tpage\tx\ty\twidth\theight\tlook\tread\tdecision\ttext\n\todd.png\t1\t"
        << word[0] << '\t' << word[1] << '\t' << word[2] << '\t' << word[3]
        << "\t\txqzvk\tchange\tlamp\n";
  put(folder_.file("out/waiting/odd.tsv"), table.str());
  EXPECT_EQ(once("--hold-if 'suspects>1%'").code, 0);
  EXPECT_TRUE(contains(text_of("out/odd.txt"), "lamp jwpfh")) << text_of("out/odd.txt");
  EXPECT_FALSE(there("out/waiting/odd.txt"));
  EXPECT_FALSE(there("out/waiting/odd-proof.html"));
}

TEST_F(Watch, FlowsWorkSideBySideAndLogAsJson) {
  drop("letters/a.png", "A letter");
  drop("bills/b.png", "A bill");
  put(folder_.file("flows.toml"),
      "# two of them\n[letters]\nin = \"letters\"\nout-dir = \"done/letters\"\nto = text\nsettle = "
      "0.1\n\n[bills]\nin = bills\nout-dir = done/bills\nto = \"text,alto\"\nsettle = "
      "0.1\noriginals = move\n");
  const Outcome o = in(folder_, "$B watch flows.toml --once --log-json");
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(text_of("done/letters/a.txt"), "A letter")) << text_of("done/letters/a.txt");
  EXPECT_TRUE(contains(text_of("done/bills/b.txt"), "A bill")) << text_of("done/bills/b.txt");
  EXPECT_TRUE(there("done/bills/b.xml"));
  std::istringstream lines(o.out);
  int delivered = 0;
  for (std::string line; std::getline(lines, line);)
    delivered += parse_json(line)["event"] == "delivered";
  EXPECT_EQ(delivered, 2) << o.out;
}

TEST_F(Watch, WhatMakesNoSenseIsSaidBeforeAnythingIsDone) {
  EXPECT_TRUE(contains(in(folder_, "$B watch in --once").err, "says no place of delivery"));
  EXPECT_TRUE(contains(once("--job x").err, "has no option --job"));
  EXPECT_TRUE(contains(once("--report x.html").err, "there is no report of a watched folder"));
  EXPECT_FALSE(contains(in(folder_, "$B watch --help").out, "--explain"));
  EXPECT_EQ(in(folder_, "$B watch nowhere --out-dir out --once").code, 3);
  put(folder_.file("flows.toml"), "[a]\nin = in\nout-dir = out\nbinarize = otsu\n");
  const Outcome o = in(folder_, "$B watch flows.toml --once");
  EXPECT_EQ(o.code, 2);
  EXPECT_TRUE(
      contains(o.err, "line 4: there is no setting \"binarize\"; the nearest is \"binarise\""))
      << o.err;
  program_.start("watch in --out-dir out");
  ASSERT_TRUE(until([&] { return there("out/in-work/.lock"); }));
  EXPECT_TRUE(contains(once().err, "another `burnisher watch` is at work there"));
  EXPECT_EQ(program_.stop(SIGTERM), 0);
}

}  // namespace
}  // namespace burnisher::tests
