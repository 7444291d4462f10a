#include "pdf/check.h"

#include <gtest/gtest.h>

#include <functional>
#include <set>
#include <string>

#include "base/error.h"
#include "base/files.h"
#include "pdf/pdf.h"
#include "testing/pdf_file.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::changed_pdf;
using testing::line_at;
using testing::page_of;
using testing::parsed;

QPDFObjectHandle first_page(QPDF& pdf) {
  return pdf.getAllPages().front();
}

QPDFObjectHandle first_image(QPDF& pdf) {
  auto objects = first_page(pdf).getKey("/Resources").getKey("/XObject");
  return objects.getKey(*objects.getKeys().begin());
}

QPDFObjectHandle first_font(QPDF& pdf) {
  auto fonts = first_page(pdf).getKey("/Resources").getKey("/Font");
  return fonts.getKey(*fonts.getKeys().begin());
}

QPDFObjectHandle descendant(QPDF& pdf) {
  return first_font(pdf).getKey("/DescendantFonts").getArrayItem(0);
}

void add_annotation(QPDF& pdf, const std::string& annotation) {
  auto list = QPDFObjectHandle::newArray();
  list.appendItem(pdf.makeIndirectObject(parsed(annotation)));
  first_page(pdf).replaceKey("/Annots", list);
}

void edit_metadata(QPDF& pdf, const std::string& from, const std::string& to) {
  auto stream = pdf.getRoot().getKey("/Metadata");
  const auto data = stream.getStreamData();
  std::string text(reinterpret_cast<const char*>(data->getBuffer()), data->getSize());
  const size_t at = text.find(from);
  ASSERT_NE(at, std::string::npos);
  stream.replaceStreamData(text.replace(at, from.size(), to), QPDFObjectHandle::newNull(),
                           QPDFObjectHandle::newNull());
}

// An archive's PDF of one page with a gray picture and text; each test breaks one rule of it.
class CheckRules : public ::testing::Test {
 protected:
  void SetUp() override {
    const Page page = page_of({line_at({"Skerrow", "log"}, 100, 200)});
    pdf::PdfSettings settings;
    settings.archive = true;
    settings.about.title = "Log";
    settings.about.author = "J. Dunmore";
    settings.about.language = "en";
    pdf::PdfWriter writer({sound(), true}, settings);
    pdf::Sheet sheet;
    sheet.width = page.width;
    sheet.height = page.height;
    sheet.dpi = page.dpi;
    sheet.picture = std::make_shared<pdf::PagePicture>(
        pdf::page_picture(Gray(page.width, page.height, 230), {}, page.dpi, settings.picture));
    sheet.pages = {&page};
    sheet.to_sheet = {PlaneMap()};
    writer.add(sheet);
    writer.finish();
  }

  std::string sound() const { return folder_.file("sound.pdf"); }

  pdf::Checked after(const std::function<void(QPDF&)>& change) {
    changed_pdf(sound(), folder_.file("broken.pdf"), change);
    return pdf::check(folder_.file("broken.pdf"), false);
  }

  static std::set<std::string> rules(const std::vector<pdf::Finding>& findings) {
    std::set<std::string> names;
    for (const pdf::Finding& finding : findings) names.insert(finding.rule);
    return names;
  }

  testing::TemporaryFolder folder_;
};

using Rules = std::set<std::string>;

TEST_F(CheckRules, ASoundFileHasNoFaultsAlsoWhenItIsWrittenAgain) {
  EXPECT_EQ(rules(pdf::check(sound(), false).faults), Rules{});
  const pdf::Checked again = after([](QPDF&) {});
  EXPECT_EQ(rules(again.faults), Rules{});
  EXPECT_EQ(rules(again.missing), Rules{});
  EXPECT_TRUE(again.archive);
  EXPECT_TRUE(again.tagged);
}

TEST_F(CheckRules, EachBrokenRuleIsNamed) {
  struct Case {
    const char* rule;
    std::function<void(QPDF&)> change;
  };
  const Case cases[] = {
      {"xmp", [](QPDF& pdf) { edit_metadata(pdf, "</rdf:RDF>", "</rdf:RDFF>"); }},
      {"xmp", [](QPDF& pdf) { edit_metadata(pdf, ">Log<", ">Book<"); }},
      {"xmp", [](QPDF& pdf) { edit_metadata(pdf, "J. Dunmore", "E. Rask"); }},
      {"mark", [](QPDF& pdf) { edit_metadata(pdf, "<pdfaid:part>2", "<pdfaid:part>1"); }},
      {"mark", [](QPDF& pdf) { edit_metadata(pdf, "conformance>U", "conformance>X"); }},
      {"intent", [](QPDF& pdf) { pdf.getRoot().removeKey("/OutputIntents"); }},
      {"intent",
       [](QPDF& pdf) {
         pdf.getRoot().getKey("/OutputIntents").getArrayItem(0).removeKey("/DestOutputProfile");
       }},
      {"intent",
       [](QPDF& pdf) {
         pdf.getRoot()
             .getKey("/OutputIntents")
             .getArrayItem(0)
             .getKey("/DestOutputProfile")
             .replaceStreamData("no profile", QPDFObjectHandle::newNull(),
                                QPDFObjectHandle::newNull());
       }},
      {"colours",
       [](QPDF& pdf) {
         first_image(pdf).getDict().replaceKey("/ColorSpace", parsed("/DeviceCMYK"));
       }},
      {"fonts",
       [](QPDF& pdf) { descendant(pdf).getKey("/FontDescriptor").removeKey("/FontFile2"); }},
      {"fonts", [](QPDF& pdf) { descendant(pdf).removeKey("/CIDToGIDMap"); }},
      {"fonts", [](QPDF& pdf) { first_font(pdf).replaceKey("/DescendantFonts", parsed("[]")); }},
      {"unicode", [](QPDF& pdf) { first_font(pdf).removeKey("/ToUnicode"); }},
      {"images",
       [](QPDF& pdf) { first_image(pdf).getDict().replaceKey("/Interpolate", parsed("true")); }},
      {"images",
       [](QPDF& pdf) { first_image(pdf).getDict().replaceKey("/Alternates", parsed("[]")); }},
      {"filters",
       [](QPDF& pdf) {
         auto stream = testing::stream_of(pdf, "<< /Filter /LZWDecode >>", "\x80\x0B\x60");
         pdf.getRoot().replaceKey("/Piece", pdf.makeIndirectObject(stream));
       }},
      {"filters",
       [](QPDF& pdf) { first_image(pdf).getDict().replaceKey("/F", parsed("(elsewhere.jpg)")); }},
      {"annotations",
       [](QPDF& pdf) { add_annotation(pdf, "<< /Subtype /Movie /F 4 /Rect [0 0 9 9] >>"); }},
      {"annotations",
       [](QPDF& pdf) { add_annotation(pdf, "<< /Subtype /Text /F 6 /Rect [0 0 9 9] >>"); }},
      {"annotations",
       [](QPDF& pdf) { add_annotation(pdf, "<< /Subtype /Text /Rect [0 0 9 9] >>"); }},
      {"actions",
       [](QPDF& pdf) {
         add_annotation(pdf, "<< /Subtype /Link /F 4 /A << /S /Launch /F (a.exe) >> >>");
       }},
      {"actions",
       [](QPDF& pdf) { pdf.getRoot().replaceKey("/OpenAction", parsed("<< /S /JavaScript >>")); }},
      {"actions", [](QPDF& pdf) { pdf.getRoot().replaceKey("/AA", parsed("<< >>")); }},
      {"actions", [](QPDF& pdf) { first_page(pdf).replaceKey("/AA", parsed("<< >>")); }},
      {"actions",
       [](QPDF& pdf) { pdf.getRoot().replaceKey("/Names", parsed("<< /JavaScript << >> >>")); }},
      {"forms",
       [](QPDF& pdf) { pdf.getRoot().replaceKey("/AcroForm", parsed("<< /XFA (form) >>")); }},
      {"tags", [](QPDF& pdf) { first_page(pdf).removeKey("/StructParents"); }},
      {"tags", [](QPDF& pdf) { pdf.getRoot().getKey("/StructTreeRoot").removeKey("/ParentTree"); }},
      {"tags",
       [](QPDF& pdf) {
         auto kids = pdf.getRoot().getKey("/StructTreeRoot").getKey("/K");
         auto top = kids.isArray() ? kids.getArrayItem(0) : kids;
         top.removeKey("/P");
       }},
  };
  for (const Case& one : cases) {
    const size_t number = static_cast<size_t>(&one - cases);
    const Rules found = rules(after(one.change).faults);
    EXPECT_EQ(found.count(one.rule), 1u) << "case " << number << ", " << one.rule;
    EXPECT_LE(found.size(), 2u) << "case " << number;  // one fault may bring another with it
  }
}

TEST_F(CheckRules, RulesOfTheArchiveDoNotCountForOtherFiles) {
  const auto no_archive = [](QPDF& pdf) {
    pdf.getRoot().removeKey("/Metadata");
    pdf.getRoot().removeKey("/OutputIntents");
    add_annotation(pdf, "<< /Subtype /Movie /Rect [0 0 9 9] >>");
    descendant(pdf).getKey("/FontDescriptor").removeKey("/FontFile2");
  };
  EXPECT_EQ(rules(after(no_archive).faults), Rules{});
  EXPECT_GE(pdf::check(folder_.file("broken.pdf"), true).faults.size(), 4u);
}

TEST_F(CheckRules, WhatReadersMissIsNamed) {
  const pdf::Checked bare = after([](QPDF& pdf) {
    pdf.getRoot().removeKey("/Lang");
    pdf.getRoot().removeKey("/MarkInfo");
    pdf.getRoot().removeKey("/Metadata");
    pdf.getTrailer().removeKey("/Info");
    first_font(pdf).removeKey("/ToUnicode");
    pdf.addPage(pdf.makeIndirectObject(parsed("<< /Type /Page /MediaBox [0 0 9 9] >>")), false);
  });
  EXPECT_EQ(rules(bare.missing), (Rules{"language", "tags", "title", "unicode", "text"}));
  EXPECT_EQ(bare.pages, 2);
  EXPECT_EQ(bare.pages_with_text, 1);
}

TEST_F(CheckRules, EncryptionAndHeadersWithoutBinaryBytesAreFaults) {
  const std::string locked = folder_.file("locked.pdf");
  {
    QPDF pdf;
    pdf.processFile(sound().c_str());
    QPDFWriter writer(pdf, locked.c_str());
    writer.setR6EncryptionParameters("", "owner", true, true, true, true, true, true, qpdf_r3p_full,
                                     true);
    writer.write();
  }
  EXPECT_EQ(rules(pdf::check(locked, false).faults).count("encryption"), 1u);

  auto bytes = read_file(sound());
  std::string text(bytes.begin(), bytes.end());
  const size_t line = text.find('%', 1);
  for (size_t i = line + 1; i < line + 5; ++i) text[i] = 'x';
  write_file(folder_.file("plain.pdf"), std::string_view(text));
  EXPECT_EQ(rules(pdf::check(folder_.file("plain.pdf"), false).faults), Rules{"header"});
}

TEST_F(CheckRules, DamageIsAFaultWhereItCanBeMended) {
  after([](QPDF&) {});
  const auto bytes = read_file(folder_.file("broken.pdf"));
  // The table of places is not where it should be: readers have to look for the objects themselves.
  std::string lost(bytes.begin(), bytes.end());
  lost.replace(lost.rfind("startxref") + 10, 2, "99");
  write_file(folder_.file("lost.pdf"), std::string_view(lost));
  EXPECT_EQ(rules(pdf::check(folder_.file("lost.pdf"), false).faults).count("sound"), 1u);
  write_file(folder_.file("empty.pdf"), std::string_view());
  EXPECT_THROW(pdf::check(folder_.file("empty.pdf"), false), InputError);
}

// Elements written inside one another have no numbers of their own.
TEST_F(CheckRules, TagsWithoutNumbersAreAllLookedAt) {
  const pdf::Checked nested = after([](QPDF& pdf) {
    pdf.getRoot()
        .getKey("/StructTreeRoot")
        .replaceKey(
            "/K",
            parsed("[<< /S /P /P null /Pg null >> << /S /Figure /P (x) >> << /S /Figure /P (x) "
                   ">>]"));
  });
  int figures = 0;
  for (const pdf::Finding& finding : nested.faults)
    figures += finding.what == "a figure has no text in its place";
  EXPECT_EQ(figures, 2);
}

TEST_F(CheckRules, TagsNestedWithoutEndAreAFaultAndNoCrash) {
  std::string tags = "<< /S /P /P (x) >>";
  for (int depth = 0; depth < 300; ++depth) tags = "<< /S /P /P (x) /K " + tags + " >>";
  const pdf::Checked deep = after(
      [&](QPDF& pdf) { pdf.getRoot().getKey("/StructTreeRoot").replaceKey("/K", parsed(tags)); });
  EXPECT_EQ(rules(deep.faults).count("tags"), 1u);
}

}  // namespace
}  // namespace burnisher
