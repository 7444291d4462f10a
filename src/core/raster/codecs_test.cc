#include <gtest/gtest.h>

#include <cmath>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/png.h"
#include "raster/pnm.h"
#include "raster/tiff.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

constexpr double kNoLimit = 1e9;

Gray slope(int width, int height) {
  Gray picture(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) picture.row(y)[x] = static_cast<uint8_t>((x * 3 + y * 5) % 256);
  }
  return picture;
}

Bitonal checks(int width, int height) {
  Bitonal ink(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) ink.set_ink(x, y, (x / 3 + y / 2) % 2 == 0);
  }
  return ink;
}

Colour rainbow(int width, int height) {
  Colour picture(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width * 3; ++x) picture.row(y)[x] = static_cast<uint8_t>(x * 2 + y);
  }
  return picture;
}

std::vector<uint8_t> bytes_of(const std::string& text) {
  return {text.begin(), text.end()};
}

TEST(Png, GrayAndColourComeBackExactlyWithTheirResolution) {
  const Picture gray = slope(37, 11), colour = rainbow(20, 9);
  const PngRead one = read_png(write_png(gray, 300), kNoLimit);
  EXPECT_EQ(std::get<Gray>(one.picture).samples(), std::get<Gray>(gray).samples());
  EXPECT_NEAR(one.dpi, 300, 0.5);
  const PngRead two = read_png(write_png(colour, 0), kNoLimit);
  EXPECT_EQ(std::get<Colour>(two.picture).samples(), std::get<Colour>(colour).samples());
  EXPECT_EQ(two.dpi, 0);
}

TEST(Png, InkAndPaperComeBackAsTheyWere) {
  const PngRead read = read_png(write_png(Picture(checks(37, 20)), 0), kNoLimit);
  EXPECT_EQ(std::get<Bitonal>(read.picture).bytes(), checks(37, 20).bytes());
}

TEST(Png, RefusesDamageAndTooManyPixels) {
  auto bytes = write_png(Picture(slope(50, 50)), 0);
  EXPECT_THROW(read_png(bytes, 100), FormatError);
  bytes.resize(bytes.size() / 2);
  EXPECT_THROW(read_png(bytes, kNoLimit), FormatError);
  EXPECT_THROW(read_png(bytes_of("no png"), kNoLimit), FormatError);
}

TEST(Jpeg, ComesBackNearlyTheSame) {
  Gray flat(64, 48, 180);
  const JpegRead read = read_jpeg(write_jpeg(flat, 90), kNoLimit);
  const Gray& gray = std::get<Gray>(read.picture);
  EXPECT_EQ(gray.width(), 64);
  EXPECT_LE(std::abs(gray.row(20)[20] - 180), 2);
  EXPECT_FALSE(read.cut_short);
}

TEST(Jpeg, ACutFileKeepsWhatItHasAndSaysSo) {
  auto bytes = write_jpeg(slope(400, 400), 95);
  bytes.resize(bytes.size() / 2);
  EXPECT_TRUE(read_jpeg(bytes, kNoLimit).cut_short);
}

TEST(Jpeg, RefusesWhatIsNoJpeg) {
  EXPECT_THROW(read_jpeg(bytes_of("\xff\xd8 but then nothing"), kNoLimit), FormatError);
  EXPECT_THROW(read_jpeg(write_jpeg(slope(100, 100), 50), 99), FormatError);
}

TEST(Tiff, EveryKindComesBackExactly) {
  testing::TemporaryFolder folder;
  write_tiff(folder.file("b.tif"), Picture(checks(45, 21)), 200);
  write_tiff(folder.file("g.tif"), Picture(slope(45, 21)), 300);
  write_tiff(folder.file("c.tif"), Picture(rainbow(45, 21)), 0);
  const TiffRead b = read_tiff(folder.file("b.tif"), 0, kNoLimit);
  EXPECT_EQ(std::get<Bitonal>(b.picture).bytes(), checks(45, 21).bytes());
  EXPECT_NEAR(b.dpi, 200, 0.01);
  const TiffRead g = read_tiff(folder.file("g.tif"), 0, kNoLimit);
  EXPECT_EQ(std::get<Gray>(g.picture).samples(), slope(45, 21).samples());
  const TiffRead c = read_tiff(folder.file("c.tif"), 0, kNoLimit);
  EXPECT_EQ(std::get<Colour>(c.picture).samples(), rainbow(45, 21).samples());
  EXPECT_EQ(c.dpi, 0);
  EXPECT_EQ(count_tiff_pages(folder.file("b.tif")), 1);
}

TEST(Tiff, RefusesOtherFilesMissingPagesAndTooManyPixels) {
  testing::TemporaryFolder folder;
  write_file(folder.file("a.tif"), "II*\0 but nothing else");
  EXPECT_THROW(count_tiff_pages(folder.file("a.tif")), FormatError);
  write_tiff(folder.file("b.tif"), Picture(checks(45, 21)), 0);
  EXPECT_THROW(read_tiff(folder.file("b.tif"), 1, kNoLimit), FormatError);
  EXPECT_THROW(read_tiff(folder.file("b.tif"), 0, 10), FormatError);
}

TEST(G4, CodesSmallerThanTheBits) {
  Bitonal ink(1000, 1000);
  for (int x = 100; x < 900; ++x) ink.set_ink(x, 500, true);
  EXPECT_LT(encode_g4(ink).size(), 300u);
}

TEST(Pnm, ReadsEveryKind) {
  struct Case {
    const char* text;
    size_t size;
    int expected;
  };
  EXPECT_TRUE(
      std::get<Bitonal>(read_pnm(bytes_of("P1\n# made by hand\n2 1\n10"), kNoLimit)).ink(0, 0));
  EXPECT_FALSE(std::get<Bitonal>(read_pnm(bytes_of("P4\n2 1\n\x80"), kNoLimit)).ink(1, 0));
  EXPECT_EQ(std::get<Gray>(read_pnm(bytes_of("P2 2 1 15 15 0"), kNoLimit)).row(0)[0], 255);
  EXPECT_EQ(std::get<Gray>(read_pnm(bytes_of("P5 2 1 255\nAB"), kNoLimit)).row(0)[1], 'B');
  const std::string wide("P5 1 1 65535\n\x80\x00", 15);
  EXPECT_NEAR(std::get<Gray>(read_pnm(bytes_of(wide), kNoLimit)).row(0)[0], 127, 1);
  EXPECT_EQ(std::get<Colour>(read_pnm(bytes_of("P6 1 1 255\nabc"), kNoLimit)).row(0)[2], 'c');
}

TEST(Pnm, RefusesDamage) {
  for (const char* text : {"P5", "P5 2", "P5 0 5 255\n", "P5 99999999999 1 255\n", "P5 2 2 255\na",
                           "P7 1 1\n", "P5 x"}) {
    EXPECT_THROW(read_pnm(bytes_of(text), kNoLimit), FormatError) << text;
  }
}

TEST(Convert, GrayOfColourFollowsTheEye) {
  Colour green(1, 1), blue(1, 1);
  green.row(0)[1] = 255;
  blue.row(0)[2] = 255;
  EXPECT_GT(to_gray(Picture(std::move(green))).row(0)[0],
            to_gray(Picture(std::move(blue))).row(0)[0]);
}

TEST(Convert, ReducingAveragesAndDropsTheRest) {
  Gray picture(5, 4, 0);
  for (int y = 0; y < 2; ++y) picture.row(y)[0] = picture.row(y)[1] = 200;
  const Gray small = reduced(picture, 2);
  EXPECT_EQ(small.width(), 2);
  EXPECT_EQ(small.row(0)[0], 200);
  EXPECT_EQ(small.row(1)[1], 0);
}

TEST(Convert, ScalingKeepsMeanAndPlaces) {
  Gray picture(30, 20, 200);
  for (int y = 0; y < 20; ++y) {
    for (int x = 15; x < 30; ++x) picture.row(y)[x] = 40;
  }
  for (const double factor : {0.3, 0.5, 1.0, 1.7}) {
    const Gray other = scaled(picture, factor);
    EXPECT_EQ(other.width(), std::lround(30 * factor));
    EXPECT_EQ(other.height(), std::lround(20 * factor));
    EXPECT_EQ(other.row(1)[0], 200) << factor;
    EXPECT_EQ(other.row(1)[other.width() - 1], 40) << factor;
    double sum = 0;
    for (const uint8_t v : other.samples()) sum += v;
    EXPECT_NEAR(sum / static_cast<double>(other.samples().size()), 120, 6) << factor;
  }
}

TEST(Convert, BitonalAndBack) {
  const Bitonal ink = checks(33, 8);
  EXPECT_EQ(to_bitonal(to_gray(ink), 128).bytes(), ink.bytes());
}

// A picture as another program codes it.
std::vector<uint8_t> jpeg2000_of(const testing::TemporaryFolder& folder, const Picture& picture,
                                 const std::string& name) {
  write_file(folder.file("a.png"), write_png(picture, 0));
  const std::string command =
      "opj_compress -i " + folder.file("a.png") + " -o " + folder.file(name) + " > /dev/null 2>&1";
  EXPECT_EQ(std::system(command.c_str()), 0);
  return read_file(folder.file(name));
}

TEST(Jpeg2000, GivesBackWhatWasCodedWithoutLoss) {
  testing::TemporaryFolder folder;
  const auto colour = read_jpeg2000(jpeg2000_of(folder, rainbow(61, 40), "a.jp2"), kNoLimit);
  EXPECT_EQ(std::get<Colour>(colour.picture).samples(), rainbow(61, 40).samples());
  EXPECT_FALSE(colour.cut_short);
  const auto gray = read_jpeg2000(jpeg2000_of(folder, slope(61, 40), "a.j2k"), kNoLimit);
  EXPECT_EQ(std::get<Gray>(gray.picture).samples(), slope(61, 40).samples());
}

TEST(Jpeg2000, SaysItsSizeAndKindBeforeItIsDecoded) {
  testing::TemporaryFolder folder;
  const auto bytes = jpeg2000_of(folder, rainbow(61, 40), "a.jp2");
  EXPECT_TRUE(is_jpeg2000(bytes.data(), bytes.size()));
  const Jpeg2000Frame frame = jpeg2000_frame(bytes);
  EXPECT_EQ(frame.width, 61);
  EXPECT_EQ(frame.height, 40);
  EXPECT_EQ(frame.channels, 3);
  EXPECT_TRUE(frame.boxed);
  EXPECT_FALSE(jpeg2000_frame(jpeg2000_of(folder, slope(61, 40), "a.j2k")).boxed);
  EXPECT_THROW(read_jpeg2000(bytes, 1000), FormatError);
}

TEST(Jpeg2000, DataThatEndEarlyAreSaidTo) {
  testing::TemporaryFolder folder;
  auto bytes = jpeg2000_of(folder, rainbow(300, 200), "a.jp2");
  bytes.resize(bytes.size() * 2 / 3);
  EXPECT_TRUE(read_jpeg2000(bytes, kNoLimit).cut_short);
  bytes.resize(60);
  EXPECT_THROW(read_jpeg2000(bytes, kNoLimit), FormatError);
}

}  // namespace
}  // namespace burnisher
