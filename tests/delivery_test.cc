// Documents as they are delivered: PDFs, texts, tables of words, through the built program.
#include <gtest/gtest.h>

#include "base/json.h"

#include <algorithm>
#include <cstdio>
#include <filesystem>

#include "base/files.h"
#include "browser.h"
#include "program.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/png.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;
using testing::TemporaryFolder;

// A job with two pages of the keeper's log, the second as a crooked JPEG.
void make_job(const TemporaryFolder& folder) {
  log_page(folder, "log.png");
  const std::string crooked = log_page(folder, "more.png", 1.5);
  const PngRead read = read_png(read_file(crooked), 1e9);
  write_file(folder.file("more.jpg"), write_jpeg(std::get<Gray>(read.picture), 80));
  const Outcome o = shell("cd " + folder.path() +
                          " && $B run log.png more.jpg --job job --out all.txt --lang en --quiet");
  ASSERT_EQ(o.code, 0) << o.err;
}

TEST(Delivery, EverySizeAndFaceIsSoundAndReadsTheSame) {
  TemporaryFolder folder;
  make_job(folder);
  const std::string text = folded(content_of(folder.file("all.txt")));
  for (const char* options :
       {"--size small", "--size normal", "--size exact", "--face facsimile", "--face hybrid",
        "--face reset", "--face hybrid --size exact", "--archive --title Log --lang en",
        "--face reset --archive --title Log --lang en"}) {
    const Outcome o = in(folder, std::string("$B export job --out a.pdf --overwrite ") + options);
    ASSERT_EQ(o.code, 0) << options << o.err;
    EXPECT_EQ(in(folder, "qpdf --check a.pdf").code, 0) << options;
    EXPECT_EQ(folded(in(folder, "pdftotext -raw a.pdf -").out), text) << options;
    EXPECT_EQ(in(folder, "$B check a.pdf").code, 0) << options;
    EXPECT_EQ(in(folder, "pdftoppm -r 50 -png a.pdf drawn").err, "") << options;
  }
}

TEST(Delivery, WhatIsCutOutIsNeitherInTextNorPicture) {
  TemporaryFolder folder;
  testing::PrintedPage page(1000, 900);
  page.print({"Notice to keepers", 80, 140, 60}).print({"The lamp was lit at dusk.", 80, 400, 40});
  page.print({"The bell was heard at noon.", 80, 700, 40});
  for (const char* name : {"notice.png", "second.png"})
    write_file(folder.file(name), write_png(page.picture(), 200));
  ASSERT_EQ(in(folder, "$B run notice.png second.png --job job --out all.txt --lang en").code, 0);
  const Outcome o = in(folder, "$B export job --out a.pdf --out a.txt --keep 2:2");
  ASSERT_EQ(o.code, 0) << o.err;
  const std::string text = folded(content_of(folder.file("a.txt")));
  EXPECT_EQ(text, "The lamp was lit at dusk.");
  EXPECT_EQ(folded(in(folder, "pdftotext -raw a.pdf -").out), text);
  EXPECT_TRUE(contains(folded(in(folder, "pdfinfo a.pdf").out), "Pages: 1"));
  // The picture has less ink than that of the whole page, and its size.
  ASSERT_EQ(in(folder, "$B export job --out b.pdf --keep 2").code, 0);
  const auto ink = [&](const std::string& pdf) {
    EXPECT_EQ(in(folder, "pdftoppm -r 60 -gray -singlefile " + pdf + ".pdf " + pdf).code, 0);
    const auto bytes = read_file(folder.file(pdf + ".pgm"));
    return std::count_if(bytes.begin() + 20, bytes.end(), [](uint8_t byte) { return byte < 128; });
  };
  const auto part = ink("a"), all = ink("b");
  EXPECT_GT(part, 0);
  EXPECT_LT(part, all);
  for (const char* wrong : {"--keep 3", "--keep 1:99", "--keep x", "--keep 1 --order 2,1",
                            "--keep 1:1 --face facsimile"})
    EXPECT_NE(in(folder, std::string("$B export job --out w.pdf ") + wrong).code, 0) << wrong;
  EXPECT_TRUE(contains(in(folder, "$B export job --out w.mets --keep 1").err,
                       "names the files of whole pages"));
  EXPECT_FALSE(fs::exists(folder.file("w.pdf")));
}

TEST(Delivery, RealTypeStandsWhereThePrintStood) {
  TemporaryFolder folder;
  make_job(folder);
  for (const char* face : {"hybrid", "reset"}) {
    ASSERT_EQ(in(folder, std::string("$B export job --out a.pdf --overwrite --face ") + face).code,
              0);
    EXPECT_TRUE(contains(in(folder, "pdffonts a.pdf").out, "+Liberation")) << face;
    // Drawn, the page looks like the one that was read.
    ASSERT_EQ(in(folder, "pdftoppm -r 150 -f 1 -l 1 -gray -png a.pdf drawn").code, 0);
    ASSERT_EQ(in(folder, "$B export job --out b.pdf --overwrite --size exact").code, 0);
    ASSERT_EQ(in(folder, "pdftoppm -r 150 -f 1 -l 1 -gray -png b.pdf print").code, 0);
    const auto drawn = read_png(read_file(folder.file("drawn-1.png")), 1e9);
    const auto print = read_png(read_file(folder.file("print-1.png")), 1e9);
    const Gray a = reduced(to_gray(drawn.picture), 6), b = reduced(to_gray(print.picture), 6);
    ASSERT_EQ(a.samples().size(), b.samples().size());
    double both = 0, either = 0;
    for (size_t i = 0; i < a.samples().size(); ++i) {
      both += 255 - std::max(a.samples()[i], b.samples()[i]);
      either += 255 - std::min(a.samples()[i], b.samples()[i]);
    }
    EXPECT_GT(both / either, 0.75) << face;
  }
}

TEST(Delivery, SmallIsSmallerThanNormalAndNormalThanTheScan) {
  TemporaryFolder folder;
  make_job(folder);
  const auto size = [&](const std::string& options) {
    EXPECT_EQ(in(folder, "$B export job --out a.pdf --overwrite --quiet " + options).code, 0);
    return fs::file_size(folder.file("a.pdf"));
  };
  EXPECT_LE(size("--size small"), size("--size normal"));
  EXPECT_LT(size("--size normal"), size("--size exact"));
}

TEST(Delivery, AFacsimileHoldsTheScansOwnBytes) {
  TemporaryFolder folder;
  make_job(folder);
  ASSERT_EQ(in(folder, "$B export job --out f.pdf --face facsimile").code, 0);
  ASSERT_EQ(in(folder, "pdfimages -all f.pdf i").code, 0);
  EXPECT_EQ(read_file(folder.file("i-001.jpg")), read_file(folder.file("more.jpg")));
  // Drawn, its pages are the scans, each its own.
  ASSERT_EQ(in(folder, "pdftoppm -scale-to-x 1300 -scale-to-y 800 -gray -png f.pdf drawn").code, 0);
  for (const char* scan : {"log.png", "more.jpg"}) {
    const bool first = std::string(scan) == "log.png";
    const double own =
        likeness(folder.file(first ? "drawn-1.png" : "drawn-2.png"), folder.file(scan));
    const double other =
        likeness(folder.file(first ? "drawn-2.png" : "drawn-1.png"), folder.file(scan));
    EXPECT_GT(own, 0.7) << scan;
    EXPECT_LT(other, own / 2) << scan;
  }
  ASSERT_EQ(in(folder,
               "opj_compress -i log.png -o log.jp2 -r 8 > /dev/null 2>&1 && "
               "$B run log.jp2 --out j.pdf --out j.txt --face facsimile --archive "
               "--lang en --title Log --quiet && pdfimages -all j.pdf j")
                .code,
            0);
  EXPECT_EQ(read_file(folder.file("j-000.jp2")), read_file(folder.file("log.jp2")));
  EXPECT_TRUE(contains(content_of(folder.file("j.txt")), "Skerrow"));
  EXPECT_EQ(in(folder, "$B check j.pdf").code, 0);
}

TEST(Delivery, AFacsimileOfAPdfHoldsItsPicturesBytes) {
  TemporaryFolder folder;
  make_job(folder);
  // One page of JPEG, one of ink coded with what pages share.
  ASSERT_EQ(in(folder,
               "$B export job --out jpeg.pdf --face facsimile --order 2 --quiet && "
               "cp " BURNISHER_DEMO_SCANS "/05-stores.tif ink.tif")
                .code,
            0);
  ASSERT_EQ(in(folder, "$B run ink.tif --out ink.pdf --quiet").code, 0);
  for (const char* name : {"jpeg", "ink"}) {
    const std::string file = name;
    const Outcome o =
        in(folder, "$B run " + file +
                       ".pdf --out again.pdf --face facsimile "
                       "--existing-text replace --overwrite --quiet && pdfimages -all " +
                       file + ".pdf a && pdfimages -all again.pdf b");
    ASSERT_EQ(o.code, 0) << o.err;
    const auto endings = file == "jpeg" ? std::vector<std::string>{".jpg"}
                                        : std::vector<std::string>{".jb2e", ".jb2g"};
    for (const std::string& ending : endings)
      EXPECT_EQ(read_file(folder.file("a-000" + ending)), read_file(folder.file("b-000" + ending)));
    EXPECT_EQ(in(folder, "qpdf --check again.pdf").code, 0);
  }
}

TEST(Delivery, ThumbnailsAreInTheFileWhenTheyOpenIt) {
  TemporaryFolder folder;
  make_job(folder);
  const Outcome o = in(folder,
                       "$B export job --out a.pdf --opening thumbnails --report r.html "
                       "--archive --lang en --quiet && "
                       "qpdf --qdf --object-streams=disable a.pdf q.pdf && $B check a.pdf");
  ASSERT_EQ(o.code, 0) << o.out << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("q.pdf")), "/Thumb "));
  EXPECT_TRUE(contains(content_of(folder.file("r.html")), "<td>a.pdf</td>"));
}

TEST(Delivery, WordsOfACrookedFacsimileLieOnItsPrint) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 3);
  ASSERT_EQ(in(folder,
               "$B run log.png --out a.pdf --out a.json --face facsimile --positions scan "
               "--quiet")
                .code,
            0);
  const auto words = parse_json(content_of(folder.file("a.json")));
  const Outcome boxes = in(folder, "pdftotext -bbox a.pdf -");
  int checked = 0;
  for (const auto& word : words) {
    if (word["text"] != "Skerrow") continue;
    const size_t at = boxes.out.find(">Skerrow<");
    ASSERT_NE(at, std::string::npos);
    const size_t start = boxes.out.rfind("<word", at);
    double x0, y0, x1, y1;
    ASSERT_EQ(std::sscanf(boxes.out.c_str() + start,
                          "<word xMin=\"%lf\" yMin=\"%lf\" xMax=\"%lf\" yMax=\"%lf\"", &x0, &y0,
                          &x1, &y1),
              4);
    const auto& box = word["box"];
    EXPECT_NEAR((x0 + x1) / 2 * 300 / 72, (box[0].get<double>() + box[2].get<double>()) / 2, 6);
    EXPECT_NEAR((y0 + y1) / 2 * 300 / 72, (box[1].get<double>() + box[3].get<double>()) / 2, 12);
    ++checked;
    break;
  }
  EXPECT_EQ(checked, 1);
}

TEST(Delivery, BookmarksLabelsFieldsAndOpening) {
  TemporaryFolder folder;
  make_job(folder);
  put(folder.file("marks.tsv"), "First week\t1\nSecond week\t2\t2\n");
  ASSERT_EQ(in(folder,
               "$B export job --out a.pdf --bookmarks marks.tsv --labels 1:i,2-:7 --opening "
               "bookmarks --title Log --author 'J. Dunmore' --date 1923-11-12 --quiet")
                .code,
            0);
  in(folder, "qpdf --qdf --object-streams=disable a.pdf plain.pdf");
  const std::string plain = content_of(folder.file("plain.pdf"));
  for (const char* part :
       {"(Second week)", "/UseOutlines", "/PageLabels", "/S /r", "/St 7", "(D:19231112)"})
    EXPECT_TRUE(contains(plain, part)) << part;
  EXPECT_TRUE(contains(in(folder, "qpdf --check a.pdf").out, "linearized"));
  EXPECT_TRUE(contains(in(folder, "pdfinfo a.pdf").out, "J. Dunmore"));
  EXPECT_TRUE(contains(in(folder, "pdfinfo a.pdf").out, "Tagged:          yes"));
}

TEST(Delivery, WrongSettingsAreSaidToBe) {
  TemporaryFolder folder;
  make_job(folder);
  for (const char* options :
       {"--labels x", "--date yesterday", "--order 9", "--replace-page 9=log.png",
        "--replace-page cover.png", "--size tiny"}) {
    const Outcome o = in(folder, std::string("$B export job --out a.pdf ") + options);
    EXPECT_EQ(o.code, 2) << options << o.err;
    EXPECT_FALSE(fs::exists(folder.file("a.pdf")));
  }
  EXPECT_EQ(in(folder, "$B export job --out a.pdf --bookmarks none.tsv").code, 3);
  put(folder.file("marks.tsv"), "Stores\t9\n");
  const Outcome beyond = in(folder, "$B export job --out a.pdf --bookmarks marks.tsv");
  EXPECT_EQ(beyond.code, 3);
  EXPECT_TRUE(contains(beyond.err, "9")) << beyond.err;
}

TEST(Delivery, WhatWouldFailInTheEndIsSaidAtOnce) {
  TemporaryFolder folder;
  make_job(folder);
  write_file(folder.file("no-fonts.conf"),
             std::string_view("<?xml version=\"1.0\"?><fontconfig></fontconfig>"));
  struct Case {
    const char *before, *options, *said;
  };
  for (const Case& c : std::vector<Case>{
           {"", "--replace-page 1=none.jpg", "none.jpg: there is no such file"},
           {"", "--report no/such/r.html", "no/such/r.html"},
           {"FONTCONFIG_FILE=$PWD/no-fonts.conf ", "--face reset",
            "Liberation Serif is not installed"},
       }) {
    const Outcome o = in(folder, std::string(c.before) + "$B export job --out a.pdf " + c.options);
    EXPECT_EQ(o.code, 3) << c.options;
    EXPECT_TRUE(contains(o.err, c.said)) << o.err;
    EXPECT_FALSE(contains(o.err, "done in")) << o.err;
    EXPECT_FALSE(fs::exists(folder.file("a.pdf"))) << c.options;
  }
}

TEST(Delivery, PagesAreOrderedReplacedAndBlankOnesDropped) {
  TemporaryFolder folder;
  log_page(folder, "a.png");
  write_file(folder.file("b.png"), write_png(Picture(Gray(900, 1200, 255)), 200));
  write_file(folder.file("cover.jpg"), write_jpeg(Colour(400, 600, 120), 80));
  ASSERT_EQ(in(folder, "$B run a.png b.png --out all.pdf --job job --quiet").code, 0);
  EXPECT_TRUE(contains(in(folder, "pdfinfo all.pdf").out, "Pages:           2"));
  const Outcome dropped = in(folder, "$B run a.png b.png --out less.pdf --drop-blank");
  EXPECT_EQ(dropped.code, 0);
  EXPECT_TRUE(contains(dropped.err, "left out")) << dropped.err;
  EXPECT_TRUE(contains(in(folder, "pdfinfo less.pdf").out, "Pages:           1"));
  ASSERT_EQ(in(folder, "$B export job --out turned.pdf --order 2,1 --quiet").code, 0);
  EXPECT_TRUE(contains(in(folder, "pdftotext -f 2 -l 2 turned.pdf -").out, "Skerrow"));
  ASSERT_EQ(in(folder, "$B export job --out cover.pdf --replace-page 2=cover.jpg --quiet").code, 0);
  EXPECT_TRUE(contains(in(folder, "pdfimages -list cover.pdf").out, "rgb"));
  ASSERT_EQ(in(folder,
               "$B run a.png b.png --out run.pdf --replace-page 2=cover.jpg --order 2,1 "
               "--quiet")
                .code,
            0);
  EXPECT_TRUE(contains(in(folder, "pdftotext -f 2 -l 2 run.pdf -").out, "Skerrow"));
}

TEST(Delivery, NamesFollowAPattern) {
  TemporaryFolder folder;
  log_page(folder, "a.png");
  ASSERT_EQ(
      in(folder, "$B run a.png --out-dir done --to text,words --name '{stem}-read' --quiet").code,
      0);
  EXPECT_TRUE(fs::exists(folder.file("done/a-read.txt")));
  EXPECT_TRUE(fs::exists(folder.file("done/a-read.tsv")));
  EXPECT_EQ(in(folder, "$B run a.png --out-dir done --to text --name all").code, 2);
  EXPECT_EQ(in(folder, "$B run a.png --out-dir done --to text --order 1").code, 2);
}

TEST(Delivery, FlowingTextMarkdownAndLineEnds) {
  TemporaryFolder folder;
  make_job(folder);
  ASSERT_EQ(in(folder,
               "$B export job --out flow.txt --flow --out log.md --page-marks number "
               "--line-ends crlf --quiet")
                .code,
            0);
  const std::string flow = content_of(folder.file("flow.txt"));
  EXPECT_TRUE(contains(flow, "\r\n"));
  EXPECT_TRUE(contains(flow, "[2]"));
  EXPECT_TRUE(contains(content_of(folder.file("log.md")), "Skerrow"));
}

TEST(Delivery, ProseFlowsAndALogStaysLineByLine) {
  TemporaryFolder folder;
  const auto flow_of = [&](const std::string& scan) {
    EXPECT_LE(in(folder, "$B run " BURNISHER_DEMO_SCANS "/" + scan +
                             " --out flow.txt --flow --lang en --overwrite --quiet")
                  .code,
              1);
    return content_of(folder.file("flow.txt"));
  };
  EXPECT_TRUE(contains(flow_of("02-letter.jpg"),
                       "The stair has 187 steps. The lantern is 41 feet above the gallery floor, "
                       "and the light is seen for 17 miles in clear weather. I should ask that "
                       "nobody touch the lens: it was ground at a cost of £640 and cannot be had "
                       "again within a year.\n\n"));
  EXPECT_TRUE(contains(flow_of("04-log.jpg"), "\n\nFog signal sounded 6 h 40 min.\n\n"));
}

TEST(Delivery, BooksHaveNoFaults) {
  TemporaryFolder folder;
  make_job(folder);
  ASSERT_EQ(in(folder,
               "$B export job --out log.epub --title 'Log & stores' --author 'J. Dunmore' "
               "--lang en --quiet && $B export job --out again.epub --title 'Log & stores' "
               "--author 'J. Dunmore' --lang en --quiet")
                .code,
            0);
  const Outcome o = in(folder, "java -jar $(readlink -f /usr/bin/epubcheck) log.epub");
  EXPECT_EQ(o.code, 0) << o.out << o.err;
  EXPECT_FALSE(contains(o.out + o.err, "WARNING")) << o.out << o.err;
  EXPECT_EQ(content_of(folder.file("log.epub")), content_of(folder.file("again.epub")));
  const std::string text = in(folder, "unzip -p log.epub book/chapter-*.xhtml").out;
  EXPECT_TRUE(contains(text, "Skerrow"));
  EXPECT_TRUE(contains(text, "id=\"page-2\""));
}

TEST(Delivery, TheReportShowsPagesFilesAndSizes) {
  TemporaryFolder folder;
  log_page(folder, "log.png");
  write_file(folder.file("blank.png"), write_png(Picture(Gray(900, 1200, 255)), 200));
  ASSERT_EQ(in(folder, "$B run log.png blank.png --out a.pdf --report report.html --quiet").code,
            0);
  Browser browser;
  browser.open(folder.file("report.html"));
  EXPECT_EQ(browser.value_of("document.querySelectorAll('tr[id]').length"), "2");
  EXPECT_EQ(browser.value_of("document.querySelectorAll('.files td.number').length"), "2");
  EXPECT_EQ(browser.value_of("document.querySelectorAll('svg rect').length"), "2");
  EXPECT_EQ(browser.value_of("document.querySelectorAll('td img').length"), "2");
  const std::string text = browser.text_of("body");
  EXPECT_TRUE(contains(text, "a.pdf")) << text;
  EXPECT_TRUE(contains(text, "blank"));
  EXPECT_TRUE(contains(text, "text and structure"));
}

// A PDF of two pages: a picture alone, and one that has its text.
void make_mixed_pdf(const TemporaryFolder& folder) {
  log_page(folder, "log.png");
  ASSERT_EQ(in(folder,
               "$B run log.png --out picture.pdf --only picture --quiet && "
               "$B run log.png --out read.pdf --title Log --quiet && "
               "qpdf --empty --pages picture.pdf read.pdf -- mixed.pdf")
                .code,
            0);
  ASSERT_FALSE(contains(in(folder, "pdftotext picture.pdf -").out, "Skerrow"));
}

TEST(PdfIn, TextIsAddedToTheFileAsItWas) {
  TemporaryFolder folder;
  make_mixed_pdf(folder);
  const Outcome o = in(folder, "$B run mixed.pdf --out a.pdf --out a.txt --lang en");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "page 2 of mixed.pdf: has real text already; kept")) << o.err;
  EXPECT_EQ(in(folder, "qpdf --check a.pdf").code, 0);
  EXPECT_EQ(folded(in(folder, "pdftotext -raw a.pdf -").out),
            folded(content_of(folder.file("a.txt"))));
  // Pictures keep their bytes, and the page with text all of it.
  for (const char* pdf : {"mixed.pdf", "a.pdf"})
    in(folder, std::string("pdfimages -all ") + pdf + " " + pdf);
  for (const auto& entry : fs::directory_iterator(folder.path())) {
    const std::string name = entry.path().filename();
    if (name.rfind("mixed.pdf-", 0) != 0) continue;
    EXPECT_EQ(read_file(entry.path()), read_file(folder.file("a.pdf-" + name.substr(10)))) << name;
  }
  in(folder, "pdftotext -f 2 -bbox mixed.pdf before.html; pdftotext -f 2 -bbox a.pdf after.html");
  const std::string before = content_of(folder.file("before.html"));
  const std::string after = content_of(folder.file("after.html"));
  EXPECT_TRUE(before.substr(before.find("<page")) == after.substr(after.find("<page")));
}

TEST(PdfIn, ExistingTextIsReplacedOrStopsOnRequest) {
  TemporaryFolder folder;
  make_mixed_pdf(folder);
  const Outcome stopped = in(folder, "$B run mixed.pdf --out a.pdf --existing-text stop");
  EXPECT_EQ(stopped.code, 3);
  EXPECT_TRUE(contains(stopped.err, "page 2 of mixed.pdf")) << stopped.err;
  EXPECT_FALSE(fs::exists(folder.file("a.pdf")));
  const Outcome replaced =
      in(folder, "$B run mixed.pdf --out a.pdf --existing-text replace --json");
  ASSERT_EQ(replaced.code, 0) << replaced.err;
  const auto pages = parse_json(replaced.out)["pages"];
  EXPECT_TRUE(contains(json_text(pages[1]["notes"]), "read anew"));
  EXPECT_EQ(in(folder, "qpdf --check a.pdf").code, 0);
}

TEST(PdfIn, PagesWithTextAreTakenOverIntoNewDocuments) {
  TemporaryFolder folder;
  make_mixed_pdf(folder);
  ASSERT_EQ(in(folder, "$B run mixed.pdf log.png --out a.pdf --out a.txt --lang en --quiet").code,
            0);
  EXPECT_EQ(in(folder, "qpdf --check a.pdf").code, 0);
  EXPECT_TRUE(contains(in(folder, "pdfinfo a.pdf").out, "Pages:           3"));
  EXPECT_EQ(folded(in(folder, "pdftotext -raw a.pdf -").out),
            folded(content_of(folder.file("a.txt"))));
}

TEST(PdfIn, TurnedPagesGetTheirTextWhereItIsSeen) {
  TemporaryFolder folder;
  make_mixed_pdf(folder);
  ASSERT_EQ(in(folder,
               "qpdf picture.pdf turned.pdf --rotate=90 && "
               "$B run turned.pdf --out a.pdf --out a.json --positions scan --quiet")
                .code,
            0);
  EXPECT_TRUE(contains(in(folder, "pdftotext -raw a.pdf -").out, "Skerrow"));
}

TEST(PdfIn, PasswordsComeFromAFileAndSignedFilesAreRefused) {
  TemporaryFolder folder;
  make_mixed_pdf(folder);
  in(folder, "qpdf --encrypt secret owner 256 -- picture.pdf locked.pdf");
  EXPECT_EQ(in(folder, "$B run locked.pdf --out a.pdf").code, 3);
  put(folder.file("word.txt"), "wrong\n");
  EXPECT_EQ(in(folder, "$B run locked.pdf --out a.pdf --password-file word.txt").code, 3);
  put(folder.file("word.txt"), "secret\n");
  ASSERT_EQ(in(folder, "$B run locked.pdf --out a.pdf --password-file word.txt").code, 0);
  EXPECT_TRUE(contains(in(folder, "pdftotext -upw secret a.pdf -").out, "Skerrow"));
  EXPECT_NE(in(folder, "pdftotext a.pdf -").code, 0);  // still locked

  in(folder, "qpdf --qdf --object-streams=disable picture.pdf plain.pdf");
  std::string plain = content_of(folder.file("plain.pdf"));
  plain.insert(plain.find("/Type /Catalog"), "/AcroForm << /Fields [] /SigFlags 3 >> ");
  put(folder.file("plain.pdf"), plain);
  in(folder, "fix-qdf plain.pdf > signed.pdf");
  const Outcome o = in(folder, "$B run signed.pdf --out b.pdf --out b.txt");
  EXPECT_TRUE(contains(o.err, "signed")) << o.err;
  EXPECT_FALSE(fs::exists(folder.file("b.pdf")));
  EXPECT_TRUE(contains(content_of(folder.file("b.txt")), "Skerrow"));
}

TEST(Check, NamesFaultsAndGivesTheirNumber) {
  TemporaryFolder folder;
  make_job(folder);
  ASSERT_EQ(in(folder, "$B export job --out a.pdf --quiet").code, 0);
  const Outcome o = in(folder, "$B check a.pdf --archive --json");
  EXPECT_EQ(o.code, 1);
  const auto found = parse_json(o.out);
  EXPECT_EQ(found[0]["pages"], 2);
  EXPECT_FALSE(found[0]["faults"].empty());
  put(folder.file("no.pdf"), "nothing");
  EXPECT_EQ(in(folder, "$B check no.pdf").code, 3);
}

}  // namespace
}  // namespace burnisher::tests
