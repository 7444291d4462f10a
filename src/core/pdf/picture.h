// What the picture of a page is in a PDF: coded images laid over each other, and ink that is coded
// together with that of other pages.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/plane.h"
#include "pdf/layers.h"
#include "raster/coded_image.h"
#include "raster/image.h"

namespace burnisher::pdf {

// What the pages show.
enum class PageFace {
  kFacsimile,  // the scan as it came in
  kCleaned,    // the page, straightened and cleaned
  kHybrid,     // the same with real type in place of the print that was surely read
  kReset,      // real type and the page's pictures on clean paper
};
inline bool sets_type(PageFace face) {
  return face == PageFace::kHybrid || face == PageFace::kReset;
}

// How much a file may lose to be small. Ink of bitonal pages never loses a pixel.
enum class Size {
  kSmall,   // paper and pictures at 100 dpi, hard pressed
  kNormal,  // paper and pictures at 150 dpi
  kExact,   // every pixel as it is
};

// A part of the page.
struct Cutout {
  CodedImage image;
  Box place;  // pixels of the page
};

// Drawn from the first to the last, each but the cutouts over all of the page.
struct PagePicture {
  int width = 0, height = 0;  // pixels
  std::optional<Rgb> paper_colour;
  std::optional<CodedImage> image;  // the whole page, or its paper
  std::vector<Cutout> cutouts;
  std::shared_ptr<const Bitonal> ink;  // laid over it; null: none
  std::optional<CodedImage> ink_colours;
  Rgb ink_colour{0, 0, 0};
  std::vector<Box> rules;  // pixels of the page; filled with the ink's colour
  std::optional<CodedImage> thumbnail;
};

struct PictureSettings {
  PageFace face = PageFace::kCleaned;
  Size size = Size::kNormal;
  int jpeg_quality = 0;  // 1-100; 0: as the size wants it
  bool thumbnails = false;
};

CodedImage coded_jpeg(const Picture& picture, int quality);
CodedImage coded_exactly(const Picture& picture);
CodedImage coded_g4(const Bitonal& picture);

// A whole page picture in the wanted size. `ink`: what is printed on it, of the picture's size;
// may be empty where the picture is bitonal. `print`: the same as it is drawn, where that is finer.
PagePicture page_picture(Picture picture, Bitonal ink, double dpi, const PictureSettings& settings,
                         Bitonal print = {});

// The boxes of a page cut out of its picture, on clean paper.
PagePicture cut_out(const Picture& picture, const std::vector<Box>& boxes, Bitonal ink, double dpi,
                    const PictureSettings& settings);

// The page small, as viewers show pages beside each other.
CodedImage thumbnail_of(const Picture& picture);

}  // namespace burnisher::pdf
