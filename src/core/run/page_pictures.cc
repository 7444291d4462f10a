#include "run/page_pictures.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "clean/print_ink.h"
#include "layout/document.h"
#include "layout/kinds.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "raster/turn.h"
#include "run/set_page.h"

namespace burnisher::run {
namespace {

constexpr int kRounding = 3;                               // pixels
constexpr double kDegrees = 180 / 3.14159265358979323846;  // in a radian

Picture copied(const Picture& picture) {
  return std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
}

// Bitonal pictures come out of some files as gray ones.
bool black_and_white(const Gray& picture) {
  return std::all_of(picture.samples().begin(), picture.samples().end(),
                     [](uint8_t v) { return v == 0 || v == 255; });
}

// Degrees counter-clockwise that the scan is turned by to stand upright: as its page does.
int turn_of(const Page& page) {
  const Affine& m = page.geometry.to_scan.plane().affine;
  const int quarters = static_cast<int>(std::lround(std::atan2(m.d, m.a) * kDegrees / 90));
  return (quarters + 4) % 4 * 90;
}

// Pixels of a scan of `w` x `h` to those of it turned.
Affine turned_by(int degrees, double w, double h) {
  switch (degrees) {
    case 90:
      return {0, 1, 0, -1, 0, w};
    case 180:
      return {-1, 0, w, 0, -1, h};
    case 270:
      return {0, -1, h, 1, 0, 0};
    default:
      return {};
  }
}

SharedPicture shared(pdf::PagePicture picture, std::optional<CodedImage> thumbnail) {
  picture.thumbnail = std::move(thumbnail);
  return std::make_shared<pdf::PagePicture>(std::move(picture));
}

std::optional<CodedImage> thumbnail_of(const Picture& picture,
                                       const pdf::PictureSettings& settings) {
  if (!settings.thumbnails) return std::nullopt;
  return pdf::thumbnail_of(picture);
}

SharedPicture whole(Picture picture, Bitonal ink, double dpi,
                    const pdf::PictureSettings& settings) {
  auto thumbnail = thumbnail_of(picture, settings);
  Bitonal print;
  const bool layered = settings.size == pdf::Size::kNormal && !ink.empty() &&
                       !std::holds_alternative<Bitonal>(picture);
  if (layered && clean::print_factor(dpi) > 1) {
    const bool gray = std::holds_alternative<Gray>(picture);
    const Gray light = gray ? Gray() : to_gray(picture);
    print = clean::print_ink(gray ? std::get<Gray>(picture) : light, ink, dpi);
  }
  return shared(
      pdf::page_picture(std::move(picture), std::move(ink), dpi, settings, std::move(print)),
      std::move(thumbnail));
}

}  // namespace

SharedPicture picture_of(const ScanFile& file, const Scan& scan, clean::CleanResult& cleaned,
                         const pdf::PictureSettings& settings) {
  if (settings.face == pdf::PageFace::kFacsimile) {
    // The right page of a spread lies on the sheet of the left.
    return cleaned.page.part == 2 ? nullptr : picture_of(file, scan, settings);
  }
  Bitonal ink = clean::delivered_ink(cleaned);
  if (pdf::sets_type(settings.face)) {
    return shared(set_page(copied(cleaned.picture), std::move(ink), cleaned.page, settings),
                  thumbnail_of(cleaned.picture, settings));
  }
  if (!std::holds_alternative<Bitonal>(cleaned.picture)) leave_pictures(cleaned.page, ink);
  return whole(copied(cleaned.picture), std::move(ink), cleaned.page.dpi, settings);
}

SharedPicture picture_of(Picture picture, Page& page, const pdf::PictureSettings& settings) {
  if (const auto* gray = std::get_if<Gray>(&picture); gray != nullptr && black_and_white(*gray))
    picture = to_bitonal(*gray, 128);
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  if (!pdf::sets_type(settings.face) && (bitonal || settings.size == pdf::Size::kExact))
    return whole(std::move(picture), {}, page.dpi, settings);
  Scan scan;
  scan.picture = copied(picture);
  scan.stated_dpi = page.dpi;
  const clean::CleanResult cleaned = std::move(clean::clean(scan, clean::in_place()).front());
  Bitonal ink = clean::delivered_ink(cleaned);
  if (pdf::sets_type(settings.face)) {
    auto thumbnail = thumbnail_of(picture, settings);
    return shared(set_page(std::move(picture), std::move(ink), page, settings),
                  std::move(thumbnail));
  }
  leave_pictures(page, ink);
  return whole(std::move(picture), std::move(ink), page.dpi, settings);
}

SharedPicture picture_of(const ScanFile& file, const Scan& scan,
                         const pdf::PictureSettings& settings) {
  std::optional<CodedImage> image = file.coded(scan.page);
  // Plain samples are coded better than they came, and places belong to the picture that was read:
  // pages are drawn in whole pixels, so that one may come out a little wider than it is.
  if (image && (image->coding == Coding::kDeflate ||
                std::abs(image->width - width_of(scan.picture)) > kRounding ||
                std::abs(image->height - height_of(scan.picture)) > kRounding))
    image.reset();
  // Bitonal scans are smaller in another coding, and the same to the pixel.
  const bool recoded = image.has_value() && image->bitonal && settings.size == pdf::Size::kSmall;
  if (!image.has_value() || recoded)
    return whole(copied(scan.picture), {}, scan.stated_dpi, settings);
  auto result = std::make_shared<pdf::PagePicture>();
  result->width = image->width;
  result->height = image->height;
  result->image = std::move(image);
  result->thumbnail = thumbnail_of(scan.picture, settings);
  return result;
}

exporting::Illustrations illustrations_of(const Picture& picture, const Page& page,
                                          const pdf::PictureSettings& settings) {
  constexpr int kQuality = 75;  // JPEG
  const double wanted = settings.size == pdf::Size::kExact   ? page.dpi
                        : settings.size == pdf::Size::kSmall ? 100
                                                             : 150;
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  // Lines of ink need their pixels; shades get by with fewer.
  const int factor = bitonal ? 1 : std::max(1, static_cast<int>(page.dpi / wanted));
  exporting::Illustrations result;
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kPicture) continue;
    const Box box = bounds(block.outline);
    const int x0 = std::max(0, static_cast<int>(box.x0)),
              y0 = std::max(0, static_cast<int>(box.y0));
    const int x1 = std::min(width_of(picture), static_cast<int>(std::ceil(box.x1)));
    const int y1 = std::min(height_of(picture), static_cast<int>(std::ceil(box.y1)));
    if (x1 <= x0 || y1 <= y0) continue;
    const Picture part = fewer_pixels(cut_out(picture, x0, y0, x1, y1), factor);
    auto one = std::make_shared<exporting::Illustration>();
    one->place = box;
    one->png = bitonal;
    const int quality = settings.jpeg_quality > 0 ? settings.jpeg_quality : kQuality;
    const std::vector<uint8_t> bytes = bitonal ? write_png(part, page.dpi)
                                       : std::holds_alternative<Colour>(part)
                                           ? write_jpeg(std::get<Colour>(part), quality)
                                           : write_jpeg(std::get<Gray>(part), quality);
    one->bytes.assign(bytes.begin(), bytes.end());
    one->width = (x1 - x0) / page.dpi;
    one->height = (y1 - y0) / page.dpi;
    result.push_back(std::move(one));
  }
  return result;
}

pdf::Sheet sheet_of(const std::vector<const Page*>& pages, const SharedPicture& picture,
                    pdf::PageFace face) {
  const Page& first = *pages.front();
  pdf::Sheet sheet;
  sheet.pages = pages;
  sheet.picture = picture;
  sheet.dpi = first.dpi;
  if (const auto number = printed_number(first)) sheet.number = {number->value, number->roman};
  const Geometry& geometry = first.geometry;
  if (face != pdf::PageFace::kFacsimile || geometry.scan_width == 0) {
    sheet.width = first.width;
    sheet.height = first.height;
    sheet.to_sheet.assign(pages.size(), PlaneMap());
    return sheet;
  }
  sheet.turn = turn_of(first);
  sheet.dpi = first.dpi * geometry.to_scan.scale({first.width / 2.0, first.height / 2.0});
  const Affine turn = turned_by(sheet.turn, geometry.scan_width, geometry.scan_height);
  const bool on_side = sheet.turn % 180 != 0;
  sheet.width = on_side ? geometry.scan_height : geometry.scan_width;
  sheet.height = on_side ? geometry.scan_width : geometry.scan_height;
  for (const Page* page : pages) {
    const PlaneMap& map = page->geometry.to_scan;
    sheet.to_sheet.push_back(PlaneMap(turn * map.plane(), map.displacement()));
  }
  return sheet;
}

}  // namespace burnisher::run
