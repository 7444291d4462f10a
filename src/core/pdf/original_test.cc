#include "pdf/original.h"

#include <gtest/gtest.h>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "testing/pdf_file.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;
using testing::parsed;
using testing::save_pdf;

// What came in: two pages of 500 x 700 points that leave the pen moved and the state open.
std::string incoming(const testing::TemporaryFolder& folder, const std::string& page_entries = "",
                     const std::string& root_entries = "") {
  QPDF pdf;
  pdf.emptyPDF();
  for (int i = 0; i < 2; ++i) {
    auto page = parsed("<< /Type /Page /MediaBox [0 0 500 700] " + page_entries + " >>");
    page.replaceKey("/Contents", pdf.makeIndirectObject(QPDFObjectHandle::newStream(
                                     &pdf, "2 0 0 2 50 50 cm 0.5 g 0 0 10 10 re f\n")));
    pdf.addPage(pdf.makeIndirectObject(page), false);
  }
  auto entries = parsed("<< " + root_entries + " >>");
  for (const std::string& key : entries.getKeys())
    pdf.getRoot().replaceKey(key, entries.getKey(key));
  const std::string path = folder.file("in.pdf");
  save_pdf(pdf, path);
  return path;
}

// Read from a scan of 1000 x 1400 pixels.
Page read_page(int number, const std::string& word) {
  Page page = page_of({line_at({word, "light"}, 200, 700)});
  page.number = number;
  page.geometry.scan_width = 1000;
  page.geometry.scan_height = 1400;
  return page;
}

std::string first_box(const testing::TemporaryFolder& folder, const std::string& word) {
  const std::string out = folder.file("words");
  EXPECT_EQ(std::system(("pdftotext -bbox " + folder.file("out.pdf") + " " + out).c_str()), 0);
  const auto bytes = read_file(out);
  const std::string text(bytes.begin(), bytes.end());
  const size_t end = text.find(">" + word + "<");
  return end == std::string::npos ? "" : text.substr(text.rfind("<word", end), 44);
}

TEST(OriginalPdf, TextLiesWhereItWasReadWhateverThePageLeavesBehind) {
  testing::TemporaryFolder folder;
  pdf::OriginalPdf original(incoming(folder), "", {folder.file("out.pdf"), false});
  original.add(read_page(1, "Skerrow"));
  original.add(read_page(2, "Dunmore"));
  original.finish({});
  // x 200 of 1000 pixels on 500 points.
  EXPECT_EQ(first_box(folder, "Skerrow").find("<word xMin=\"100.0"), 0u)
      << first_box(folder, "Skerrow");
  EXPECT_EQ(first_box(folder, "Dunmore").find("<word xMin=\"100.0"), 0u);
  EXPECT_EQ(original.sizes().pages, 2);
  EXPECT_EQ(std::system(("qpdf --check " + folder.file("out.pdf") + " > /dev/null").c_str()), 0);
}

TEST(OriginalPdf, PagesTurnedAndCroppedGetTheirTextWhereItIsSeen) {
  testing::TemporaryFolder folder;
  // Seen: 680 wide, 480 high.
  pdf::OriginalPdf original(incoming(folder, "/Rotate 90 /CropBox [10 10 490 690]"), "",
                            {folder.file("out.pdf"), false});
  Page page = read_page(1, "Skerrow");
  page.width = page.geometry.scan_width = 1360;
  page.height = page.geometry.scan_height = 960;
  original.add(page);
  original.finish({});
  // Two pixels a point from the left of what is seen, which begins 10 points inside the sheet.
  EXPECT_EQ(first_box(folder, "Skerrow").find("<word xMin=\"110.0"), 0u)
      << first_box(folder, "Skerrow");
}

TEST(OriginalPdf, FieldsStayUnlessOthersAreGiven) {
  testing::TemporaryFolder folder;
  const std::string in = incoming(folder, "", "/Lang (de) /PageMode /UseThumbs");
  {
    pdf::OriginalPdf original(in, "", {folder.file("out.pdf"), false});
    original.add(read_page(1, "Skerrow"));
    original.finish({});
  }
  QPDF pdf;
  pdf.processFile(folder.file("out.pdf").c_str());
  EXPECT_EQ(pdf.getRoot().getKey("/Lang").getUTF8Value(), "de");
  EXPECT_EQ(pdf.getRoot().getKey("/PageMode").getName(), "/UseThumbs");
  EXPECT_FALSE(pdf.getTrailer().hasKey("/Info"));
  pdf::About about;
  about.title = "Log";
  about.language = "en";
  pdf::OriginalPdf original(in, "", {folder.file("out.pdf"), true});
  original.finish(about);
  QPDF other;
  other.processFile(folder.file("out.pdf").c_str());
  EXPECT_EQ(other.getTrailer().getKey("/Info").getKey("/Title").getUTF8Value(), "Log");
  EXPECT_EQ(other.getRoot().getKey("/Lang").getUTF8Value(), "de");
}

TEST(OriginalPdf, WhatMayNotBeChangedIsRefused) {
  testing::TemporaryFolder folder;
  const std::string out = folder.file("out.pdf");
  EXPECT_THROW(
      pdf::OriginalPdf(incoming(folder, "", "/AcroForm << /SigFlags 1 >>"), "", {out, false}),
      InputError);
  const std::string in = incoming(folder);
  const std::string locked = folder.file("locked.pdf");
  ASSERT_EQ(std::system(("qpdf --encrypt lamp lamp 256 -- " + in + " " + locked).c_str()), 0);
  EXPECT_THROW(pdf::OriginalPdf(locked, "oil", {out, false}), InputError);
  EXPECT_NO_THROW(pdf::OriginalPdf(locked, "lamp", {out, false}));
  write_file(folder.file("no.pdf"), std::string_view("no PDF"));
  EXPECT_THROW(pdf::OriginalPdf(folder.file("no.pdf"), "", {out, false}), FormatError);
  pdf::OriginalPdf original(in, "", {out, false});
  EXPECT_THROW(original.add(read_page(3, "Skerrow")), FormatError);
}

}  // namespace
}  // namespace burnisher
