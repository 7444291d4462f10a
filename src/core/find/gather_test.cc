#include "find/gather.h"

#include <gtest/gtest.h>

#include <filesystem>

#include "base/files.h"
#include "find/search.h"
#include "job/job_file.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::find {
namespace {

namespace fs = std::filesystem;

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

class Silent : public Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string&) override {}
  void say(const std::string&) override {}
};

class Gathering : public ::testing::Test {
 protected:
  Page page(const std::string& word) {
    return page_of_lines({line_of({word_of(word), word_of("Rock")})}, "log.png");
  }
  void xml(const std::string& name, const std::string& word) {
    fs::create_directories(fs::path(folder_.file(name)).parent_path());
    write_file(folder_.file(name), write_page_xml(page(word), "log.png"));
  }
  void alto(const std::string& name, const std::string& word) {
    fs::create_directories(fs::path(folder_.file(name)).parent_path());
    write_file(folder_.file(name), write_alto({page(word), page(word)}, Positions::kPage));
  }
  std::vector<TextDocument> documents(const std::string& name = "") {
    others_.clear();
    return documents_at(folder_.file(name), others_);
  }
  // "name: files" of each.
  std::vector<std::string> told(const std::string& name = "") {
    std::vector<std::string> list;
    for (const TextDocument& one : documents(name)) {
      std::string text = one.name + ":";
      for (const TextFile& file : one.files) text += " " + fs::path(file.path).filename().string();
      list.push_back(text);
    }
    return list;
  }
  using Told = std::vector<std::string>;
  TemporaryFolder folder_;
  std::vector<std::string> others_;
};

TEST_F(Gathering, AFolderOfPageXmlIsADocumentAndSoIsEveryOtherFile) {
  xml("box/b.xml", "Nether");
  xml("box/a.xml", "Hallow");
  alto("box/letters.xml", "Skerrow");
  xml("box/inner/c.xml", "Point");
  write_file(folder_.file("box/list.mets.xml"), std::string("<mets/>"));
  write_file(folder_.file("box/notes.txt"), std::string("no pages"));
  EXPECT_EQ(told("box"), (Told{"letters: letters.xml", "box: a.xml b.xml", "inner: c.xml"}));
  ASSERT_EQ(others_.size(), 1u);
  EXPECT_EQ(fs::path(others_[0]).filename(), "list.mets.xml");
}

TEST_F(Gathering, OfFilesOfOneNameTheOneThatTellsMostIsTaken) {
  alto("box/log.xml", "Hallow");
  write_file(folder_.file("box/log.pdf"), std::string("%PDF-1.4"));
  write_file(folder_.file("box/log.html"),
             std::string("<html><body><div class='ocr_page'/></body></html>"));
  const auto list = documents("box");
  ASSERT_EQ(list.size(), 1u);
  EXPECT_EQ(fs::path(list[0].files[0].path).filename(), "log.xml");
  EXPECT_EQ(fs::path(list[0].files[0].pdf).filename(), "log.pdf");
  EXPECT_EQ(list[0].files[0].first_pdf_page, 1);
}

TEST_F(Gathering, FilesAreKnownByTheirContent) {
  write_file(folder_.file("page.xml"), std::string("<page/>"));
  EXPECT_THROW(documents("page.xml"), InputError);
  EXPECT_THROW(documents("nowhere"), InputError);
  alto("one.xml", "Hallow");
  EXPECT_EQ(told("one.xml"), Told{"one: one.xml"});
}

TEST_F(Gathering, AJobIsOneDocumentOrOneForEachFileItMade) {
  for (const char* name :
       {"job/a-0001.xml", "job/a-0002-left.xml", "job/a-0002-right.xml", "job/b-0001.xml"})
    xml(name, "Hallow");
  xml("job/read/a-0001.xml", "Hallow");  // before correction: not searched
  job::JobFile file;
  file.order = {"b-0001", "a-0001", "a-0002", "c-0001"};
  file.fields = {{"date", "1904"}};
  file.settings = {{"title", {"Log of Hallow Rock"}}, {"out", {"../all.pdf"}}};
  file.scans = {{"../a.tif", {}, "", 2, {{"box", "7"}}}, {"../b.tif", {}, "", 1, {}}};
  file.documents = {{"../all.pdf", {}, "", {{"b-0001", 1}, {"a-0001", 2}, {"a-0002-left", 3}}}};
  write_file(folder_.file("job/job.json"), job::written_job(file));
  EXPECT_TRUE(is_job(folder_.file("job")));
  EXPECT_EQ(told("job"),
            Told{"Log of Hallow Rock: b-0001.xml a-0001.xml a-0002-left.xml a-0002-right.xml"});
  const TextDocument whole = documents("job").front();
  EXPECT_EQ(whole.files[0].first_pdf_page, 1);
  EXPECT_EQ(whole.files[2].first_pdf_page, 3);
  EXPECT_TRUE(whole.files[3].pdf.empty());
  EXPECT_EQ(fs::path(whole.files[0].pdf).filename(), "all.pdf");
  // A page that a person left out of every document is not found.
  file.wishes["a-0002-right"].leave_out = true;
  file.settings = {{"out-dir", {"../done"}}};
  write_file(folder_.file("job/job.json"), job::written_job(file));
  EXPECT_EQ(told("job"), (Told{"b: b-0001.xml", "a: a-0001.xml a-0002-left.xml"}));
  EXPECT_EQ(documents("job")[1].fields, (Fields{{"box", "7"}, {"date", "1904"}}));
  // A folder of jobs has them all.
  EXPECT_EQ(told().size(), 2u);
}

TEST_F(Gathering, DoublesAreTakenOnce) {
  xml("box/a.xml", "Hallow");
  auto list = documents("box");
  for (TextDocument& one : documents("box/a.xml")) list.push_back(std::move(one));
  ASSERT_EQ(list.size(), 2u);
  without_doubles(list);
  EXPECT_EQ(list.size(), 1u);
}

TEST_F(Gathering, AnIndexMovesWithWhatItTellsOf) {
  xml("here/box/a.xml", "Hallow");
  Silent silent;
  {
    Index index(folder_.file("here/all.sqlite"), Database::Use::kWrite);
    update(index, documents("here/box"), silent);
    index.set_roots({folder_.file("here/box")});
  }
  fs::rename(folder_.file("here"), folder_.file("there"));
  Index index(folder_.file("there/all.sqlite"), Database::Use::kRead);
  EXPECT_EQ(index.roots(), std::vector<std::string>{folder_.file("there/box")});
  EXPECT_EQ(index.files().begin()->first, folder_.file("there/box/a.xml"));
  EXPECT_EQ(search(index, {"Hallow"}, {}).size(), 1u);
}

TEST_F(Gathering, AnIndexOfAnotherVersionIsMadeAnew) {
  xml("box/a.xml", "Hallow");
  const std::string path = folder_.file("all.sqlite");
  Silent silent;
  {
    Index index(path, Database::Use::kWrite);
    update(index, documents("box"), silent);
  }
  Database(path, Database::Use::kWrite).run("pragma user_version = 99");
  EXPECT_THROW(Index(path, Database::Use::kRead), FormatError);
  Index index(path, Database::Use::kWrite);
  EXPECT_EQ(index.page_count(), 0);
  EXPECT_EQ(update(index, documents("box"), silent).read, 1);
  EXPECT_EQ(index.word_count(), 2);
}

TEST_F(Gathering, HitsComeInTheOrderOfTheDocuments) {
  alto("b.xml", "Hallow");
  alto("a.xml", "Hallow");
  xml("c/1.xml", "Hallow");
  Index index("", Database::Use::kWrite);
  Silent silent;
  update(index, documents(), silent);
  const auto names = index.documents();
  std::vector<std::string> order;
  for (const Hit& hit : search(index, {"Rock", "Hallow"}, {}))
    order.push_back(names[hit.document].name + std::to_string(hit.parts[0].position) +
                    (hit.sought == 0 ? "R" : "H"));
  EXPECT_EQ(order, (std::vector<std::string>{"a1H", "a1R", "a2H", "a2R", "b1H", "b1R", "b2H", "b2R",
                                             "c1H", "c1R"}));
}

TEST_F(Gathering, ConditionsNarrowASearch) {
  alto("log.xml", "Hallow");
  Index index("", Database::Use::kWrite);
  Silent silent;
  auto list = documents("log.xml");
  list[0].fields = {{"date", "1904-06"}, {"creator", "Rask"}};
  update(index, list, silent);
  const auto found = [&](const std::vector<std::string>& conditions) {
    SearchSettings settings;
    for (const std::string& one : conditions) settings.where.push_back(condition_named(one));
    return search(index, {"Hallow"}, settings).size();
  };
  EXPECT_EQ(found({}), 2u);
  EXPECT_EQ(found({"date>=1904", "creator=rask"}), 2u);
  EXPECT_EQ(found({"date>=1905"}), 0u);
  EXPECT_EQ(found({"page=2"}), 1u);
  EXPECT_EQ(found({"page>2"}), 0u);
}

TEST_F(Gathering, WordsOfAnyScriptAreFound) {
  Page mixed = page_of_lines({line_of({word_of("ἄνθρωπος"), word_of("λόγος")}),
                              line_of({word_of("كِتَاب"), word_of("أحمد")}, 160),
                              line_of({word_of("हिन्दी"), word_of("शब्द")}, 220),
                              line_of({word_of("вѣсъ"), word_of("свѣтъ")}, 280)});
  write_file(folder_.file("m.xml"), write_page_xml(mixed, "m.png"));
  Index index("", Database::Use::kWrite);
  Silent silent;
  update(index, documents("m.xml"), silent);
  const auto found = [&](const std::string& word, const Folding& folding) {
    SearchSettings settings;
    settings.folding = folding;
    return search(index, {word}, settings).size();
  };
  for (const char* word : {"ἄνθρωπος", "كِتَاب", "हिन्दी", "вѣсъ"})
    EXPECT_EQ(found(word, {}), 1u) << word;
  EXPECT_EQ(found("ανθρωπος", {}), 0u);
  EXPECT_EQ(found("ανθρωπος", {false, true, false}), 1u);
  EXPECT_EQ(found("ΛΟΓΟΣ", {true, true, false}), 1u);
  EXPECT_EQ(found("كتاب", {false, true, false}), 1u);
  EXPECT_EQ(found("احمد", {false, false, true}), 1u);
  EXPECT_EQ(found("свет", {false, false, true}), 1u);
  EXPECT_EQ(found("हन्द", {false, true, false}), 0u);  // vowel signs are letters
}

}  // namespace
}  // namespace burnisher::find
