#include "barcode/barcodes.h"

#include <ZXing/BarcodeFormat.h>
#include <ZXing/BitMatrix.h>
#include <ZXing/MultiFormatWriter.h>
#include <gtest/gtest.h>

#include <cmath>

#include "barcode/separator_sheet.h"
#include "base/error.h"

namespace burnisher::barcode {
namespace {

// A code drawn on paper, turned by some degrees about its middle, modules `module` pixels wide.
Gray drawn(ZXing::BarcodeFormat format, const std::wstring& text, double degrees, double module) {
  ZXing::MultiFormatWriter writer(format);
  const ZXing::BitMatrix code = writer.encode(text, 1, 40);
  Gray page(1000, 800);
  const double angle = degrees * 3.14159265 / 180, c = std::cos(angle), s = std::sin(angle);
  const double high = code.height() > 1 && code.height() != 40 ? module : 4;
  for (int y = 0; y < page.height(); ++y)
    for (int x = 0; x < page.width(); ++x) {
      const double dx = x - 500.0, dy = y - 400.0;
      const double u = (c * dx + s * dy) / module + code.width() / 2.0;
      const double v = (-s * dx + c * dy) / high + code.height() / 2.0;
      const bool inside = u >= 0 && v >= 0 && u < code.width() && v < code.height();
      const bool black = inside && code.get(static_cast<int>(u), static_cast<int>(v));
      // Grain, the same every time.
      page.row(y)[x] = static_cast<uint8_t>((black ? 50 : 220) + (x * 7 + y * 13) % 17);
    }
  return page;
}

TEST(Barcodes, AreReadWhicheverWayTheyLie) {
  using Format = ZXing::BarcodeFormat;
  const struct {
    Format format;
    const wchar_t* text;
    const char *kind, *read;
  } cases[] = {{Format::Code128, L"INV-2017", "Code128", "INV-2017"},
               {Format::Code39, L"BOX 12", "Code39", "BOX 12"},
               {Format::EAN13, L"5901234123457", "EAN-13", "5901234123457"},
               {Format::ITF, L"12345670", "ITF", "12345670"},
               {Format::QRCode, L"Hallow Rock", "QRCode", "Hallow Rock"},
               {Format::DataMatrix, L"Skerrow", "DataMatrix", "Skerrow"},
               {Format::PDF417, L"Nether Point", "PDF417", "Nether Point"}};
  for (const auto& c : cases)
    for (const double degrees : {0.0, 3.0, 90.0, 180.0}) {
      const auto found = barcodes_on(drawn(c.format, c.text, degrees, 4));
      ASSERT_EQ(found.size(), 1u) << c.kind << " at " << degrees;
      EXPECT_EQ(found[0].kind, c.kind);
      EXPECT_EQ(found[0].text, c.read);
      EXPECT_TRUE(bounds(found[0].outline).contains({500, 400})) << c.kind << " at " << degrees;
    }
}

TEST(Barcodes, AreAllFoundWhereThereAreSeveral) {
  using Format = ZXing::BarcodeFormat;
  Gray page(1000, 1600);
  const Gray above = drawn(Format::Code128, L"INV-2017", 0, 4),
             below = drawn(Format::Code39, L"BOX 12", 0, 3);
  for (int y = 0; y < 800; ++y) {
    std::copy(above.row(y), above.row(y) + 1000, page.row(y));
    std::copy(below.row(y), below.row(y) + 1000, page.row(800 + y));
  }
  const auto found = barcodes_on(page);
  ASSERT_EQ(found.size(), 2u);
  EXPECT_EQ(found[0].text, "INV-2017");
  EXPECT_EQ(found[1].text, "BOX 12");
}

TEST(Barcodes, AreNotSeenWhereThereAreNone) {
  Gray ruled(900, 700);
  for (int y = 0; y < ruled.height(); ++y)
    for (int x = 0; x < ruled.width(); ++x)
      ruled.row(y)[x] = static_cast<uint8_t>(x % 60 < 3 || y % 40 < 2 ? 60 : 230);
  EXPECT_TRUE(barcodes_on(ruled).empty());
  EXPECT_TRUE(barcodes_on(Gray(4, 4)).empty());
}

TEST(SeparatorSheets, CarryTheirFields) {
  const DescriptiveFields fields = {{"box", "7 & 8"}, {"title", "Log = 50 %"}, {"creator", "Ærø"}};
  EXPECT_EQ(fields_of_separator(separator_text(fields)), fields);
  EXPECT_EQ(fields_of_separator(separator_text({})), DescriptiveFields());
  EXPECT_FALSE(fields_of_separator("INV-17").has_value());
  EXPECT_FALSE(fields_of_separator("burnisher-separator").has_value());
  // What anybody may print breaks nothing.
  for (const char* odd : {"burnisher-separator:", "burnisher-separator:&&=&a",
                          "burnisher-separator:a=%", "burnisher-separator:a=%zz&=b"})
    EXPECT_NO_THROW(fields_of_separator(odd)) << odd;
  EXPECT_EQ(separator_sheet(fields), separator_sheet(fields));
  EXPECT_THROW(separator_sheet({{"box", std::string(2000, 'x')}}), SettingsError);
}

}  // namespace
}  // namespace burnisher::barcode
