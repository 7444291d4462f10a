#include "run/split.h"

#include <gtest/gtest.h>

#include <filesystem>

#include "barcode/separator_sheet.h"
#include "base/error.h"
#include "base/files.h"
#include "intake/pdf_programs.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::run {
namespace {

using testing::PrintedPage;
using testing::TemporaryFolder;

class Split : public ::testing::Test {
 protected:
  void leaf(const std::string& name) {
    PrintedPage page(600, 400);
    page.print({"The lamp was lit", 60, 150, 40}).print({"before dusk.", 60, 230, 40});
    write_file(folder_.file(name + ".png"), write_png(page.picture(), 150));
  }
  void blank(const std::string& name) {
    PrintedPage page(600, 400);
    write_file(folder_.file(name + ".png"), write_png(page.picture(), 150));
  }
  void sheet(const std::string& name, const DescriptiveFields& fields) {
    write_file(folder_.file("sheet.pdf"), barcode::separator_sheet(fields));
    write_file(folder_.file(name + ".png"),
               write_png(draw_pdf_page(folder_.file("sheet.pdf"), 1, 150, 1e8), 150));
    std::filesystem::remove(folder_.file("sheet.pdf"));
  }
  // "1: a b, 2: c": the documents and their scans.
  std::string parts(const std::string& rule) {
    list_ = scans_in({folder_.path()}, "", {});
    split(split_rule(rule), {folder_.path()}, list_);
    std::string text;
    std::string before;
    for (const ScanTask& task : list_.tasks) {
      if (task.document != before)
        text +=
            (text.empty() ? "" : ", ") + task.document.substr(task.document.rfind('-') + 1) + ":";
      before = task.document;
      text += " " + stem_of(task.file->path());
      EXPECT_EQ(task.last_of_document,
                &task == &list_.tasks.back() || (&task)[1].document != task.document);
    }
    return text;
  }
  TemporaryFolder folder_;
  ScanList list_;
};

TEST_F(Split, AtBlankSheetsWhichAreLeftOut) {
  for (const char* name : {"a", "b", "e"}) leaf(name);
  for (const char* name : {"c", "d", "f"}) blank(name);
  EXPECT_EQ(parts("blank"), "1: a b, 2: e");
  EXPECT_EQ(list_.documents.size(), 2u);
  parts("");
  EXPECT_FALSE(list_.split);
}

TEST_F(Split, AtSeparatorSheetsWhoseFieldsTheDocumentGets) {
  sheet("a", {{"box", "7"}});
  leaf("b");
  sheet("c", {{"box", "8"}});
  sheet("d", {{"box", "9"}, {"title", "Log"}});
  leaf("e");
  EXPECT_EQ(parts("separator"), "1: b, 2: e");
  ASSERT_EQ(list_.documents.size(), 2u);
  EXPECT_EQ(list_.documents[0].fields, (DescriptiveFields{{"box", "7"}}));
  EXPECT_EQ(list_.documents[1].fields, (DescriptiveFields{{"box", "9"}, {"title", "Log"}}));
  EXPECT_EQ(list_.documents[1].number, 2);
}

TEST_F(Split, AtCodesThatFitAPattern) {
  leaf("a");
  sheet("b", {{"box", "7"}});
  leaf("c");
  sheet("d", {{"shelf", "1"}});
  EXPECT_EQ(parts("barcode=burnisher-separator:box=?"), "1: a, 2: b c d");
  EXPECT_EQ(list_.documents[1].fields,
            (DescriptiveFields{{"barcode", "burnisher-separator:box=7"}}));
  EXPECT_EQ(parts("barcode=*"), "1: a, 2: b c, 3: d");
  EXPECT_EQ(parts("barcode=INV-*"), "1: a b c d");
}

TEST_F(Split, ScansThatCannotBeLookedAtStayWithWhatIsBefore) {
  leaf("a");
  // A header that promises a picture, and nothing behind it.
  leaf("b");
  const std::vector<uint8_t> whole = read_file(folder_.file("b.png"));
  write_file(folder_.file("b.png"), std::vector<uint8_t>(whole.begin(), whole.begin() + 60));
  blank("c");
  leaf("d");
  EXPECT_EQ(parts("blank"), "1: a b, 2: d");
}

TEST(SplitRules, AreThree) {
  EXPECT_EQ(split_rule("").at, SplitRule::At::kNowhere);
  EXPECT_EQ(split_rule("blank").at, SplitRule::At::kBlank);
  EXPECT_EQ(split_rule("separator").at, SplitRule::At::kSeparator);
  EXPECT_EQ(split_rule("barcode=A*").pattern, "A*");
  for (const char* none : {"barcode", "barcode=", "moon", "Blank"})
    EXPECT_THROW(split_rule(none), SettingsError) << none;
}

}  // namespace
}  // namespace burnisher::run
