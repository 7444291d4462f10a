#include "run/kept_places.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <sstream>

#include "base/error.h"
#include "page/page_order.h"

namespace burnisher::run {
namespace {

constexpr double kRound = 0.02;  // inches kept round a block: outlines touch the print

SettingsError wrong(const std::string& text, const std::string& why) {
  return SettingsError("keep", text + ": " + why);
}

std::vector<int> blocks_named(const std::string& text) {
  std::vector<int> blocks;
  std::istringstream parts(text + "+");
  for (std::string part; std::getline(parts, part, '+');) {
    if (part.empty() || part.size() > 6 || part.find_first_not_of("0123456789") != part.npos)
      return {};
    blocks.push_back(std::stoi(part));
  }
  return blocks;
}

// Marks the pixels of row y that lie in the outline, and `round` pixels to either side.
void mark(const Polygon& outline, double y, double round, std::vector<uint8_t>& row) {
  std::vector<double> crossings;
  for (size_t i = 0; i < outline.size(); ++i) {
    const Point a = outline[i], b = outline[(i + 1) % outline.size()];
    if ((a.y <= y) != (b.y <= y)) crossings.push_back(a.x + (y - a.y) * (b.x - a.x) / (b.y - a.y));
  }
  std::sort(crossings.begin(), crossings.end());
  for (size_t i = 0; i + 1 < crossings.size(); i += 2) {
    const int from = std::max(0, static_cast<int>(std::floor(crossings[i] - round)));
    const int to = std::min(static_cast<int>(row.size()),
                            static_cast<int>(std::ceil(crossings[i + 1] + round)));
    for (int x = from; x < to; ++x) row[static_cast<size_t>(x)] = 1;
  }
}

template <typename Samples>
void whiten(Samples& picture, int x, int y) {
  for (int c = 0; c < Samples::channels; ++c) picture.row(y)[x * Samples::channels + c] = 255;
}
void whiten(Bitonal& picture, int x, int y) {
  picture.set_ink(x, y, false);
}

}  // namespace

std::vector<KeptPage> kept_places(const std::string& text, int count) {
  std::vector<KeptPage> kept;
  std::set<int> named;
  std::istringstream parts(text);
  for (std::string part; std::getline(parts, part, ',');) {
    const size_t colon = part.find(':');
    std::vector<int> pages, blocks;
    try {
      pages = page_order(part.substr(0, colon), count);
    } catch (const SettingsError& cause) {
      throw wrong(text, fmt::format("expected pages, and blocks of a page, of {} pages, as in "
                                    "2:3+4,6-8",
                                    count));
    }
    if (colon != std::string::npos) {
      blocks = blocks_named(part.substr(colon + 1));
      if (blocks.empty() || pages.size() != 1)
        throw wrong(text, "expected a page and its blocks, as in 2:3+4");
    }
    for (const int page : pages) {
      if (!named.insert(page).second)
        throw wrong(text, fmt::format("page {} is there twice", page));
      kept.push_back({page, blocks});
    }
  }
  if (kept.empty()) throw wrong(text, "nothing is kept");
  return kept;
}

void keep_blocks(const std::vector<int>& blocks, Page& page) {
  if (blocks.empty()) return;
  std::vector<bool> wanted(page.blocks.size());
  for (const int block : blocks) {
    if (block < 1 || block > static_cast<int>(page.blocks.size()))
      throw SettingsError("keep", fmt::format("{}, page {}: there is no block {}, there are {}",
                                              page.file, page.number, block, page.blocks.size()));
    wanted[static_cast<size_t>(block - 1)] = true;
  }
  std::vector<Block> left;
  for (size_t i = 0; i < page.blocks.size(); ++i)
    if (wanted[i]) left.push_back(std::move(page.blocks[i]));
  page.blocks = std::move(left);
  page.barcodes.clear();  // no part of any block
}

void clear_outside(const Page& page, Picture& picture) {
  const double round = kRound * page.dpi;
  std::visit(
      [&](auto& pixels) {
        std::vector<uint8_t> row(static_cast<size_t>(pixels.width()));
        for (int y = 0; y < pixels.height(); ++y) {
          std::fill(row.begin(), row.end(), static_cast<uint8_t>(0));
          for (const Block& block : page.blocks) {
            for (const double at : {y + 0.5 - round, y + 0.5, y + 0.5 + round}) {
              mark(block.outline, at, round, row);
              for (const Line& line : block.lines) mark(line.box.corners(), at, round, row);
            }
          }
          for (int x = 0; x < pixels.width(); ++x)
            if (row[static_cast<size_t>(x)] == 0) whiten(pixels, x, y);
        }
      },
      picture);
}

}  // namespace burnisher::run
