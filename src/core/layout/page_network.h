// The network that sees a page: an encoder-decoder (Ronneberger, Fischer and Brox 2015; for pages
// Oliveira, Seguin and Kaplan 2018) over the gray page at a fixed text scale. It says for every
// cell of four by four pixels what stands there and which way its text runs. Line ends and block
// borders are maps of their own, so that columns close together do not run into each other
// (Gruening et al. 2019; Kodym and Hradis 2021).
#pragma once

#include <array>
#include <memory>
#include <string>
#include <vector>

#include "neural/conv_shape.h"
#include "raster/image.h"

namespace burnisher::layout {

// The page is scaled so that the x-height of its main text has so many pixels.
constexpr double kPageXHeight = 6;
constexpr int kCellPixels = 4;  // pixels of the scaled page in a cell, each way
constexpr int kPageStep = 16;   // the scaled page's sides are filled up to multiples of this

enum PageMap {
  kBandMap,      // the band between baseline and x-height of printed text
  kBaselineMap,  // baselines
  kEndMap,       // just beyond either end of a line: what parts it from its neighbour
  kBorderMap,    // the border of a block
  kPictureMap,
  kTableMap,
  kRuleMap,     // printed rules
  kMarkMap,     // handwriting, stamps
  kPaperMap,    // the sheet, as against the scanner's bed
  kAxisCosMap,  // which way the text lies, only where there is text: cosine and sine of twice its
  kAxisSinMap,  // angle, so that text and the same text upside down are alike
};
constexpr int kShareMaps = 9;  // the first maps are probabilities
constexpr int kPageMaps = 11;
extern const std::array<const char*, kPageMaps> kPageMapNames;

struct PagePlan {
  // Channels at a half, a quarter, an eighth and a sixteenth of the page's size.
  std::vector<int> channels = {12, 24, 40, 64};
  std::vector<int> dilations = {1, 2, 4, 8, 1, 2, 4, 8};  // at a sixteenth: how far it looks about
};

// The layers; throws SettingsError for a plan that makes none.
std::vector<neural::ConvShape> page_layers(const PagePlan& plan);

struct PageModel {
  PagePlan plan;
  neural::Tensors tensors;
  std::map<std::string, std::string> record;  // how it was trained, as text
};

// Throws InputError/FormatError naming the file.
PageModel read_page_model(const std::string& path);
void write_page_model(const std::string& path, const PageModel& model);

// The gray page in the network's range: 0 white ... 2 black.
inline float page_sample(uint8_t gray) {
  return static_cast<float>(255 - gray) * (2.f / 255);
}

// width x height cells; of each, kPageMaps values side by side.
struct MapGrid {
  int width = 0, height = 0;
  std::vector<float> values;
  float at(PageMap map, int x, int y) const {
    return values[(static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)) *
                      kPageMaps +
                  map];
  }
};

class PageNetwork {
 public:
  explicit PageNetwork(const PageModel& model);
  ~PageNetwork();
  PageNetwork(const PageNetwork&) = delete;
  PageNetwork& operator=(const PageNetwork&) = delete;

  // `page`: scaled to kPageXHeight. Safe to call from many threads at once.
  MapGrid read(const Gray& page) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::layout
