#include "intake/pdf_file.h"

#include <gtest/gtest.h>

#include <qpdf/Pl_Buffer.hh>
#include <qpdf/Pl_Flate.hh>

#include "base/error.h"
#include "base/files.h"
#include "intake/scan_file.h"
#include "raster/jpeg.h"
#include "raster/tiff.h"
#include "raster/turn.h"
#include "testing/pdf_file.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

using testing::parsed;
using testing::save_pdf;
using testing::stream_of;

constexpr int kWidth = 200, kHeight = 300;
const char* const kWhole = "q 100 0 0 150 0 0 cm /P Do Q";

std::string deflated(const std::string& bytes) {
  Pl_Buffer buffer("deflated");
  Pl_Flate flate("deflate", &buffer, Pl_Flate::a_deflate);
  flate.write(reinterpret_cast<unsigned char*>(const_cast<char*>(bytes.data())), bytes.size());
  flate.finish();
  const auto out = buffer.getBufferSharedPointer();
  return std::string(reinterpret_cast<const char*>(out->getBuffer()), out->getSize());
}

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
  static bool found(const std::string& path) {
    return PdfFile(path, "").only_picture(1).has_value();
  }

  testing::TemporaryFolder folder_;
};

TEST_F(Embedded, APictureOverAllOfThePageKeepsItsBytes) {
  const auto image = PdfFile(jpeg_page(kWhole), "").only_picture(1);
  ASSERT_TRUE(image.has_value());
  EXPECT_EQ(std::string(image->bytes.begin(), image->bytes.end()), jpeg_bytes());
  EXPECT_EQ(image->coding, Coding::kJpeg);
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
           "q 100 0 0 150 0 0 cm /P Do Q 0 0 50 50 re f",            // painted over
           "",
       })
    EXPECT_FALSE(found(jpeg_page(operators))) << operators;
  EXPECT_TRUE(found(jpeg_page("q 2 0 0 2 0 0 cm 50 0 0 75 0 0 cm /P Do Q")));  // in two steps
  EXPECT_FALSE(found(jpeg_page(kWhole, "", "/Rotate 90")));
  EXPECT_TRUE(found(jpeg_page(kWhole, "", "/Rotate 360")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "", "/CropBox [10 10 90 140]")));
}

TEST_F(Embedded, PicturesThatDoNotStandForThemselvesAreNone) {
  EXPECT_FALSE(found(jpeg_page(kWhole, "/Decode [1 0]")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/SMask /Elsewhere")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/Mask [0 9]")));
  EXPECT_FALSE(found(jpeg_page(kWhole, "/DecodeParms << /ColorTransform 0 >>")));
  EXPECT_THROW(PdfFile(jpeg_page(kWhole), "").only_picture(2), FormatError);
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
  const auto image = PdfFile(page("/K -1 /Columns 200 /Rows 300"), "").only_picture(1);
  ASSERT_TRUE(image.has_value());
  EXPECT_TRUE(image->bitonal);
  EXPECT_EQ(image->coding, Coding::kG4);
  EXPECT_EQ(image->bytes, coded);
  EXPECT_FALSE(found(page("/K 0 /Columns 200")));
  EXPECT_FALSE(found(page("/K -1 /Columns 201")));
  EXPECT_FALSE(found(page("/K -1 /Columns 200 /BlackIs1 true")));
}

TEST_F(Embedded, AScannedPageIsReadInItsOwnPixelsWhicheverWayItLies) {
  Gray picture(kWidth, kHeight, 200);
  for (int x = 20; x < 90; ++x) picture.row(40)[x] = 20;
  const std::string data(picture.samples().begin(), picture.samples().end());
  const char* const plain =
      "<< /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceGray /BitsPerComponent 8 "
      "/Filter /FlateDecode >>";
  for (const int turn : {0, 90, 180, 270}) {
    const std::string path = with(plain, deflated(data), kWhole, "/Rotate " + std::to_string(turn));
    const Scan scan = ScanFile(path, {}).read(1);
    EXPECT_EQ(std::get<Gray>(scan.picture).samples(), turned(picture, (360 - turn) % 360).samples())
        << turn;
    EXPECT_NEAR(scan.stated_dpi, 144, 1e-9);
    EXPECT_FALSE(scan.has_text);
  }
}

TEST_F(Embedded, GroupFourIsReadPixelByPixel) {
  Bitonal ink(kWidth, kHeight);
  for (int x = 20; x < 90; ++x) ink.set_ink(x, 40 + x / 7, true);
  const auto coded = encode_g4(ink);
  const std::string path = with(
      "<< /Subtype /Image /Width 200 /Height 300 /ColorSpace /DeviceGray /BitsPerComponent 1 "
      "/Filter /CCITTFaxDecode /DecodeParms << /K -1 /Columns 200 >> >>",
      std::string(coded.begin(), coded.end()), kWhole);
  EXPECT_EQ(std::get<Bitonal>(ScanFile(path, {}).read(1).picture).bytes(), ink.bytes());
}

// A logo in the corner says nothing about the page's resolution.
TEST_F(Embedded, ResolutionIsThatOfWhatCoversThePage) {
  const auto size_of = [&](const std::string& operators) {
    const Scan scan = ScanFile(jpeg_page(operators), {}).read(1);
    return std::make_pair(width_of(scan.picture), scan.stated_dpi);
  };
  const std::string line = " 0 0 m 9 9 l S";
  EXPECT_EQ(size_of("q 10 0 0 15 0 0 cm /P Do Q" + line), std::make_pair(417, 300.0));
  EXPECT_EQ(size_of("q 100 0 0 150 0 0 cm /P Do Q" + line), std::make_pair(200, 144.0));
  EXPECT_EQ(size_of(line), std::make_pair(417, 300.0));
  // Two strips of one scan, drawn one under the other.
  EXPECT_EQ(size_of("q 100 0 0 150 0 0 cm 1 0 0 0.5 0 0.5 cm /P Do Q "
                    "q 100 0 0 150 0 0 cm 1 0 0 0.5 0 0 cm /P Do Q" +
                    line)
                .second,
            144.0);
}

TEST_F(Embedded, FilesFromMemoryGiveWhatFilesGive) {
  const std::string path = jpeg_page(std::string(kWhole) + " 0 0 m 9 9 l S");  // is drawn
  const Scan from_file = ScanFile(path, {}).read(1);
  const Scan from_memory = ScanFile(Source("a.pdf", read_file(path)), {}).read(1);
  EXPECT_EQ(std::get<Gray>(from_memory.picture).samples(),
            std::get<Gray>(from_file.picture).samples());
  EXPECT_EQ(from_memory.file, "a.pdf");
}

TEST_F(Embedded, BrokenFilesAreRefused) {
  write_file(folder_.file("broken.pdf"), std::string_view("%PDF-1.7\nnothing more"));
  EXPECT_THROW(PdfFile(folder_.file("broken.pdf"), ""), FormatError);
}

}  // namespace
}  // namespace burnisher
