#include "pdf/highlights.h"

#include <gtest/gtest.h>

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher::pdf {
namespace {

using testing::TemporaryFolder;

// One empty page of 200 x 100 points, its corner at (10, 20), shown turned.
void page_turned(const std::string& path, int degrees) {
  QPDF pdf;
  pdf.emptyPDF();
  auto page = QPDFObjectHandle::parse("<< /Type /Page /MediaBox [10 20 210 120] >>");
  page.replaceKey("/Rotate", QPDFObjectHandle::newInteger(degrees));
  QPDFPageDocumentHelper(pdf).addPage(QPDFPageObjectHelper(pdf.makeIndirectObject(page)), false);
  QPDFWriter writer(pdf, path.c_str());
  writer.write();
}

std::vector<double> rectangle_of(const std::string& path, size_t which = 0) {
  QPDF pdf;
  pdf.processFile(path.c_str());
  auto page = QPDFPageDocumentHelper(pdf).getAllPages().front().getObjectHandle();
  auto one = page.getKey("/Annots").getArrayItem(static_cast<int>(which));
  EXPECT_EQ(one.getKey("/Subtype").getName(), "/Highlight");
  EXPECT_TRUE(one.getKey("/AP").getKey("/N").isStream());
  std::vector<double> numbers;
  for (auto& number : one.getKey("/Rect").getArrayAsVector())
    numbers.push_back(number.getNumericValue());
  return numbers;
}

TEST(Highlights, LieOnTheirPlaceHoweverThePageIsTurned) {
  TemporaryFolder folder;
  // 30 x 10 points, 20 from the left and 40 from the top of the page as it is seen.
  const Box seen{20, 40, 50, 50};
  const struct {
    int degrees;
    std::vector<double> rectangle;
  } cases[] = {{0, {30, 70, 60, 80}},
               {90, {50, 40, 60, 70}},
               {180, {160, 60, 190, 70}},
               {270, {160, 70, 170, 100}}};
  for (const auto& c : cases) {
    page_turned(folder.file("a.pdf"), c.degrees);
    write_highlighted(folder.file("a.pdf"), {{1, {seen}, "lamp"}}, folder.file("b.pdf"), true);
    const std::vector<double> found = rectangle_of(folder.file("b.pdf"));
    ASSERT_EQ(found.size(), 4u);
    for (size_t i = 0; i < 4; ++i)
      EXPECT_NEAR(found[i], c.rectangle[i], 1.0) << c.degrees << ", " << i;
  }
}

TEST(Highlights, JoinWhatIsMarkedAlreadyAndPassOverPagesThatAreNotThere) {
  TemporaryFolder folder;
  page_turned(folder.file("a.pdf"), 0);
  write_highlighted(folder.file("a.pdf"),
                    {{1, {{0, 0, 10, 10}}, ""}, {7, {{0, 0, 9, 9}}, ""}, {1, {}, "nothing"}},
                    folder.file("b.pdf"), false);
  write_highlighted(folder.file("b.pdf"), {{1, {{20, 0, 30, 10}, {0, 20, 9, 30}}, "two"}},
                    folder.file("c.pdf"), false);
  rectangle_of(folder.file("c.pdf"), 0);
  EXPECT_NEAR(rectangle_of(folder.file("c.pdf"), 1)[0], 10, 1.0);
  EXPECT_THROW(write_highlighted(folder.file("b.pdf"), {}, folder.file("c.pdf"), false),
               OutputError);
  write_file(folder.file("d.pdf"), std::string("no PDF at all"));
  EXPECT_THROW(write_highlighted(folder.file("d.pdf"), {}, folder.file("e.pdf"), false),
               FormatError);
}

}  // namespace
}  // namespace burnisher::pdf
