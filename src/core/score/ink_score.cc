#include "score/ink_score.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <vector>

#include "raster/components.h"

namespace burnisher::score {
namespace {

bool ink_at(const Bitonal& ink, int x, int y) {
  return x >= 0 && y >= 0 && x < ink.width() && y < ink.height() && ink.ink(x, y);
}

// The eight neighbours, from the one above clockwise.
std::vector<bool> neighbours_of(const Bitonal& ink, int x, int y) {
  constexpr int kX[8] = {0, 1, 1, 1, 0, -1, -1, -1}, kY[8] = {-1, -1, 0, 1, 1, 1, 0, -1};
  std::vector<bool> all(8);
  for (size_t i = 0; i < 8; ++i) all[i] = ink_at(ink, x + kX[i], y + kY[i]);
  return all;
}

bool goes(const std::vector<bool>& p, int pass) {
  const auto count = std::count(p.begin(), p.end(), true);
  if (count < 2 || count > 6) return false;
  int rises = 0;
  for (size_t i = 0; i < 8; ++i) rises += !p[i] && p[(i + 1) % 8];
  if (rises != 1) return false;
  const bool up = p[0], right = p[2], down = p[4], left = p[6];
  return pass == 0 ? !(up && right && down) && !(right && down && left)
                   : !(up && right && left) && !(up && down && left);
}

double at_wrong_pixel(const Bitonal& printed, bool found, int x, int y) {
  double sum = 0, weights = 0;
  for (int dy = -2; dy <= 2; ++dy) {
    for (int dx = -2; dx <= 2; ++dx) {
      if (dx == 0 && dy == 0) continue;
      const double weight = 1 / std::hypot(dx, dy);
      weights += weight;
      if (ink_at(printed, x + dx, y + dy) != found) sum += weight;
    }
  }
  return sum / weights;
}

double mixed_blocks(const Bitonal& printed) {
  double mixed = 0;
  for (int y = 0; y + 8 <= printed.height(); y += 8) {
    for (int i = 0; i < printed.width() / 8; ++i) {
      uint8_t any = 0, all = 0xff;
      for (int k = 0; k < 8; ++k) {
        any |= printed.row(y + k)[i];
        all &= printed.row(y + k)[i];
      }
      mixed += any != 0 && all != 0xff;
    }
  }
  return mixed;
}

void compare_pieces(const Bitonal& found, const Bitonal& printed, int least, InkScore& score) {
  const Components letters = components_of(printed), pieces = components_of(found);
  const auto counts = [&](const Components& of, int c) {
    return of.list[static_cast<size_t>(c)].area >= least;
  };
  std::vector<std::vector<const Run*>> rows(static_cast<size_t>(printed.height()));
  for (const Run& run : letters.runs) rows[static_cast<size_t>(run.y)].push_back(&run);
  std::map<std::pair<int, int>, int> shared;  // pixels of letter and piece
  std::set<int> touched;                      // pieces with any printed ink
  for (const Run& run : pieces.runs) {
    for (const Run* letter : rows[static_cast<size_t>(run.y)]) {
      const int wide = std::min(run.x1, letter->x1) - std::max(run.x0, letter->x0);
      if (wide <= 0) continue;
      shared[{letter->component, run.component}] += wide;
      touched.insert(run.component);
    }
  }
  std::map<int, int> pieces_of, letters_of;
  std::set<int> seen;
  for (const auto& [pair, pixels] : shared) {
    if (pixels > 0) seen.insert(pair.first);
    if (pixels < least || !counts(letters, pair.first)) continue;
    ++pieces_of[pair.first];
    ++letters_of[pair.second];
  }
  for (int i = 0; i < static_cast<int>(letters.list.size()); ++i) {
    if (!counts(letters, i)) continue;
    ++score.letters;
    score.lost += seen.count(i) == 0;
  }
  for (const auto& [letter, count] : pieces_of) score.breaks += count - 1;
  for (const auto& [piece, count] : letters_of) score.merges += count - 1;
  for (int i = 0; i < static_cast<int>(pieces.list.size()); ++i)
    score.strewn += counts(pieces, i) && touched.count(i) == 0;
}

}  // namespace

Bitonal thinned(const Bitonal& ink) {
  Bitonal thin = ink.clone();
  std::vector<std::pair<int, int>> left;
  for (int y = 0; y < ink.height(); ++y)
    for (int x = 0; x < ink.width(); ++x)
      if (ink.ink(x, y)) left.emplace_back(x, y);
  for (bool changed = true; changed;) {
    changed = false;
    for (int pass = 0; pass < 2; ++pass) {
      std::vector<std::pair<int, int>> kept, gone;
      for (const auto& [x, y] : left)
        (goes(neighbours_of(thin, x, y), pass) ? gone : kept).emplace_back(x, y);
      for (const auto& [x, y] : gone) thin.set_ink(x, y, false);
      changed = changed || !gone.empty();
      left = std::move(kept);
    }
  }
  return thin;
}

InkScore score_ink(const Bitonal& found, const Bitonal& printed, int least) {
  InkScore score;
  const Bitonal skeleton = thinned(printed);
  for (int y = 0; y < printed.height(); ++y) {
    for (int x = 0; x < printed.width(); ++x) {
      const bool is = printed.ink(x, y), seen = found.ink(x, y);
      score.found += seen;
      score.printed += is;
      score.both += seen && is;
      const bool bone = skeleton.ink(x, y);
      score.skeleton += bone;
      score.skeleton_found += bone && seen;
      if (is != seen) score.distortion += at_wrong_pixel(printed, seen, x, y);
    }
  }
  score.blocks = mixed_blocks(printed);
  compare_pieces(found, printed, least, score);
  return score;
}

void InkScore::add(const InkScore& o) {
  found += o.found;
  printed += o.printed;
  both += o.both;
  skeleton += o.skeleton;
  skeleton_found += o.skeleton_found;
  distortion += o.distortion;
  blocks += o.blocks;
  letters += o.letters;
  breaks += o.breaks;
  merges += o.merges;
  lost += o.lost;
  strewn += o.strewn;
}

double InkScore::f_measure() const {
  return found + printed > 0 ? 2 * both / (found + printed) : 1;
}

double InkScore::pseudo_f_measure() const {
  const double precision = found > 0 ? both / found : 0;
  const double recall = skeleton > 0 ? skeleton_found / skeleton : 0;
  return precision + recall > 0 ? 2 * precision * recall / (precision + recall) : 0;
}

double InkScore::drd() const {
  return blocks > 0 ? distortion / blocks : 0;
}

}  // namespace burnisher::score
