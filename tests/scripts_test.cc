// Scripts other than Latin through the built program: told by themselves, kept in the order in
// which they are typed, and named where nothing reads them.
#include <gtest/gtest.h>

#include <algorithm>
#include <cstdlib>
#include "base/json.h"

#include "base/files.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

using testing::PrintedPage;
using testing::TemporaryFolder;

class Scripts : public ::testing::Test {
 protected:
  void print(const std::string& name, const std::vector<std::string>& lines) {
    PrintedPage page(1500, 200 + 70 * static_cast<int>(lines.size()));
    page.print_column(lines, 120, 150, 44, 66);
    write_file(folder_.file(name), write_png(page.picture(), 300));
  }
  Outcome in(const std::string& command) const {
    return shell("cd " + folder_.path() + " && " + command);
  }
  std::string text(const std::string& name) const { return folded(content_of(folder_.file(name))); }
  TemporaryFolder folder_;
};

const std::vector<std::string> kRussian = {
    "Смотритель маяка записал в журнал, что", "масла осталось на двенадцать ночей, а лодка",
    "с припасами не пришла. Ветер был с запада,", "и волны били в камни под самой башней."};
const std::vector<std::string> kEnglish = {"The keeper of the light wrote in his log that",
                                           "the oil would last for twelve nights, and that",
                                           "the boat with the stores had not come. The wind",
                                           "was from the west, and the sea was rough."};

TEST_F(Scripts, RussianIsReadWithoutBeingTold) {
  print("log.png", kRussian);
  const Outcome o = in("$B run log.png --out log.txt --out log.pdf --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string read = text("log.txt");
  for (const char* word : {"Смотритель маяка", "двенадцать ночей", "припасами", "самой башней"})
    EXPECT_TRUE(contains(read, word)) << word << " in " << read;
  const Outcome pdf = in("pdftotext -raw log.pdf -");
  EXPECT_TRUE(contains(folded(pdf.out), "Смотритель маяка")) << pdf.out;
}

TEST_F(Scripts, APageOfTwoIsReadInBoth) {
  std::vector<std::string> both = kEnglish;
  both.insert(both.end(), kRussian.begin(), kRussian.end());
  print("two.png", both);
  const Outcome o = in("$B run two.png --out two.txt --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string read = text("two.txt");
  EXPECT_TRUE(contains(read, "The keeper of the light wrote in his log")) << read;
  EXPECT_TRUE(contains(read, "Смотритель маяка записал в журнал")) << read;
}

TEST_F(Scripts, VietnameseIsReadByTheBundleThatHasItsLetters) {
  const char* lines[] = {"Người giữ đèn ghi vào sổ rằng dầu chỉ còn đủ",
                         "cho mười hai đêm, và chiếc thuyền chở lương",
                         "thực vẫn chưa đến. Gió thổi từ phía tây, biển",
                         "động mạnh và sóng vỗ vào chân ngọn tháp cũ.",
                         "Ông thắp đèn trước khi trời tối mỗi buổi chiều."};
  PrintedPage page(1500, 560);
  for (int i = 0; i < 5; ++i) page.print({lines[i], 120, 150.0 + 70 * i, 40, "DejaVu Serif"});
  write_file(folder_.file("vi.png"), write_png(page.picture(), 300));
  for (const char* how : {"", "--lang vi"}) {
    ASSERT_EQ(in(std::string("$B run vi.png --out vi.txt --overwrite --quiet ") + how).code, 0);
    const std::string read = text("vi.txt");
    for (const char* words : {"Người giữ đèn", "mười hai đêm", "phía tây", "sóng vỗ vào chân"})
      EXPECT_TRUE(contains(read, words)) << how << ": " << words << " in " << read;
  }
}

TEST_F(Scripts, SmallCapitalsAreInTheCaseTheyAreSetFrom) {
  PrintedPage page(1500, 700);
  page.print_column(kEnglish, 120, 150, 44, 66);
  page.print({"K", 600, 460, 44}).print({"EEPER", 634, 460, 34});
  page.print_column(kEnglish, 120, 530, 44, 56);
  write_file(folder_.file("play.png"), write_png(page.picture(), 300));
  ASSERT_EQ(in("$B recognise play.png --out-dir read --quiet").code, 0);
  const std::string xml = content_of(folder_.file("read/play.xml"));
  EXPECT_TRUE(contains(xml, "<Unicode>Keeper</Unicode>")) << xml.substr(0, 3000);
  EXPECT_TRUE(contains(xml, "<TextStyle smallCaps=\"true\"")) << xml.substr(0, 3000);
}

// Whether or not there is a dictionary: words that read well are no suspects in any script.
TEST_F(Scripts, FewWordsOfACleanPageAreSuspects) {
  print("log.png", kRussian);
  const Outcome o = in("$B run log.png --out log.txt --json --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto page = parse_json(o.out)["pages"][0];
  EXPECT_GT(page["words"].get<int>(), 15);
  EXPECT_LE(page["suspects"].get<int>(), page["words"].get<int>() / 8);
}

// A letter of a harbour office, as it came from the scanner.
TEST_F(Scripts, JapaneseAcrossIsReadWithTheEnglishOnItsPage) {
  const std::string scan = BURNISHER_TEST_SCANS "/harbour-letter.jpg";
  const Outcome o = in("$B run " + scan + " --out a.txt --out a.md --out a.pdf --json --quiet");
  ASSERT_LE(o.code, 1) << o.err;  // the network is not sure enough yet to call it clear
  const std::string text = content_of(folder_.file("a.txt"));
  EXPECT_TRUE(contains(text, "灯台\nのレンズを納めた箱は、昨日の定期船で本港に到着し、税関の"))
      << text;
  EXPECT_TRUE(contains(text, "Please quote our number")) << text;
  EXPECT_TRUE(contains(content_of(folder_.file("a.md")), "灯台のレンズを納めた箱は")) << text;
  EXPECT_TRUE(contains(in("pdftotext -raw a.pdf -").out, "定期船で本港に到着し"));
  EXPECT_EQ(in("qpdf --check a.pdf").code, 0);
}

TEST_F(Scripts, WhatIsSaidCountsBeforeWhatIsSeen) {
  print("log.png", kRussian);
  ASSERT_EQ(in("$B run log.png --out forced.txt --script Latn --quiet").code, 1);
  EXPECT_FALSE(contains(text("forced.txt"), "маяка"));
  ASSERT_EQ(in("$B run log.png --out ru.txt --lang ru --quiet").code, 0);
  EXPECT_TRUE(contains(text("ru.txt"), "маяка"));
  ASSERT_EQ(in("$B run log.png --out one.txt --model cyrillic --quiet").code, 0);
  EXPECT_TRUE(contains(text("one.txt"), "маяка"));
}

TEST_F(Scripts, ALayoutFileKeepsWhatEachLineWasReadAs) {
  print("log.png", kRussian);
  ASSERT_EQ(in("$B recognise log.png --out-dir read --quiet").code, 0);
  const std::string xml = content_of(folder_.file("read/log.xml"));
  EXPECT_TRUE(contains(xml, "script {code:Cyrl;}")) << xml.substr(0, 2000);
  ASSERT_EQ(in("$B export read/log.xml --out log.html --quiet").code, 0);
  EXPECT_TRUE(contains(content_of(folder_.file("log.html")), "маяка"));
}

// Hebrew as it is printed: from the right, so that Cairo sets it in its place.
PrintedPage hebrew_page() {
  const char* lines[] = {"שומר המגדלור רשם ביומן", "כי השמן יספיק לעוד 12 לילות",
                         "והסירה עם האספקה לא באה", "הרוח באה מן המערב והים"};
  PrintedPage page(1500, 620);
  for (int i = 0; i < 4; ++i) {
    const std::string printed = encode_utf8(as_printed(decode_utf8(lines[i])));
    page.print({printed, 200, 150.0 + 100 * i, 56, "DejaVu Sans"});
  }
  return page;
}

TEST_F(Scripts, HebrewIsKeptAsItIsTyped) {
  write_file(folder_.file("he.png"), write_png(hebrew_page().picture(), 300));
  const Outcome o =
      in("$B run he.png --out he.txt --out he.pdf --out he.html --out words.tsv --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string read = text("he.txt");
  for (const char* words : {"שומר המגדלור", "לעוד 12 לילות", "הרוח באה"})
    EXPECT_TRUE(contains(read, words)) << words << " in " << read;
  EXPECT_TRUE(contains(content_of(folder_.file("he.html")), "dir=\"rtl\""));
  // Copied from the PDF it reads the same; poppler puts marks of direction round it.
  std::string copied = in("pdftotext -raw he.pdf -").out;
  for (const char* mark : {"\u202A", "\u202B", "\u202C"})
    for (size_t at; (at = copied.find(mark)) != std::string::npos;) copied.erase(at, 3);
  EXPECT_TRUE(contains(folded(copied), "שומר המגדלור")) << copied;
  // The first word of a line is the rightmost: the sixth column is its left.
  const auto left_of = [&](const std::string& word) {
    return std::atof(
        in("awk -F'\\t' '$NF == \"" + word + "\" {print $6; exit}' words.tsv").out.c_str());
  };
  EXPECT_GT(left_of("שומר"), left_of("המגדלור"));
  EXPECT_GT(left_of("המגדלור"), left_of("ביומן"));
  EXPECT_GT(left_of("ביומן"), 0);
}

TEST_F(Scripts, ColumnsAreReadFromTheRight) {
  PrintedPage page(2000, 700);
  const char* right[] = {"שומר המגדלור רשם ביומן", "כי השמן יספיק לעוד", "והסירה עם האספקה"};
  const char* left[] = {"הרוח באה מן המערב", "הגלים היכו באבנים", "המנורה דלקה כל הלילה"};
  for (int i = 0; i < 3; ++i) {
    page.print(
        {encode_utf8(as_printed(decode_utf8(left[i]))), 150, 200.0 + 90 * i, 50, "DejaVu Sans"});
    page.print(
        {encode_utf8(as_printed(decode_utf8(right[i]))), 1100, 200.0 + 90 * i, 50, "DejaVu Sans"});
  }
  write_file(folder_.file("two.png"), write_png(page.picture(), 300));
  ASSERT_EQ(in("$B run two.png --out two.txt --columns 2 --quiet").code, 0);
  const std::string read = text("two.txt");
  const size_t one = read.find("שומר"), other = read.find("הרוח");
  ASSERT_NE(one, std::string::npos) << read;
  ASSERT_NE(other, std::string::npos) << read;
  EXPECT_LT(one, other) << read;
}

TEST_F(Scripts, ABundleThatIsCutShortIsNamedAndLatinPagesGoOn) {
  print("log.png", kEnglish);
  print("ru.png", kRussian);
  ASSERT_EQ(
      in("mkdir m && cp -r " BURNISHER_MODELS_FOLDER "/. m && head -c 5000 " BURNISHER_MODELS_FOLDER
         "/cyrillic.safetensors > m/cyrillic.safetensors")
          .code,
      0);
  const Outcome latin = in("$B run log.png --out log.txt --models m --quiet");
  EXPECT_EQ(latin.code, 0) << latin.err;
  EXPECT_TRUE(contains(text("log.txt"), "The keeper of the light"));
  const Outcome russian = in("$B run ru.png log.png --out-dir out --to text --models m --quiet");
  EXPECT_EQ(russian.code, 1);
  EXPECT_TRUE(contains(russian.err, "cyrillic.safetensors")) << russian.err;
  EXPECT_TRUE(contains(text("out/log.txt"), "The keeper of the light"));
  put(folder_.file("m/cyrillic.bundle.json"), "{\"format\": 3}");
  const Outcome table = in("$B run log.png --out again.txt --models m");
  EXPECT_EQ(table.code, 3);
  EXPECT_TRUE(contains(table.err, "cyrillic.bundle.json")) << table.err;
}

TEST_F(Scripts, BundlesAreListed) {
  const Outcome list = shell("$B models");
  ASSERT_EQ(list.code, 0) << list.err;
  for (const char* part :
       {"latin\n", "Latin (Latn)", "cyrillic\n", "Cyrillic (Cyrl)", "lines, the last time"})
    EXPECT_TRUE(contains(list.out, part)) << list.out;
  const auto table = parse_json(shell("$B models cyrillic --json").out);
  ASSERT_EQ(table.size(), 1u);
  EXPECT_EQ(table[0]["scripts"][0], "Cyrl");
  EXPECT_GT(table[0]["characters"].get<int>(), 150);
}

TEST_F(Scripts, WhatIsNotKnownIsNamed) {
  print("log.png", kEnglish);
  const Outcome script = in("$B run log.png --out a.txt --script Runr");
  EXPECT_EQ(script.code, 2);
  EXPECT_TRUE(contains(script.err, "Runr") && contains(script.err, "Cyrl (Cyrillic)"))
      << script.err;
  const Outcome model = in("$B run log.png --out a.txt --model runes");
  EXPECT_EQ(model.code, 2);
  EXPECT_TRUE(contains(model.err, "runes") && contains(model.err, "latin, ")) << model.err;
  EXPECT_EQ(in("$B run log.png --out a.txt --script \"\"").code, 2);
  EXPECT_EQ(in("$B run log.png --out a.txt --model \"\"").code, 2);
  const Outcome language = in("$B run log.png --out a.txt --lang en,ko");
  EXPECT_TRUE(contains(language.err, "no bundle reads its script")) << language.err;
}

}  // namespace
}  // namespace burnisher::tests
