#include "pdf/picture.h"
#include "intake/own_coding.h"

#include <gtest/gtest.h>

#include <tiffio.h>

#include "base/files.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "raster/tiff.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

Gray sloping(int width, int height) {
  Gray picture(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) picture.row(y)[x] = static_cast<uint8_t>(120 + (x + y) % 100);
  }
  return picture;
}

Bitonal striped(int width, int height) {
  Bitonal ink(width, height);
  for (int y = 0; y < height; y += 7) {
    for (int x = 3; x < width; ++x) ink.set_ink(x, y, true);
  }
  return ink;
}

TEST(Untouched, JpegKeepsItsBytesUnlessItHasColoursOfPrint) {
  testing::TemporaryFolder folder;
  auto bytes = write_jpeg(sloping(64, 48), 80);
  write_file(folder.file("a.jpg"), bytes);
  const auto image = own_coding(folder.file("a.jpg"), 1);
  ASSERT_TRUE(image.has_value());
  EXPECT_EQ(image->bytes, bytes);
  EXPECT_EQ(image->width, 64);
  EXPECT_EQ(image->height, 48);
  EXPECT_EQ(image->channels, 1);
  // Four components in the frame's header.
  for (size_t i = 2; i + 9 < bytes.size(); ++i) {
    if (bytes[i] == 0xFF && bytes[i + 1] == 0xC0) bytes[i + 9] = 4;
  }
  write_file(folder.file("print.jpg"), bytes);
  EXPECT_FALSE(own_coding(folder.file("print.jpg"), 1).has_value());
  write_file(folder.file("cut.jpg"), std::vector<uint8_t>(bytes.begin(), bytes.begin() + 12));
  EXPECT_FALSE(own_coding(folder.file("cut.jpg"), 1).has_value());
}

TEST(Untouched, GroupFourOfOneStripIsTakenAndOtherCodingsAreNot) {
  testing::TemporaryFolder folder;
  const Bitonal ink = striped(120, 90);
  const auto written = [&](uint32_t rows_in_strip, uint16_t photometric) {
    const std::string path = folder.file("a.tif");
    TIFF* tiff = TIFFOpen(path.c_str(), "w");
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, 120);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, 90);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 1);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, COMPRESSION_CCITTFAX4);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, photometric);
    TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, rows_in_strip);
    for (int y = 0; y < 90; ++y) {
      std::vector<uint8_t> row(ink.row(y), ink.row(y) + ink.stride());
      TIFFWriteScanline(tiff, row.data(), static_cast<uint32_t>(y));
    }
    TIFFClose(tiff);
    return path;
  };
  const auto image = own_coding(written(90, PHOTOMETRIC_MINISWHITE), 1);
  ASSERT_TRUE(image.has_value());
  EXPECT_TRUE(image->bitonal);
  EXPECT_EQ(image->coding, Coding::kG4);
  EXPECT_EQ(image->width, 120);
  EXPECT_FALSE(own_coding(written(30, PHOTOMETRIC_MINISWHITE), 1).has_value());
  EXPECT_FALSE(own_coding(written(90, PHOTOMETRIC_MINISBLACK), 1).has_value());
  write_tiff(folder.file("gray.tif"), Picture(sloping(40, 30)), 200);
  EXPECT_FALSE(own_coding(folder.file("gray.tif"), 1).has_value());
  write_file(folder.file("a.png"), write_png(Picture(sloping(40, 30)), 200));
  EXPECT_FALSE(own_coding(folder.file("a.png"), 1).has_value());
}

TEST(PagePicture, BitonalPagesAreInkAndOthersLayersOrOnePicture) {
  const auto made = [](Picture picture, Bitonal ink, pdf::Size size) {
    pdf::PictureSettings settings;
    settings.size = size;
    return pdf::page_picture(std::move(picture), std::move(ink), 300, settings);
  };
  const auto bitonal = made(striped(200, 150), {}, pdf::Size::kNormal);
  ASSERT_TRUE(bitonal.ink);
  EXPECT_EQ(bitonal.ink->bytes(), striped(200, 150).bytes());
  EXPECT_FALSE(bitonal.image.has_value());
  const auto layered = made(sloping(200, 150), striped(200, 150), pdf::Size::kNormal);
  EXPECT_TRUE(layered.ink && layered.image.has_value());
  EXPECT_LT(layered.image->width, 200);
  const auto exact = made(sloping(200, 150), striped(200, 150), pdf::Size::kExact);
  EXPECT_FALSE(exact.ink);
  ASSERT_TRUE(exact.image.has_value());
  EXPECT_EQ(exact.image->coding, Coding::kDeflate);
  EXPECT_EQ(exact.image->width, 200);
  // A page without print needs no mask.
  EXPECT_FALSE(made(sloping(200, 150), Bitonal(200, 150), pdf::Size::kNormal).ink);
}

TEST(PagePicture, FinerInkIsDrawnAndLayersAreMadeOfThePagesOwn) {
  pdf::PictureSettings settings;
  const pdf::PagePicture plain =
      pdf::page_picture(sloping(800, 600), striped(800, 600), 300, settings);
  const pdf::PagePicture fine =
      pdf::page_picture(sloping(800, 600), striped(800, 600), 300, settings, striped(1600, 1200));
  ASSERT_NE(fine.ink, nullptr);
  EXPECT_EQ(fine.ink->width(), 1600);
  EXPECT_EQ(fine.width, 800);
  EXPECT_EQ(plain.ink->width(), 800);
  ASSERT_EQ(plain.image.has_value(), fine.image.has_value());
  EXPECT_TRUE(!plain.image || plain.image->bytes == fine.image->bytes);
}

TEST(PagePicture, SmallIsSmallerThanNormalAndQualityCounts) {
  pdf::PictureSettings normal, small, fine;
  small.size = pdf::Size::kSmall;
  fine.jpeg_quality = 95;
  const auto bytes = [](const pdf::PictureSettings& settings) {
    return pdf::page_picture(sloping(800, 600), striped(800, 600), 300, settings)
        .image->bytes.size();
  };
  EXPECT_LT(bytes(small), bytes(normal));
  EXPECT_GT(bytes(fine), bytes(normal));
}

TEST(CutOut, TakesBoxesWithinThePageOnCleanPaper) {
  const auto result = pdf::cut_out(sloping(400, 300), {{-20, 10, 120, 90}, {500, 0, 600, 50}},
                                   Bitonal(400, 300), 150, {});
  ASSERT_EQ(result.cutouts.size(), 1u);
  EXPECT_EQ(result.cutouts[0].place.x0, 0);
  EXPECT_EQ(result.cutouts[0].place.x1, 120);
  EXPECT_FALSE(result.ink);
  EXPECT_EQ(*result.paper_colour, (pdf::Rgb{255, 255, 255}));
  // Of a bitonal page everything is ink.
  EXPECT_TRUE(pdf::cut_out(striped(400, 300), {{0, 0, 50, 50}}, striped(400, 300), 150, {})
                  .cutouts.empty());
}

TEST(Thumbnail, IsAsLargeAsViewersShowIt) {
  const auto thumbnail = pdf::thumbnail_of(sloping(2480, 3508));
  EXPECT_LE(std::max(thumbnail.width, thumbnail.height), 106);
  EXPECT_GE(std::max(thumbnail.width, thumbnail.height), 90);
  EXPECT_EQ(pdf::thumbnail_of(sloping(50, 40)).width, 50);
}

}  // namespace
}  // namespace burnisher
