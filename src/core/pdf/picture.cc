#include "pdf/picture.h"

#include <tiffio.h>
#include <zlib.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/files.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/tiff.h"
#include "raster/turn.h"

namespace burnisher::pdf {
namespace {

// Resolutions of paper and of the ink's colours, and how hard JPEG presses them.
struct Pressing {
  double paper_dpi, colour_dpi;
  int paper_quality, whole_quality;
};

Pressing pressing_of(Size size) {
  return size == Size::kSmall ? Pressing{100, 20, 28, 50} : Pressing{150, 30, 36, 60};
}

std::vector<uint8_t> deflated(const std::vector<uint8_t>& bytes) {
  uLongf size = compressBound(bytes.size());
  std::vector<uint8_t> out(size);
  if (compress2(out.data(), &size, bytes.data(), bytes.size(), Z_DEFAULT_COMPRESSION) != Z_OK)
    throw OutputError("a page picture could not be deflated; is memory short?");
  out.resize(size);
  return out;
}

// PNG's predictor "up" (ISO/IEC 15948, 9.2), which PDF knows as predictor 12: differences to the
// row above.
template <typename Image>
std::vector<uint8_t> predicted(const Image& picture) {
  const size_t length = static_cast<size_t>(picture.width()) * Image::channels;
  std::vector<uint8_t> out;
  out.reserve((length + 1) * static_cast<size_t>(picture.height()));
  const std::vector<uint8_t> nothing(length);
  for (int y = 0; y < picture.height(); ++y) {
    const uint8_t* above = y > 0 ? picture.row(y - 1) : nothing.data();
    out.push_back(2);
    for (size_t i = 0; i < length; ++i)
      out.push_back(static_cast<uint8_t>(picture.row(y)[i] - above[i]));
  }
  return out;
}

// Pixels in one: rather a little too many, since paper has no sharp edges.
int factor_for(double dpi, double wanted) {
  return std::max(1, static_cast<int>(std::ceil(dpi / wanted - 0.25)));
}

}  // namespace

CodedImage coded_jpeg(const Picture& picture, int quality) {
  CodedImage image;
  image.width = width_of(picture);
  image.height = height_of(picture);
  if (const auto* colour = std::get_if<Colour>(&picture)) {
    image.channels = 3;
    image.bytes = write_jpeg(*colour, quality);
  } else if (const auto* gray = std::get_if<Gray>(&picture)) {
    image.bytes = write_jpeg(*gray, quality);
  } else {
    image.bytes = write_jpeg(to_gray(picture), quality);
  }
  return image;
}

CodedImage coded_g4(const Bitonal& picture) {
  return {Coding::kG4, 1, true, picture.width(), picture.height(), encode_g4(picture), {}};
}

CodedImage coded_exactly(const Picture& picture) {
  if (const auto* bitonal = std::get_if<Bitonal>(&picture)) return coded_g4(*bitonal);
  CodedImage image;
  image.coding = Coding::kDeflate;
  image.width = width_of(picture);
  image.height = height_of(picture);
  if (const auto* colour = std::get_if<Colour>(&picture)) {
    image.channels = 3;
    image.bytes = deflated(predicted(*colour));
  } else {
    image.bytes = deflated(predicted(std::get<Gray>(picture)));
  }
  return image;
}

PagePicture page_picture(Picture picture, Bitonal ink, double dpi, const PictureSettings& settings,
                         Bitonal print) {
  PagePicture result;
  result.width = width_of(picture);
  result.height = height_of(picture);
  if (auto* bitonal = std::get_if<Bitonal>(&picture)) {
    result.ink = std::make_shared<Bitonal>(ink.empty() ? std::move(*bitonal) : std::move(ink));
    return result;
  }
  if (settings.size == Size::kExact) {
    result.image = coded_exactly(picture);
    return result;
  }
  const Pressing pressing = pressing_of(settings.size);
  if (ink.empty()) {
    result.image = coded_jpeg(
        picture, settings.jpeg_quality > 0 ? settings.jpeg_quality : pressing.whole_quality);
    return result;
  }
  const Layers layers = layers_of(
      picture, ink, {factor_for(dpi, pressing.paper_dpi), factor_for(dpi, pressing.colour_dpi)});
  const int quality = settings.jpeg_quality > 0 ? settings.jpeg_quality : pressing.paper_quality;
  if (layers.paper.has_value())
    result.image = coded_jpeg(*layers.paper, quality);
  else
    result.paper_colour = layers.paper_colour;
  if (layers.ink_colours.has_value()) result.ink_colours = coded_jpeg(*layers.ink_colours, quality);
  result.ink_colour = layers.ink_colour;
  const bool blank =
      std::all_of(ink.bytes().begin(), ink.bytes().end(), [](uint8_t b) { return b == 0; });
  if (!blank) result.ink = std::make_shared<Bitonal>(std::move(print.empty() ? ink : print));
  return result;
}

namespace {

bool is_blank(const Bitonal& ink) {
  return std::all_of(ink.bytes().begin(), ink.bytes().end(), [](uint8_t b) { return b == 0; });
}

// Ink in its colours, on paper that shows nothing of the picture.
void add_ink(const Picture& picture, Bitonal ink, int factor, int quality, PagePicture& page) {
  if (is_blank(ink)) return;
  if (!std::holds_alternative<Bitonal>(picture)) {
    const Layers layers = layers_of(picture, ink, {factor, factor});
    page.ink_colour = layers.ink_colour;
    if (layers.ink_colours.has_value()) page.ink_colours = coded_jpeg(*layers.ink_colours, quality);
  }
  page.ink = std::make_shared<Bitonal>(std::move(ink));
}

}  // namespace

PagePicture cut_out(const Picture& picture, const std::vector<Box>& boxes, Bitonal ink, double dpi,
                    const PictureSettings& settings) {
  PagePicture result;
  result.width = width_of(picture);
  result.height = height_of(picture);
  result.paper_colour = Rgb{255, 255, 255};
  const Pressing pressing = pressing_of(settings.size);
  const int factor = settings.size == Size::kExact ? 1 : factor_for(dpi, pressing.paper_dpi);
  const int quality = settings.jpeg_quality > 0 ? settings.jpeg_quality : pressing.whole_quality;
  // Of bitonal pages the pictures are ink like everything else.
  for (const Box& box : std::holds_alternative<Bitonal>(picture) ? std::vector<Box>() : boxes) {
    const int x0 = std::max(0, static_cast<int>(box.x0));
    const int y0 = std::max(0, static_cast<int>(box.y0));
    const int x1 = std::min(result.width, static_cast<int>(std::ceil(box.x1)));
    const int y1 = std::min(result.height, static_cast<int>(std::ceil(box.y1)));
    if (x1 <= x0 || y1 <= y0) continue;
    const Picture part = fewer_pixels(cut_out(picture, x0, y0, x1, y1), factor);
    const Box place{double(x0), double(y0), double(x1), double(y1)};
    result.cutouts.push_back(
        {settings.size == Size::kExact ? coded_exactly(part) : coded_jpeg(part, quality), place});
  }
  add_ink(picture, std::move(ink), factor_for(dpi, pressing.colour_dpi), quality, result);
  return result;
}

CodedImage thumbnail_of(const Picture& picture) {
  constexpr int kLongest = 106, kQuality = 45;  // pixels, as ISO 32000-1, 12.3.4 has them
  const int longest = std::max(width_of(picture), height_of(picture));
  return coded_jpeg(fewer_pixels(picture, std::max(1, (longest + kLongest - 1) / kLongest)),
                    kQuality);
}

}  // namespace burnisher::pdf
