#include "barcode/barcodes.h"

#include <ZXing/BarcodeFormat.h>
#include <ZXing/ReadBarcode.h>
#include <ZXing/TextUtfEncoding.h>

#include <algorithm>

#include "base/unicode.h"
#include "raster/convert.h"

namespace burnisher::barcode {
namespace {

constexpr int kReadAt = 2600;   // pixels of the longer side: 200 dpi on A4; larger scans are halved
constexpr int kMostCodes = 16;  // on a page
constexpr int kMargin = 6;      // pixels
constexpr double kGap = 30;     // pixels between pieces of one code
constexpr int kSameLevel = 60;  // grey levels within which two pixels show the same
constexpr double kMostlySame = 0.8;  // of a row: the next one belongs to the code, too
constexpr size_t kShortestItf = 6;   // characters; shorter ones are rules of a table now and then

using Format = ZXing::BarcodeFormat;

std::vector<ZXing::Result> read(const Gray& picture, ZXing::BarcodeFormats formats, int most) {
  ZXing::DecodeHints hints;
  hints.setFormats(formats);
  hints.setTryHarder(true);
  hints.setTryRotate(true);
  hints.setMaxNumberOfSymbols(static_cast<uint8_t>(most));
  const ZXing::ImageView view(picture.row(0), picture.width(), picture.height(),
                              ZXing::ImageFormat::Lum,
                              static_cast<int>(picture.row(1) - picture.row(0)));
  std::vector<ZXing::Result> results = ZXing::ReadBarcodes(view, hints);
  results.erase(std::remove_if(results.begin(), results.end(),
                               [](const auto& result) { return !result.isValid(); }),
                results.end());
  return results;
}

Barcode barcode_of(const ZXing::Result& result, double scale) {
  Barcode one;
  one.kind = ZXing::ToString(result.format());
  one.text = sound_utf8(ZXing::TextUtfEncoding::ToUtf8(result.text()));
  for (const ZXing::PointI& p : result.position())
    one.outline.push_back({scale * (p.x + 0.5), scale * (p.y + 0.5)});
  return one;
}

struct Area {
  int x0, y0, x1, y1;  // half-open
};

// Whether two neighbouring rows (columns) of a code show the same bars.
bool alike(const Gray& picture, const Area& area, bool rows, int a, int b) {
  const int first = rows ? area.x0 : area.y0, end = rows ? area.x1 : area.y1;
  int same = 0;
  for (int i = first; i < end; ++i) {
    const uint8_t p = rows ? picture.row(a)[i] : picture.row(i)[a];
    const uint8_t q = rows ? picture.row(b)[i] : picture.row(i)[b];
    same += std::abs(p - q) < kSameLevel;
  }
  return same >= kMostlySame * (end - first);
}

// The whole of a code of bars, of which the library tells a few lines across them.
Area whole(const ZXing::Result& result, const Gray& picture) {
  Area area{picture.width(), picture.height(), 0, 0};
  for (const ZXing::PointI& p : result.position()) {
    area.x0 = std::clamp(p.x, 0, std::min(area.x0, picture.width() - 1));
    area.y0 = std::clamp(p.y, 0, std::min(area.y0, picture.height() - 1));
    area.x1 = std::clamp(p.x + 1, area.x1, picture.width());
    area.y1 = std::clamp(p.y + 1, area.y1, picture.height());
  }
  const bool level = area.x1 - area.x0 >= area.y1 - area.y0;
  int& low = level ? area.y0 : area.x0;
  int& high = level ? area.y1 : area.x1;
  const int end = level ? picture.height() : picture.width();
  while (low > 0 && alike(picture, area, level, low, low - 1)) --low;
  while (high < end && alike(picture, area, level, high - 1, high)) ++high;
  return area;
}

// Paints it over, so that the next one is found.
void hide(const Area& area, Gray& picture) {
  for (int y = std::max(0, area.y0 - kMargin); y < std::min(picture.height(), area.y1 + kMargin);
       ++y)
    for (int x = std::max(0, area.x0 - kMargin); x < std::min(picture.width(), area.x1 + kMargin);
         ++x)
      picture.row(y)[x] = 255;
}

// A crooked code may be found in pieces.
void add(Barcode code, std::vector<Barcode>& list) {
  const Box own = bounds(code.outline);
  for (Barcode& other : list) {
    const Box box = bounds(other.outline);
    const bool beside = own.x0 < box.x1 + kGap && box.x0 < own.x1 + kGap &&
                        own.y0 < box.y1 + kGap && box.y0 < own.y1 + kGap;
    if (other.kind != code.kind || other.text != code.text || !beside) continue;
    other.outline = united(own, box).corners();
    return;
  }
  list.push_back(std::move(code));
}

std::vector<Barcode> found_on(Gray picture, double scale) {
  std::vector<Barcode> list;
  for (const ZXing::Result& result :
       read(picture, Format::QRCode | Format::DataMatrix | Format::PDF417, kMostCodes))
    list.push_back(barcode_of(result, scale));
  // Codes of bars one by one: the library (1.4 as Debian builds it) stops the program when it finds
  // two at once.
  const ZXing::BarcodeFormats bars = Format::Code39 | Format::Code128 | Format::EAN8 |
                                     Format::EAN13 | Format::UPCA | Format::UPCE | Format::ITF;
  for (int i = 0; i < kMostCodes; ++i) {
    const std::vector<ZXing::Result> results = read(picture, bars, 1);
    if (results.empty()) break;
    const Area area = whole(results.front(), picture);
    Barcode one = barcode_of(results.front(), scale);
    one.outline = Box{scale * area.x0, scale * area.y0, scale * area.x1, scale * area.y1}.corners();
    if (results.front().format() != Format::ITF || one.text.size() >= kShortestItf)
      add(std::move(one), list);
    hide(area, picture);
  }
  return list;
}

}  // namespace

std::vector<Barcode> barcodes_on(const Gray& scan) {
  if (scan.width() < 8 || scan.height() < 8) return {};
  std::vector<Barcode> list;
  const int side = std::max(scan.width(), scan.height());
  // Fine scans are read smaller first, which is quicker and evens out grain; then as they are.
  if (side > kReadAt) {
    const int factor = (side + kReadAt - 1) / kReadAt;
    list = found_on(reduced(scan, factor), factor);
  }
  if (list.empty()) list = found_on(scan.clone(), 1);
  std::stable_sort(list.begin(), list.end(), [](const Barcode& a, const Barcode& b) {
    return a.outline.front().y < b.outline.front().y;
  });
  return list;
}

}  // namespace burnisher::barcode
