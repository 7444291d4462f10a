#include "pdf/layers.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace burnisher::pdf {
namespace {

// Steps of brightness. Paper and ink that vary by less are one colour to the eye; ink at strokes'
// edges is paler than the ink, so that it may vary more.
constexpr double kEvenPaper = 3.5, kEvenInk = 26;
constexpr int kWhite = 250;    // paper from here on is white
constexpr int kFringe = 2;     // pixels round the ink that are neither ink nor paper
constexpr int kBlackInk = 90;  // ink darker than this with no hue to speak of is black
constexpr int kLeastHue = 40;  // levels between channels: less is gray with a cast

// Sums of some pixels' samples.
struct Sum {
  std::array<uint32_t, 3> value{};
  uint32_t count = 0;
};

Bitonal dilated(const Bitonal& ink, int extent) {
  Bitonal wide = ink.clone();
  const int stride = ink.stride();
  for (int step = 0; step < extent; ++step) {
    const Bitonal before = wide.clone();
    parallel_each(ink.height(), [&](int y) {
      const uint8_t* row = before.row(y);
      const uint8_t* up = before.row(std::max(0, y - 1));
      const uint8_t* down = before.row(std::min(ink.height() - 1, y + 1));
      uint8_t* out = wide.row(y);
      for (int i = 0; i < stride; ++i) {
        const int left = i > 0 ? row[i - 1] : 0, right = i + 1 < stride ? row[i + 1] : 0;
        out[i] = static_cast<uint8_t>(row[i] | up[i] | down[i] | row[i] << 1 | row[i] >> 1 |
                                      left << 7 | right >> 7);
      }
    });
  }
  return wide;
}

// Of each `factor` x `factor` cell, the pixels that `mask` has, or those it lacks.
template <typename Image>
std::vector<Sum> cells_of(const Image& page, const Bitonal& mask, bool masked, int factor,
                          int columns, int rows) {
  constexpr int channels = Image::channels;
  std::vector<Sum> cells(static_cast<size_t>(columns) * rows);
  parallel_each(rows, [&](int row) {
    for (int y = row * factor; y < std::min((row + 1) * factor, page.height()); ++y) {
      const uint8_t* pixels = page.row(y);
      const uint8_t* bits = mask.row(y);
      Sum* out = cells.data() + static_cast<size_t>(row) * columns;
      int x = 0;
      for (int column = 0; column < columns; ++column) {
        const int end = std::min((column + 1) * factor, page.width());
        Sum& cell = out[column];
        for (; x < end; ++x) {
          if (static_cast<bool>(bits[x >> 3] >> (7 - (x & 7)) & 1) != masked) continue;
          for (int c = 0; c < channels; ++c)
            cell.value[static_cast<size_t>(c)] += pixels[channels * x + c];
          ++cell.count;
        }
      }
    }
  });
  return cells;
}

// Cells without a pixel of their own take what lies round them: averages over ever larger areas.
void fill_holes(std::vector<Sum>& cells, int columns, int rows) {
  if (columns < 2 && rows < 2) return;
  const int half_columns = (columns + 1) / 2, half_rows = (rows + 1) / 2;
  std::vector<Sum> half(static_cast<size_t>(half_columns) * half_rows);
  bool holes = false;
  for (int y = 0; y < rows; ++y) {
    for (int x = 0; x < columns; ++x) {
      const Sum& from = cells[static_cast<size_t>(y) * columns + x];
      holes = holes || from.count == 0;
      if (from.count == 0) continue;
      Sum& to = half[static_cast<size_t>(y / 2) * half_columns + x / 2];
      for (size_t c = 0; c < 3; ++c) to.value[c] += from.value[c] / from.count;
      ++to.count;
    }
  }
  if (!holes) return;
  fill_holes(half, half_columns, half_rows);
  for (int y = 0; y < rows; ++y) {
    for (int x = 0; x < columns; ++x) {
      Sum& cell = cells[static_cast<size_t>(y) * columns + x];
      if (cell.count == 0) cell = half[static_cast<size_t>(y / 2) * half_columns + x / 2];
    }
  }
}

template <typename Image>
Image picture_of(const std::vector<Sum>& cells, int columns, int rows) {
  Image picture(columns, rows);
  for (int y = 0; y < rows; ++y) {
    for (int x = 0; x < columns; ++x) {
      const Sum& cell = cells[static_cast<size_t>(y) * columns + x];
      for (int c = 0; c < Image::channels; ++c) {
        picture.row(y)[Image::channels * x + c] =
            static_cast<uint8_t>(cell.value[static_cast<size_t>(c)] / std::max(1u, cell.count));
      }
    }
  }
  return picture;
}

struct Spread {
  Rgb mean{};
  double deviation = 0;  // of the channel that varies most
};

// Over the pixels, or over cells weighted by their pixels.
template <typename Image>
Spread spread_of(const std::vector<Sum>& cells) {
  Spread spread;
  for (size_t c = 0; c < Image::channels; ++c) {
    double sum = 0, squares = 0, count = 0;
    for (const Sum& cell : cells) {
      if (cell.count == 0) continue;
      const double mean = static_cast<double>(cell.value[c]) / cell.count;
      sum += mean * cell.count;
      squares += mean * mean * cell.count;
      count += cell.count;
    }
    if (count == 0) continue;
    const double mean = sum / count;
    spread.mean[c] = static_cast<uint8_t>(std::lround(mean));
    spread.deviation =
        std::max(spread.deviation, std::sqrt(std::max(0.0, squares / count - mean * mean)));
  }
  if (Image::channels == 1) spread.mean[1] = spread.mean[2] = spread.mean[0];
  return spread;
}

Rgb settled_ink(const Rgb& mean) {
  const auto [least, most] = std::minmax_element(mean.begin(), mean.end());
  if (*most < kBlackInk + kLeastHue && *most - *least < kLeastHue) return {0, 0, 0};
  return mean;
}

template <typename Image>
Layers layers(const Image& page, const Bitonal& ink, const LayerSettings& settings) {
  Layers result;
  const auto size = [](int pixels, int factor) {
    return std::max(1, (pixels + factor - 1) / factor);
  };
  const int paper_columns = size(page.width(), settings.paper_factor);
  const int paper_rows = size(page.height(), settings.paper_factor);
  std::vector<Sum> paper = cells_of(page, dilated(ink, kFringe), false, settings.paper_factor,
                                    paper_columns, paper_rows);
  const Spread paper_spread = spread_of<Image>(paper);
  const int least = *std::min_element(paper_spread.mean.begin(), paper_spread.mean.end());
  result.paper_colour = least >= kWhite ? Rgb{255, 255, 255} : paper_spread.mean;
  if (paper_spread.deviation > kEvenPaper) {
    fill_holes(paper, paper_columns, paper_rows);
    result.paper = picture_of<Image>(paper, paper_columns, paper_rows);
  }
  const int columns = size(page.width(), settings.colour_factor);
  const int rows = size(page.height(), settings.colour_factor);
  std::vector<Sum> colours = cells_of(page, ink, true, settings.colour_factor, columns, rows);
  const Spread ink_spread = spread_of<Image>(colours);
  result.ink_colour = settled_ink(ink_spread.mean);
  if (ink_spread.deviation > kEvenInk) {
    fill_holes(colours, columns, rows);
    result.ink_colours = picture_of<Image>(colours, columns, rows);
  }
  return result;
}

template <typename Image>
void fill_with_paper(Image& page, const Bitonal& ink, const Bitonal& gone) {
  constexpr int kCell = 4;  // pixels
  const int columns = (page.width() + kCell - 1) / kCell,
            rows = (page.height() + kCell - 1) / kCell;
  std::vector<Sum> cells = cells_of(page, dilated(ink, kFringe), false, kCell, columns, rows);
  fill_holes(cells, columns, rows);
  const Image paper = picture_of<Image>(cells, columns, rows);
  const Bitonal wide = dilated(gone, kFringe);
  parallel_each(page.height(), [&](int y) {
    for (int x = 0; x < page.width(); ++x) {
      if (!wide.ink(x, y)) continue;
      const uint8_t* from = paper.row(y / kCell) + x / kCell * Image::channels;
      std::copy(from, from + Image::channels, page.row(y) + x * Image::channels);
    }
  });
}

}  // namespace

void paper_over(Picture& page, const Bitonal& ink, const Bitonal& gone) {
  if (auto* gray = std::get_if<Gray>(&page))
    fill_with_paper(*gray, ink, gone);
  else if (auto* colour = std::get_if<Colour>(&page))
    fill_with_paper(*colour, ink, gone);
}

Layers layers_of(const Picture& page, const Bitonal& ink, const LayerSettings& settings) {
  if (const auto* gray = std::get_if<Gray>(&page)) return layers(*gray, ink, settings);
  return layers(std::get<Colour>(page), ink, settings);
}

}  // namespace burnisher::pdf
