#include "run/page_pictures.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "layout/document.h"
#include "raster/convert.h"

namespace burnisher::run {
namespace {

constexpr double kDegrees = 180 / 3.14159265358979323846;

Picture copied(const Picture& picture) {
  return std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
}

size_t share_of_file(const std::string& file, int pages) {
  std::error_code status;
  const auto size = std::filesystem::file_size(file, status);
  return status ? 0 : static_cast<size_t>(size) / static_cast<size_t>(std::max(1, pages));
}

// Halftones and photographs are no ink: what is printed there stays in the paper's layer.
void leave_pictures(const Page& page, Bitonal& ink) {
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kPicture) continue;
    const Box box = bounds(block.outline);
    const int x0 = std::max(0, static_cast<int>(box.x0));
    const int x1 = std::min(ink.width(), static_cast<int>(std::ceil(box.x1)));
    const int y0 = std::max(0, static_cast<int>(box.y0));
    const int y1 = std::min(ink.height(), static_cast<int>(std::ceil(box.y1)));
    for (int y = y0; y < y1; ++y) {
      for (int x = x0; x < x1; ++x) ink.set_ink(x, y, false);
    }
  }
}

// Bitonal pictures come out of some files as gray ones.
bool black_and_white(const Gray& picture) {
  return std::all_of(picture.samples().begin(), picture.samples().end(),
                     [](uint8_t v) { return v == 0 || v == 255; });
}

// Degrees counter-clockwise that the scan is turned by to stand upright: as its page does.
int turn_of(const Page& page) {
  const Affine& m = page.geometry.to_scan.affine();
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

SharedPicture whole(Picture picture, Bitonal ink, double dpi, size_t bytes,
                    const pdf::PictureSettings& settings) {
  auto result = std::make_shared<pdf::PagePicture>(
      pdf::page_picture(std::move(picture), std::move(ink), dpi, settings));
  result->source_bytes = bytes;
  return result;
}

}  // namespace

SharedPicture picture_of(const Scan& scan, const clean::CleanResult& cleaned,
                         const pdf::PictureSettings& settings) {
  if (settings.face == pdf::Face::kFacsimile) {
    // The right page of a spread lies on the sheet of the left.
    return cleaned.page.part == 2 ? nullptr : picture_of(scan, settings);
  }
  const size_t bytes = share_of_file(scan.file, scan.page_count) / (cleaned.page.part == 0 ? 1 : 2);
  Bitonal ink = clean::delivered_ink(cleaned);
  if (!std::holds_alternative<Bitonal>(cleaned.picture)) leave_pictures(cleaned.page, ink);
  return whole(copied(cleaned.picture), std::move(ink), cleaned.page.dpi, bytes, settings);
}

SharedPicture picture_of(Picture picture, const Page& page, const pdf::PictureSettings& settings) {
  if (const auto* gray = std::get_if<Gray>(&picture); gray != nullptr && black_and_white(*gray))
    picture = to_bitonal(*gray, 128);
  Bitonal ink;
  if (!std::holds_alternative<Bitonal>(picture) && settings.size != pdf::Size::kExact) {
    Scan scan;
    scan.picture = copied(picture);
    scan.stated_dpi = page.dpi;
    ink = clean::delivered_ink(clean::clean(scan, clean::in_place()).front());
    leave_pictures(page, ink);
  }
  return whole(std::move(picture), std::move(ink), page.dpi, share_of_file(page.file, 1), settings);
}

SharedPicture picture_of(const Scan& scan, const pdf::PictureSettings& settings) {
  const size_t bytes = share_of_file(scan.file, scan.page_count);
  std::optional<pdf::CodedImage> image = pdf::untouched(scan.file, scan.page);
  // Bitonal scans are smaller in another coding, and the same to the pixel.
  const bool recoded = image.has_value() && image->bitonal && settings.size == pdf::Size::kSmall;
  if (!image.has_value() || recoded)
    return whole(copied(scan.picture), {}, scan.stated_dpi, bytes, settings);
  auto result = std::make_shared<pdf::PagePicture>();
  result->width = image->width;
  result->height = image->height;
  result->image = std::move(image);
  result->source_bytes = bytes;
  return result;
}

pdf::Sheet sheet_of(const std::vector<const Page*>& pages, const SharedPicture& picture,
                    pdf::Face face) {
  const Page& first = *pages.front();
  pdf::Sheet sheet;
  sheet.pages = pages;
  sheet.picture = picture;
  sheet.dpi = first.dpi;
  if (const auto number = layout::printed_number(first))
    sheet.number = {number->value, number->roman};
  const Geometry& geometry = first.geometry;
  if (face != pdf::Face::kFacsimile || geometry.scan_width == 0) {
    sheet.width = first.width;
    sheet.height = first.height;
    sheet.to_sheet.assign(pages.size(), PlaneMap());
    return sheet;
  }
  sheet.turn = turn_of(first);
  sheet.dpi = first.dpi * geometry.to_scan.scale();
  const Affine turn = turned_by(sheet.turn, geometry.scan_width, geometry.scan_height);
  const bool on_side = sheet.turn % 180 != 0;
  sheet.width = on_side ? geometry.scan_height : geometry.scan_width;
  sheet.height = on_side ? geometry.scan_width : geometry.scan_height;
  for (const Page* page : pages) {
    const PlaneMap& map = page->geometry.to_scan;
    sheet.to_sheet.push_back(PlaneMap(turn * map.affine(), map.bend()));
  }
  return sheet;
}

}  // namespace burnisher::run
