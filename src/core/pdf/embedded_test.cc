#include "pdf/embedded.h"

#include <gtest/gtest.h>

#include "base/files.h"
#include "raster/jpeg.h"
#include "raster/tiff.h"
#include "testing/pdf_file.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

using testing::parsed;
using testing::save_pdf;
using testing::stream_of;

constexpr int kWidth = 200, kHeight = 300;
const char* const kWhole = "q 100 0 0 150 0 0 cm /P Do Q";

std::string jpeg_bytes() {
  Gray picture(kWidth, kHeight, 200);
  for (int x = 20; x < 90; ++x) picture.row(40)[x] = 20;
  const auto bytes = write_jpeg(picture, 80);
  return std::string(bytes.begin(), bytes.end());
}

// A page of 100 x 150 points that shows one picture.
class Embedded : public ::testing::Test {
 protected:
  std::string with(const std::string& dictionary, const std::string& data,
                   const std::string& operators, const std::string& page_entries = "") {
    QPDF pdf;
    pdf.emptyPDF();
    auto page = parsed("<< /Type /Page /MediaBox [0 0 100 150] /Resources << /XObject << >> >> " +
                       page_entries + " >>");
    auto image = pdf.makeIndirectObject(stream_of(pdf, dictionary, data));
    page.getKey("/Resources").getKey("/XObject").replaceKey("/P", image);
    page.replaceKey("/Contents",
                    pdf.makeIndirectObject(QPDFObjectHandle::newStream(&pdf, operators)));
    pdf.addPage(pdf.makeIndirectObject(page), false);
    const std::string path = folder_.file("a.pdf");
    save_pdf(pdf, path);
    return path;
  }
  std::string jpeg_page(const std::string& operators, const std::string& more = "",
                        const std::string& page_entries = "") {
    return with(
        "<< /Type /XObject /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceGray "
        "/BitsPerComponent 8 /Filter /DCTDecode " +
            more + " >>",
        jpeg_bytes(), operators, page_entries);
  }
  static bool found(const std::string& path, int width = kWidth, int height = kHeight) {
    return pdf::embedded_picture(path, 1, width, height).has_value();
  }

  testing::TemporaryFolder folder_;
};

TEST_F(Embedded, APictureOverAllOfThePageKeepsItsBytes) {
  const auto image = pdf::embedded_picture(jpeg_page(kWhole), 1, kWidth, kHeight);
  ASSERT_TRUE(image.has_value());
  EXPECT_EQ(std::string(image->bytes.begin(), image->bytes.end()), jpeg_bytes());
  EXPECT_EQ(image->coding, pdf::Coding::kJpeg);
  EXPECT_EQ(image->channels, 1);
  EXPECT_FALSE(image->bitonal);
  EXPECT_EQ(image->width, kWidth);
}

TEST_F(Embedded, TextThatIsNotSeenMakesNoDifferenceAndTextThatIsDoes) {
  EXPECT_TRUE(found(jpeg_page(std::string(kWhole) + " BT 3 Tr /F 9 Tf (Skerrow) Tj ET")));
  EXPECT_FALSE(found(jpeg_page(std::string(kWhole) + " BT 0 Tr /F 9 Tf (Skerrow) Tj ET")));
  EXPECT_FALSE(found(jpeg_page(std::string(kWhole) + " BT /F 9 Tf (Skerrow) Tj ET")));
}

TEST_F(Embedded, PagesThatShowAnythingElseAreNone) {
  for (const char* operators : {
           "q 100 0 0 150 0 0 cm /P Do Q q 9 0 0 9 0 0 cm /P Do Q",  // twice
           "q 50 0 0 75 0 0 cm /P Do Q",                             // over a part of it
           "q 100 0 0 150 20 0 cm /P Do Q",                          // moved
           "q 0 150 -100 0 100 0 cm /P Do Q",                        // turned
           "q 100 0 0 -150 0 150 cm /P Do Q",                        // on its head
           "q 2 0 0 2 0 0 cm 50 0 0 75 0 0 cm /P Do Q",              // placed in two steps
           "q 100 0 0 150 0 0 cm /P Do Q 0 0 50 50 re f",            // painted over
           "",
       })
    EXPECT_FALSE(found(jpeg_page(operators))) << operators;
  EXPECT_FALSE(found(jpeg_page(kWhole, "", "/Rotate 90")));
  EXPECT_TRUE(found(jpeg_page(kWhole, "", "/Rotate 360")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "", "/CropBox [10 10 90 140]")));
}

TEST_F(Embedded, PicturesThatDoNotStandForThemselvesAreNone) {
  EXPECT_FALSE(found(jpeg_page(kWhole, "/Decode [1 0]")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/SMask /Elsewhere")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/Mask [0 9]")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/DecodeParms << /ColorTransform 0 >>")));
  EXPECT_TRUE(found(jpeg_page(kWhole), kWidth + 2, kHeight - 1));  // drawn a little larger
  EXPECT_FALSE(found(jpeg_page(kWhole), kWidth * 2, kHeight * 2));
  EXPECT_FALSE(pdf::embedded_picture(jpeg_page(kWhole), 2, kWidth, kHeight).has_value());
  const std::string bytes(200 * 300, 'x');
  EXPECT_FALSE(
      found(with("<< /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceGray "
                 "/BitsPerComponent 8 >>",
                 bytes, kWhole)));
  EXPECT_FALSE(
      found(with("<< /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceCMYK "
                 "/BitsPerComponent 8 /Filter /DCTDecode >>",
                 jpeg_bytes(), kWhole)));
}

TEST_F(Embedded, GroupFourIsTakenInItsUsualFormAlone) {
  Bitonal ink(kWidth, kHeight);
  for (int x = 20; x < 90; ++x) ink.set_ink(x, 40, true);
  const auto coded = encode_g4(ink);
  const std::string data(coded.begin(), coded.end());
  const auto page = [&](const std::string& parameters) {
    return with(
        "<< /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceGray "
        "/BitsPerComponent 1 /Filter [/CCITTFaxDecode] /DecodeParms [<< " +
            parameters + " >>] >>",
        data, kWhole);
  };
  const auto image =
      pdf::embedded_picture(page("/K -1 /Columns 200 /Rows 300"), 1, kWidth, kHeight);
  ASSERT_TRUE(image.has_value());
  EXPECT_TRUE(image->bitonal);
  EXPECT_EQ(image->coding, pdf::Coding::kG4);
  EXPECT_EQ(image->bytes, coded);
  EXPECT_FALSE(found(page("/K 0 /Columns 200")));
  EXPECT_FALSE(found(page("/K -1 /Columns 201")));
  EXPECT_FALSE(found(page("/K -1 /Columns 200 /BlackIs1 true")));
}

TEST_F(Embedded, OtherFilesAreNotLookedInto) {
  write_file(folder_.file("a.jpg"), std::string_view(jpeg_bytes()));
  EXPECT_FALSE(found(folder_.file("a.jpg")));
  EXPECT_FALSE(found(folder_.file("none.pdf")));
  write_file(folder_.file("broken.pdf"), std::string_view("%PDF-1.7\nnothing more"));
  EXPECT_FALSE(found(folder_.file("broken.pdf")));
}

}  // namespace
}  // namespace burnisher
