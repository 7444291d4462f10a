#include "type/print.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "raster/convert.h"

namespace burnisher::type {
namespace {

// From the darkest ink to what most of the paper is.
void spread(Gray& picture) {
  constexpr int kLeastContrast = 16;  // levels between paper and ink
  const int dark = quantile_of(picture, 0.03), light = quantile_of(picture, 0.7);
  if (light - dark < kLeastContrast) return;
  for (uint8_t& sample : picture.samples())
    sample = static_cast<uint8_t>(std::clamp(255 * (sample - dark) / (light - dark), 0, 255));
}

}  // namespace

Print::Print(const Picture& picture, const Bitonal& ink) : ink_(ink) {
  if (!std::holds_alternative<Bitonal>(picture)) gray_ = to_gray(picture);
}

bool Print::holds(const Box& box) const {
  constexpr double kBeyond = 50;  // pixels, that words of crooked scans may hang over
  return box.x0 > -kBeyond && box.y0 > -kBeyond && box.x1 < ink_.width() + kBeyond &&
         box.y1 < ink_.height() + kBeyond;
}

int Print::at(int x, int y) const {
  if (x < 0 || y < 0 || x >= ink_.width() || y >= ink_.height()) return 255;
  return gray_.empty() ? 255 * !ink_.ink(x, y) : gray_.row(y)[x];
}

Gray Print::reduced(int x0, int y0, int columns, int rows, int factor) const {
  Gray out(columns, rows, 255);
  for (int row = 0; row < rows; ++row) {
    for (int column = 0; column < columns; ++column) {
      int sum = 0;
      for (int y = y0 + row * factor; y < y0 + (row + 1) * factor; ++y) {
        for (int x = x0 + column * factor; x < x0 + (column + 1) * factor; ++x) sum += at(x, y);
      }
      out.row(row)[column] = static_cast<uint8_t>(sum / (factor * factor));
    }
  }
  if (!gray_.empty()) spread(out);
  return out;
}

Gray softened(const Gray& in) {
  Gray out(in.width(), in.height());
  for (int y = 0; y < in.height(); ++y) {
    const uint8_t* rows[3] = {in.row(std::max(0, y - 1)), in.row(y),
                              in.row(std::min(in.height() - 1, y + 1))};
    for (int x = 0; x < in.width(); ++x) {
      const int left = std::max(0, x - 1), right = std::min(in.width() - 1, x + 1);
      int sum = 0;
      for (const uint8_t* row : rows) sum += row[left] + row[x] + row[right];
      out.row(y)[x] = static_cast<uint8_t>(sum / 9);
    }
  }
  return out;
}

double overlap_of(const Gray& a, const Gray& b) {
  int64_t apart = 0, both = 0;
  for (size_t i = 0; i < a.samples().size(); ++i) {
    apart += std::abs(a.samples()[i] - b.samples()[i]);
    both += 510 - a.samples()[i] - b.samples()[i];
  }
  return both > 0 ? 1 - static_cast<double>(apart) / static_cast<double>(both) : 0;
}

double stroke_of(const Gray& print) {
  double dark = 0, edges = 0;
  for (int y = 0; y + 1 < print.height(); ++y) {
    const uint8_t *row = print.row(y), *below = print.row(y + 1);
    for (int x = 0; x + 1 < print.width(); ++x) {
      dark += 255 - row[x];
      edges += std::hypot(row[x + 1] - row[x], below[x] - row[x]);
    }
  }
  return edges > 0 ? 2 * dark / edges : 0;
}

namespace {

constexpr int kLongest = 60;  // pixels; longer runs are rules

// Pixels of ink in a row through (x, y), which has ink.
int run_through(const Bitonal& ink, int x, int y, int dx, int dy) {
  int length = 1;
  for (const int way : {-1, 1}) {
    int u = x + way * dx, v = y + way * dy;
    while (length < kLongest && u >= 0 && v >= 0 && u < ink.width() && v < ink.height() &&
           ink.ink(u, v)) {
      ++length;
      u += way * dx;
      v += way * dy;
    }
  }
  return length;
}

}  // namespace

void StrokeContrast::add(const Bitonal& ink, const Box& box) {
  const int x0 = std::max(0, static_cast<int>(box.x0)), y0 = std::max(0, static_cast<int>(box.y0));
  const int x1 = std::min(ink.width(), static_cast<int>(std::ceil(box.x1)));
  const int y1 = std::min(ink.height(), static_cast<int>(std::ceil(box.y1)));
  for (int y = y0; y < y1; ++y) {
    for (int x = x0; x < x1; ++x) {
      if (!ink.ink(x, y)) continue;
      const int across = run_through(ink, x, y, 1, 0), down = run_through(ink, x, y, 0, 1);
      if (across >= kLongest || down >= kLongest) continue;
      if (down >= 2 * across) {
        upright_ += across;
        ++uprights_;
      } else if (across >= 2 * down) {
        level_ += down;
        ++levels_;
      }
    }
  }
}

void StrokeContrast::add(const StrokeContrast& more) {
  upright_ += more.upright_;
  level_ += more.level_;
  uprights_ += more.uprights_;
  levels_ += more.levels_;
}

std::optional<double> StrokeContrast::value() const {
  constexpr int kLeast = 60;  // pixels
  if (uprights_ < kLeast || levels_ < kLeast) return std::nullopt;
  return upright_ / uprights_ / (level_ / levels_);
}

double lean_of(const Gray& print, double baseline) {
  constexpr double kLeast = -6, kMost = 20, kStep = 2;       // degrees of slant tried
  constexpr double kRadians = 3.14159265358979323846 / 180;  // in a degree
  double best = 0, lean = 0;
  std::vector<double> columns;
  const int room = print.height();
  baseline = std::clamp(baseline, 0.0, static_cast<double>(room));
  for (double degrees = kLeast; degrees <= kMost; degrees += kStep) {
    const double slope = std::tan(degrees * kRadians);
    columns.assign(static_cast<size_t>(print.width() + 2 * room + 1), 0);
    for (int y = 0; y < print.height(); ++y) {
      const double shift = (y + 0.5 - baseline) * slope + room;
      const auto whole = static_cast<size_t>(shift);
      const double rest = shift - static_cast<double>(whole);
      const uint8_t* row = print.row(y);
      for (int x = 0; x < print.width(); ++x) {
        const double dark = 255 - row[x];
        columns[whole + static_cast<size_t>(x)] += dark * (1 - rest);
        columns[whole + static_cast<size_t>(x) + 1] += dark * rest;
      }
    }
    double sum = 0;
    for (const double column : columns) sum += column * column;
    if (sum > best) {
      best = sum;
      lean = degrees;
    }
  }
  return lean;
}

std::optional<Ink> colour_of(const Picture& picture, const Bitonal& ink, const Box& box) {
  std::array<int64_t, 3> inside{}, all{};
  int64_t count_inside = 0, count_all = 0;
  const int x0 = std::max(1, static_cast<int>(box.x0));
  const int x1 = std::min(ink.width() - 1, static_cast<int>(std::ceil(box.x1)));
  const int y0 = std::max(1, static_cast<int>(box.y0));
  const int y1 = std::min(ink.height() - 1, static_cast<int>(std::ceil(box.y1)));
  const auto* colour = std::get_if<Colour>(&picture);
  const auto* gray = std::get_if<Gray>(&picture);
  if (colour == nullptr && gray == nullptr) return std::nullopt;
  for (int y = y0; y < y1; ++y) {
    for (int x = x0; x < x1; ++x) {
      if (!ink.ink(x, y)) continue;
      const bool in =
          ink.ink(x - 1, y) && ink.ink(x + 1, y) && ink.ink(x, y - 1) && ink.ink(x, y + 1);
      ++count_all;
      count_inside += in;
      for (size_t c = 0; c < 3; ++c) {
        const int value =
            colour != nullptr ? colour->row(y)[3 * x + static_cast<int>(c)] : gray->row(y)[x];
        all[c] += value;
        if (in) inside[c] += value;
      }
    }
  }
  if (count_all == 0) return std::nullopt;
  const bool cores = count_inside > count_all / 10;
  Ink mean{};
  for (size_t c = 0; c < 3; ++c)
    mean[c] = static_cast<uint8_t>(cores ? inside[c] / count_inside : all[c] / count_all);
  return mean;
}

}  // namespace burnisher::type
