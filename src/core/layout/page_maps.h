// What the page network saw, in pixels of the page: the maps asked at places and over boxes.
#pragma once

#include <memory>
#include <vector>

#include "base/plane.h"
#include "layout/page_network.h"

namespace burnisher::layout {

// Which way text runs.
enum class Heading { kRight, kDown, kLeft, kUp };

class PageMaps {
 public:
  PageMaps() = default;  // nobody looked: all ink is taken for level print
  // `to_cells` leads from pixels of the page to cells of the maps.
  PageMaps(MapGrid grid, const Affine& to_cells);

  bool empty() const { return grid_->values.empty(); }
  const MapGrid& grid() const { return *grid_; }
  const Affine& to_cells() const { return to_cells_; }
  double pixels_of_cell() const;

  // Between the cells' centres; 0 outside the maps.
  double at(PageMap map, Point p) const;
  // Over a box, sampled at least once and twice a cell.
  double mean(PageMap map, const Box& box) const;
  double most(PageMap map, const Box& box) const;
  // Cosine and sine of twice the angle at which text lies, the mean over a box's text: 1, 0 where
  // it is level, -1, 0 where it lies on its side; the length tells how sure it is.
  Point axis(const Box& box) const;

  // From x0 to x1 in a band: the most of the column means, and the least of them.
  double column_peak(PageMap map, const Box& gap) const;
  double column_least(PageMap map, const Box& gap) const;
  // The mean along the width of the highest value in each column: how far a level line goes
  // through.
  double level_ridge(PageMap map, const Box& box) const;

  // As the page looks when it is turned so that text that ran so runs to the right. `back` leads
  // from its pixels to those of this page.
  PageMaps turned(Heading heading, Affine& back) const;

 private:
  PageMaps(std::shared_ptr<const MapGrid> grid, const Affine& to_cells);
  std::vector<double> column_means(PageMap map, const Box& box) const;

  std::shared_ptr<const MapGrid> grid_ = std::make_shared<MapGrid>();
  Affine to_cells_;
};

// Looks at a page whose text has about the x-height given, and once more when the text turns out to
// be much larger or smaller.
PageMaps look_at(const PageNetwork& network, const Gray& page, double x_height);

// How the text of a page lies.
struct TextAxis {
  double cells = 0;     // of text; 0 when there is next to none
  double sideways = 0;  // share of them, 0-1, that lie on their side
};
TextAxis text_axis(const PageMaps& maps);

}  // namespace burnisher::layout
