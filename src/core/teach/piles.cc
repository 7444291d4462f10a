#include "teach/piles.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "base/parallel.h"
#include "recognise/strip.h"

namespace burnisher::teach {
namespace {

using Matrix = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
using Vector = Eigen::RowVectorXf;

constexpr int kRows = 16, kColumns = 20;  // of the grid; a cell is a third of a strip's pixel rows
constexpr double kHighest = 1.9, kLowest = 0.7;  // x-heights round the baseline that it covers
constexpr double kWidest = 2.6;                  // x-heights that it covers along the line
constexpr double kWidthCounts = 3;       // ink of so many cells is what an x-height of width counts
constexpr int kPasses = 4;               // in which pictures go to the nearest mean
constexpr size_t kForDirections = 4000;  // pictures that principal components are taken of
constexpr int kRarest = 2;               // a pile of so few pictures joins another where it can
// Of the reach, between the means of two piles that become one: of any, of a rare one, and of those
// that read alike.
constexpr double kNear = 0.5, kFurther = 1.25, kFurtherAlike = 1.0;
// A pile counts by how many pictures of it are unsure: below this confidence. Sure ones are last,
// by their size.
constexpr double kSureEnough = 0.97, kEvenSure = 0.002;
// Of a confidence, where its line as a whole reads badly: all of it may be of another script.
constexpr double kTrustedLine = 0.8, kOfUntrusted = 0.5;
constexpr double kOfUnread = 0.25;  // of that, for ink that was read as nothing: fragments, mostly
constexpr double kMostOfThem = 0.6;
constexpr double kSurely = 0.9;  // confidence of a reading that counts there

// The grid of one picture: cells blurred with their neighbours, then the width.
void fill_grid(const Gray& strip, const recognise::StripFrame& frame, const GlyphPicture& glyph,
               float* grid) {
  const double x0 = column_of(glyph.x0, frame), x1 = column_of(glyph.x1, frame);
  const double top = frame.baseline - kHighest * frame.x_height;
  const double cell_height = (kHighest + kLowest) * frame.x_height / kRows;
  const double cell_width = kWidest * frame.x_height / kColumns;
  const double left = (x0 + x1) / 2 - cell_width * kColumns / 2;
  std::vector<float> raw(static_cast<size_t>(kRows) * kColumns, 0.f);
  const int first = std::max(0, static_cast<int>(x0)),
            last = std::min(strip.width(), static_cast<int>(std::ceil(x1)));
  for (int y = 0; y < strip.height(); ++y) {
    const int r = static_cast<int>(std::floor((y + 0.5 - top) / cell_height));
    if (r < 0 || r >= kRows) continue;
    const uint8_t* row = strip.row(y);
    for (int x = first; x < last; ++x) {
      const int c = static_cast<int>(std::floor((x + 0.5 - left) / cell_width));
      if (c < 0 || c >= kColumns || row[x] <= recognise::kPaperLevel) continue;
      raw[static_cast<size_t>(r * kColumns + c)] +=
          static_cast<float>(row[x] - recognise::kPaperLevel) /
          static_cast<float>(recognise::kInkLevel - recognise::kPaperLevel);
    }
  }
  const auto cell = static_cast<float>(cell_width * cell_height);
  for (int r = 0; r < kRows; ++r) {
    for (int c = 0; c < kColumns; ++c) {
      float sum = 0, weights = 0;
      for (int dr = -1; dr <= 1; ++dr)
        for (int dc = -1; dc <= 1; ++dc) {
          const int rr = r + dr, cc = c + dc;
          const float weight = (dr == 0 ? 2.f : 1.f) * (dc == 0 ? 2.f : 1.f);
          weights += weight;
          if (rr >= 0 && rr < kRows && cc >= 0 && cc < kColumns)
            sum += weight * raw[static_cast<size_t>(rr * kColumns + cc)];
        }
      grid[r * kColumns + c] = sum / weights / cell;
    }
  }
  // Pages differ in how much ink they have: the vector is brought to one length.
  float length = 0;
  for (int i = 0; i < kRows * kColumns; ++i) length += grid[i] * grid[i];
  length = std::max(1e-6f, std::sqrt(length));
  for (int i = 0; i < kRows * kColumns; ++i) grid[i] /= length;
  grid[kRows * kColumns] = static_cast<float>(kWidthCounts * (glyph.x1 - glyph.x0));
}

// Rows onto the directions in which they differ most.
Matrix on_principal_directions(const Matrix& rows, int wanted) {
  const Vector mean = rows.colwise().mean();
  const auto count = rows.rows();
  const auto step = std::max<Eigen::Index>(1, count / static_cast<Eigen::Index>(kForDirections));
  Matrix some((count + step - 1) / step, rows.cols());
  for (Eigen::Index i = 0; i < some.rows(); ++i) some.row(i) = rows.row(i * step) - mean;
  const Eigen::MatrixXf spread =
      some.transpose() * some / static_cast<float>(std::max<Eigen::Index>(1, some.rows()));
  const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXf> solver(spread);
  const Eigen::Index kept = std::min<Eigen::Index>(wanted, rows.cols());
  const Eigen::MatrixXf directions = solver.eigenvectors().rightCols(kept);
  Matrix turned(count, kept);
  constexpr Eigen::Index kBlock = 1024;
  parallel_each(static_cast<int>((count + kBlock - 1) / kBlock), [&](int b) {
    const Eigen::Index from = b * kBlock, rows_here = std::min(kBlock, count - from);
    turned.middleRows(from, rows_here) =
        (rows.middleRows(from, rows_here).rowwise() - mean) * directions;
  });
  return turned;
}

struct Groups {
  std::vector<int> of;  // of every picture
  Matrix means;
  std::vector<int> sizes;
};

// Nearest of `count` means to a row; its squared distance.
int nearest(const Matrix& means, Eigen::Index count, const Vector& squares, const Vector& row,
            float& away) {
  Eigen::Index best = 0;
  const Vector distances = squares.head(count) - 2 * (row * means.topRows(count).transpose());
  away = std::max(0.f, distances.minCoeff(&best) + row.squaredNorm());
  return static_cast<int>(best);
}

Groups from_leaders(const Matrix& rows, double reach) {
  Groups groups;
  const Eigen::Index count = rows.rows();
  groups.of.resize(static_cast<size_t>(count));
  Matrix leaders(64, rows.cols());
  Vector squares(64);
  Eigen::Index used = 0;
  for (Eigen::Index i = 0; i < count; ++i) {
    float away = 0;
    int best = used > 0 ? nearest(leaders, used, squares, rows.row(i), away) : -1;
    if (best < 0 || away > reach * reach) {
      if (used == leaders.rows()) {
        leaders.conservativeResize(2 * used, Eigen::NoChange);
        squares.conservativeResize(2 * used);
      }
      leaders.row(used) = rows.row(i);
      squares(used) = rows.row(i).squaredNorm();
      best = static_cast<int>(used++);
    }
    groups.of[static_cast<size_t>(i)] = best;
  }
  groups.means = leaders.topRows(used);
  return groups;
}

void take_means(const Matrix& rows, Groups& groups) {
  const auto count = static_cast<size_t>(groups.means.rows());
  groups.means.setZero();
  groups.sizes.assign(count, 0);
  for (Eigen::Index i = 0; i < rows.rows(); ++i) {
    const int g = groups.of[static_cast<size_t>(i)];
    groups.means.row(g) += rows.row(i);
    ++groups.sizes[static_cast<size_t>(g)];
  }
  // Groups without pictures go.
  std::vector<int> place(count, -1);
  Eigen::Index kept = 0;
  for (size_t g = 0; g < count; ++g) {
    if (groups.sizes[g] == 0) continue;
    place[g] = static_cast<int>(kept);
    groups.means.row(kept) =
        groups.means.row(static_cast<Eigen::Index>(g)) / static_cast<float>(groups.sizes[g]);
    groups.sizes[static_cast<size_t>(kept)] = groups.sizes[g];
    ++kept;
  }
  groups.means.conservativeResize(kept, Eigen::NoChange);
  groups.sizes.resize(static_cast<size_t>(kept));
  for (int& g : groups.of) g = place[static_cast<size_t>(g)];
}

void to_nearest(const Matrix& rows, Groups& groups) {
  Vector squares(groups.means.rows());
  for (Eigen::Index g = 0; g < groups.means.rows(); ++g)
    squares(g) = groups.means.row(g).squaredNorm();
  parallel_each(static_cast<int>(rows.rows()), [&](int i) {
    float away = 0;
    groups.of[static_cast<size_t>(i)] =
        nearest(groups.means, groups.means.rows(), squares, rows.row(i), away);
  });
  take_means(rows, groups);
}

// What most of a group's pictures surely read as; "" where that is not most of them.
std::vector<std::string> readings_of(const std::vector<std::string>& reads, const Groups& groups) {
  std::vector<std::map<std::string, int>> counts(groups.sizes.size());
  for (size_t i = 0; i < reads.size(); ++i)
    if (!reads[i].empty()) ++counts[static_cast<size_t>(groups.of[i])][reads[i]];
  std::vector<std::string> most(groups.sizes.size());
  for (size_t g = 0; g < counts.size(); ++g)
    for (const auto& [read, count] : counts[g])
      if (count >= kMostOfThem * groups.sizes[g]) most[g] = read;
  return most;
}

// Groups whose means are within reach of each other become one; small ones and those that read
// alike reach further.
void join_near(const Matrix& rows, const std::vector<std::string>& reads, double reach,
               Groups& groups) {
  const Eigen::Index count = groups.means.rows();
  const std::vector<std::string> most = readings_of(reads, groups);
  std::vector<int> into(static_cast<size_t>(count));
  std::iota(into.begin(), into.end(), 0);
  std::vector<int> order = into;
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
    return groups.sizes[static_cast<size_t>(a)] < groups.sizes[static_cast<size_t>(b)];
  });
  for (const int g : order) {  // the smallest first, into a larger one
    const auto own = static_cast<size_t>(g);
    const bool rare = groups.sizes[own] <= kRarest;
    int best = -1;
    double least = 1;  // of the reach
    for (Eigen::Index k = 0; k < count; ++k) {
      const auto other = static_cast<size_t>(k);
      if (k == g || into[other] != static_cast<int>(k) || groups.sizes[other] < groups.sizes[own])
        continue;
      const bool alike = !most[own].empty() && most[own] == most[other];
      const double far = reach * (alike ? kFurtherAlike : rare ? kFurther : kNear);
      const double away = std::sqrt((groups.means.row(k) - groups.means.row(g)).squaredNorm());
      if (away / far < least) {
        least = away / far;
        best = static_cast<int>(k);
      }
    }
    if (best < 0) continue;
    into[own] = best;
    groups.sizes[static_cast<size_t>(best)] += groups.sizes[own];
  }
  for (int& g : groups.of)
    while (into[static_cast<size_t>(g)] != g) g = into[static_cast<size_t>(g)];
  take_means(rows, groups);
}

}  // namespace

std::vector<Pile> piles_of(const TypeCase& type_case, const PileSettings& settings) {
  std::vector<GlyphAt> all;
  for (size_t l = 0; l < type_case.lines.size(); ++l)
    for (size_t g = 0; g < type_case.lines[l].glyphs.size(); ++g) all.push_back({l, g});
  if (all.empty()) return {};
  Matrix grids(static_cast<Eigen::Index>(all.size()), kRows * kColumns + 1);
  parallel_each(static_cast<int>(all.size()), [&](int i) {
    const GlyphAt& at = all[static_cast<size_t>(i)];
    const CaseLine& line = type_case.lines[at.line];
    fill_grid(line.strip, type_case.frame, line.glyphs[at.glyph], grids.row(i).data());
  });
  std::vector<std::string> reads;
  for (const GlyphAt& at : all) {
    const GlyphPicture& glyph = type_case.lines[at.line].glyphs[at.glyph];
    reads.push_back(glyph.confidence >= kSurely ? glyph.read : "");
  }
  const Matrix rows = on_principal_directions(grids, settings.components);
  Groups groups = from_leaders(rows, settings.reach);
  take_means(rows, groups);
  for (int pass = 0; pass < kPasses; ++pass) to_nearest(rows, groups);
  join_near(rows, reads, settings.reach, groups);

  struct Member {
    float away;
    size_t picture;
  };
  std::vector<std::vector<Member>> members(static_cast<size_t>(groups.means.rows()));
  for (size_t i = 0; i < all.size(); ++i) {
    const int g = groups.of[i];
    members[static_cast<size_t>(g)].push_back(
        {(rows.row(static_cast<Eigen::Index>(i)) - groups.means.row(g)).squaredNorm(), i});
  }
  std::vector<Pile> piles;
  for (std::vector<Member>& group : members) {
    std::stable_sort(group.begin(), group.end(),
                     [](const Member& a, const Member& b) { return a.away < b.away; });
    Pile pile;
    std::map<std::string, int> readings;
    for (const Member& member : group) {
      const GlyphAt& at = all[member.picture];
      const GlyphPicture& glyph = type_case.lines[at.line].glyphs[at.glyph];
      pile.glyphs.push_back(at);
      pile.confidence += glyph.confidence / static_cast<double>(group.size());
      const bool trusted = type_case.lines[at.line].confidence >= kTrustedLine;
      pile.sure +=
          (trusted ? 1 : kOfUntrusted) * glyph.confidence / static_cast<double>(group.size());
      if (++readings[glyph.read] > readings[pile.read] || pile.glyphs.size() == 1)
        pile.read = glyph.read;
    }
    piles.push_back(std::move(pile));
  }
  const auto work = [](const Pile& pile) {
    const double share = pile.read.empty() ? kOfUnread : 1;
    return share * static_cast<double>(pile.glyphs.size()) *
           std::max(kEvenSure, kSureEnough - pile.sure);
  };
  std::stable_sort(piles.begin(), piles.end(),
                   [&](const Pile& a, const Pile& b) { return work(a) > work(b); });
  return piles;
}

}  // namespace burnisher::teach
