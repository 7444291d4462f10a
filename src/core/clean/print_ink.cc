#include "clean/print_ink.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <vector>

#include "base/multiversion.h"
#include "clean/ink_levels.h"
#include "raster/bits.h"
#include "raster/components.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

constexpr double kFineEnough = 400;  // dpi
constexpr int kStroke = 2;           // pixels from a stroke's edge to its darkest
constexpr int kBlur = 2;             // pixels beyond known ink that a stroke may reach
// Of the faintest ink's darkness: paler is no stroke, even beside one.
constexpr float kPalest = 1.0f;
constexpr float kPalestRidge = 0.8f;  // the same where a ridge shows that it is one
// Of a stroke's darkness: what a ridge rises over both of its sides.
constexpr float kRidge = 0.3f;
constexpr double kHeld = 0.5;   // of a piece of ink; with less in the gray it is none there
constexpr int kLeastPiece = 6;  // pixels; less is soon a matter of outlines
// Keys' cubic (a = -1/2) a quarter of a pixel off: two of the fine pixels to one.
constexpr std::array<float, 4> kNear = {-0.0703125f, 0.8671875f, 0.2265625f, -0.0234375f};

struct Rows {
  std::vector<float> values;
  size_t width = 0;
  Rows(int count, int wide) : values(static_cast<size_t>(count) * wide), width(wide) {}
  float* operator[](int i) { return values.data() + static_cast<size_t>(i) * width; }
};

BURNISHER_MULTIVERSION
void least_of(const float* a, const float* b, int width, float* out) {
  for (int x = 0; x < width; ++x) out[x] = std::min(a[x], b[x]);
}

// Between paper and the darkest nearby; 0 where that is no ink.
BURNISHER_MULTIVERSION
void limits_of(const float* upper, const float* lower, float share, const float* darkest,
               float palest, int width, float* limit) {
  for (int x = 0; x < width; ++x) {
    const float paper = upper[x] + (lower[x] - upper[x]) * share;
    limit[x] = paper - darkest[x] > palest * paper ? 0.5f * (paper + darkest[x]) : 0.f;
  }
}

// On the ridge of a stroke, darker than what lies on both sides of it, the limit lies between the
// paper and the ridge itself, however dark the stems beside it are.
BURNISHER_MULTIVERSION
void raise_on_ridges(const float* above, const float* row, const float* under, const float* upper,
                     const float* lower, float share, const float* darkest, float palest, int width,
                     float* limit) {
  for (int x = kStroke; x < width - kStroke; ++x) {
    const float v = row[x];
    const float level = std::min(row[x - kStroke], row[x + kStroke]);
    const float upright = std::min(above[x], under[x]);
    const float falling = std::min(above[x - kStroke], under[x + kStroke]);
    const float rising = std::min(above[x + kStroke], under[x - kStroke]);
    const float sides = std::max(std::max(level, upright), std::max(falling, rising));
    const float paper = upper[x] + (lower[x] - upper[x]) * share;
    const bool ridge = sides - v > kRidge * (paper - darkest[x]) && paper - v > palest * paper;
    limit[x] = ridge ? std::max(limit[x], 0.5f * (sides + v)) : limit[x];
  }
}

// One row of twice as many values: cubic, or linear.
BURNISHER_MULTIVERSION
void doubled_cubic(const float* row, int width, float* left, float* right) {
  for (int x = 2; x < width - 2; ++x) {
    left[x] =
        kNear[3] * row[x - 2] + kNear[2] * row[x - 1] + kNear[1] * row[x] + kNear[0] * row[x + 1];
    right[x] =
        kNear[0] * row[x - 1] + kNear[1] * row[x] + kNear[2] * row[x + 1] + kNear[3] * row[x + 2];
  }
  for (const int x : {0, 1, width - 2, width - 1})
    if (x >= 0 && x < width) left[x] = right[x] = row[x];
}

BURNISHER_MULTIVERSION
void doubled_linear(const float* row, int width, float* left, float* right) {
  for (int x = 1; x < width - 1; ++x) {
    left[x] = 0.75f * row[x] + 0.25f * row[x - 1];
    right[x] = 0.75f * row[x] + 0.25f * row[x + 1];
  }
  for (const int x : {0, width - 1}) left[x] = right[x] = row[x];
}

BURNISHER_MULTIVERSION
void mix_cubic(const float* a, const float* b, const float* c, const float* d, int width,
               float* out) {
  for (int x = 0; x < width; ++x)
    out[x] = kNear[3] * a[x] + kNear[2] * b[x] + kNear[1] * c[x] + kNear[0] * d[x];
}

BURNISHER_MULTIVERSION
void below(const float* values, const float* near_limit, const float* far_limit, int width,
           uint8_t* ones) {
  for (int x = 0; x < width; ++x)
    ones[x] = values[x] < 0.75f * near_limit[x] + 0.25f * far_limit[x] ? 1 : 0;
}

// The known ink grown by kBlur pixels.
Bitonal grown(const Bitonal& ink) {
  Bitonal wide(ink.width(), ink.height());
  const int stride = ink.stride();
  std::vector<uint8_t> all(static_cast<size_t>(stride) + 2);
  for (int y = 0; y < ink.height(); ++y) {
    std::fill(all.begin(), all.end(), uint8_t{0});
    for (int dy = -kBlur; dy <= kBlur; ++dy) {
      const uint8_t* row = ink.row(std::clamp(y + dy, 0, ink.height() - 1));
      for (int i = 0; i < stride; ++i) all[static_cast<size_t>(i) + 1] |= row[i];
    }
    uint8_t* out = wide.row(y);
    for (int i = 0; i < stride; ++i) {
      const uint32_t three = static_cast<uint32_t>(all[static_cast<size_t>(i)]) << 16 |
                             static_cast<uint32_t>(all[static_cast<size_t>(i) + 1]) << 8 |
                             all[static_cast<size_t>(i) + 2];
      uint32_t spread = three;
      for (int step = 1; step <= kBlur; ++step) spread |= three << step | three >> step;
      out[i] = static_cast<uint8_t>(spread >> 8);
    }
    if (ink.width() % 8 != 0)  // bits beyond the width stay 0
      out[stride - 1] &= static_cast<uint8_t>(0xff << (8 - ink.width() % 8));
  }
  return wide;
}

class PrintInk {
 public:
  PrintInk(const Gray& page, const Bitonal& ink, double dpi)
      : page_(page),
        allowed_(grown(ink)),
        levels_(ink_levels_of(page, dpi)),
        w_(page.width()),
        h_(page.height()),
        sharp_(kRows, w_),
        level_(kRows, w_),
        wide_(kRows, 2 * w_),
        limit_(kRows, 2 * w_),
        upper_(static_cast<size_t>(w_)),
        lower_(static_cast<size_t>(w_)),
        spare_(2, 2 * w_),
        ones_(static_cast<size_t>(2 * w_)) {}

  Bitonal drawn() {
    Bitonal out(2 * w_, 2 * h_);
    for (int y = 0; y < h_; ++y) {
      const uint8_t* row = allowed_.row(y);
      if (std::all_of(row, row + allowed_.stride(), [](uint8_t b) { return b == 0; })) continue;
      for (int dy = -2; dy <= 2; ++dy) prepare(std::clamp(y + dy, 0, h_ - 1));
      const auto wide = [&](int at) { return wide_[slot(std::clamp(at, 0, h_ - 1))]; };
      const auto limit = [&](int at) { return limit_[slot(std::clamp(at, 0, h_ - 1))]; };
      mix_cubic(wide(y - 2), wide(y - 1), wide(y), wide(y + 1), 2 * w_, spare_[0]);
      mix_cubic(wide(y + 2), wide(y + 1), wide(y), wide(y - 1), 2 * w_, spare_[1]);
      for (int half = 0; half < 2; ++half) {
        below(spare_[half], limit(y), limit(half == 0 ? y - 1 : y + 1), 2 * w_, ones_.data());
        put(row, ones_.data(), out.row(2 * y + half));
      }
    }
    return out;
  }

 private:
  static constexpr int kRows = 16;  // kept of each kind: more than any reach over the rows
  int slot(int y) const { return y % kRows; }

  // The row's doubled values and limits, unless they are there.
  void prepare(int y) {
    if (ready_[static_cast<size_t>(slot(y))] == y) return;
    ready_[static_cast<size_t>(slot(y))] = y;
    for (int dy = -kStroke; dy <= kStroke; ++dy) sharpen(std::clamp(y + dy, 0, h_ - 1));
    // The darkest within kStroke: down the rows, then along.
    float* least = spare_[0];
    float* along = spare_[1];
    std::copy_n(sharp_[slot(y)], w_, least);
    for (int dy = -kStroke; dy <= kStroke; ++dy)
      least_of(least, sharp_[slot(std::clamp(y + dy, 0, h_ - 1))], w_, least);
    std::copy_n(least, w_, along);
    for (int dx = 1; dx <= kStroke; ++dx) {
      least_of(along + dx, least, w_ - dx, along + dx);
      least_of(along, least + dx, w_ - dx, along);
    }
    const Paper& paper = levels_.paper;
    const double at = std::clamp((y + 0.5) / paper.cell - 0.5, 0.0, paper.light.height() - 1.0);
    const int row = static_cast<int>(at);
    if (row != cells_) {
      spread_cells(paper.light.row(row), paper.light.width(), paper.cell, w_, upper_.data());
      spread_cells(paper.light.row(std::min(row + 1, paper.light.height() - 1)),
                   paper.light.width(), paper.cell, w_, lower_.data());
      cells_ = row;
    }
    limits_of(upper_.data(), lower_.data(), static_cast<float>(at - row), along,
              kPalest * levels_.faintest, w_, level_[slot(y)]);
    raise_on_ridges(sharp_[slot(std::max(0, y - kStroke))], sharp_[slot(y)],
                    sharp_[slot(std::min(h_ - 1, y + kStroke))], upper_.data(), lower_.data(),
                    static_cast<float>(at - row), along, kPalestRidge * levels_.faintest, w_,
                    level_[slot(y)]);
    double_row(sharp_[slot(y)], doubled_cubic, wide_[slot(y)]);
    double_row(level_[slot(y)], doubled_linear, limit_[slot(y)]);
  }

  void sharpen(int y) {
    if (sharpened_[static_cast<size_t>(slot(y))] == y) return;
    sharpened_[static_cast<size_t>(slot(y))] = y;
    sharpen_row(page_.row(std::max(0, y - 1)), page_.row(y), page_.row(std::min(h_ - 1, y + 1)),
                levels_.sharpening, w_, sharp_[slot(y)]);
  }

  template <typename Doubled>
  void double_row(const float* row, Doubled doubled, float* out) {
    left_.resize(static_cast<size_t>(w_));
    right_.resize(static_cast<size_t>(w_));
    doubled(row, w_, left_.data(), right_.data());
    for (int x = 0; x < w_; ++x) {
      out[2 * x] = left_[static_cast<size_t>(x)];
      out[2 * x + 1] = right_[static_cast<size_t>(x)];
    }
  }

  void put(const uint8_t* allowed, const uint8_t* ones, uint8_t* out) const {
    pack_bits(ones, 2 * w_, out);
    for (int i = 0; i < allowed_.stride(); ++i) {
      const uint16_t mask = doubled_bits(allowed[i]);
      out[2 * i] &= static_cast<uint8_t>(mask >> 8);
      if (2 * i + 1 < (2 * w_ + 7) / 8) out[2 * i + 1] &= static_cast<uint8_t>(mask);
    }
  }

  const Gray& page_;
  const Bitonal allowed_;
  const InkLevels levels_;
  const int w_, h_;
  Rows sharp_, level_, wide_, limit_;
  std::vector<float> upper_, lower_;  // the paper's brightness along two rows of cells...
  int cells_ = -1;                    // ...of which this is the upper one
  Rows spare_;
  std::vector<float> left_, right_;
  std::vector<uint8_t> ones_;
  std::array<int, kRows> ready_ = none(), sharpened_ = none();

  static std::array<int, kRows> none() {
    std::array<int, kRows> all{};
    all.fill(-1);
    return all;
  }
};

// Of `ink`, the pieces of which less than half is in `fine`, which is twice as large.
Bitonal missing_from(const Bitonal& fine, const Bitonal& ink, Bitonal& rest) {
  const Components pieces = components_of(ink);
  std::vector<int> held(pieces.list.size(), 0);
  for (const Run& run : pieces.runs) {
    int& count = held[static_cast<size_t>(run.component)];
    for (int x = run.x0; x < run.x1; ++x) count += fine.ink(2 * x, 2 * run.y);
  }
  std::vector<bool> lost(pieces.list.size());
  for (size_t i = 0; i < lost.size(); ++i)
    lost[i] = held[i] < kHeld * pieces.list[i].area && pieces.list[i].area >= kLeastPiece;
  Bitonal missing(ink.width(), ink.height());
  rest = ink.clone();
  if (std::none_of(lost.begin(), lost.end(), [](bool l) { return l; })) return missing;
  erase(pieces, lost, rest);
  for (int y = 0; y < ink.height(); ++y)
    for (int i = 0; i < ink.stride(); ++i)
      missing.row(y)[i] = static_cast<uint8_t>(ink.row(y)[i] & ~rest.row(y)[i]);
  return missing;
}

void put_doubled(const Bitonal& ink, const Bitonal& within, Bitonal& fine) {
  for (int y = 0; y < fine.height(); ++y) {
    uint8_t* out = fine.row(y);
    for (int i = 0; i < ink.stride(); ++i) {
      const uint16_t on = doubled_bits(ink.row(y / 2)[i]),
                     mask = doubled_bits(within.row(y / 2)[i]);
      out[2 * i] = static_cast<uint8_t>((out[2 * i] & mask >> 8) | on >> 8);
      if (2 * i + 1 < fine.stride())
        out[2 * i + 1] = static_cast<uint8_t>((out[2 * i + 1] & mask) | on);
    }
  }
}

// Three neighbours in a row of bits, added up: their sum's lower and upper bit.
struct Sums {
  std::vector<uint8_t> low, high;

  void add_up(const uint8_t* row, size_t stride) {
    low.resize(stride);
    high.resize(stride);
    for (size_t i = 0; i < stride; ++i) {
      const uint8_t here = row[i];
      const auto left = static_cast<uint8_t>(here >> 1 | (i > 0 ? row[i - 1] << 7 : 0));
      const auto right = static_cast<uint8_t>(here << 1 | (i + 1 < stride ? row[i + 1] >> 7 : 0));
      low[i] = left ^ here ^ right;
      high[i] = static_cast<uint8_t>((left & here) | (left & right) | (here & right));
    }
  }
};

// Pixels with ink left and right but not above and below, or the other way round.
uint8_t thin_at(const Bitonal& ink, int y, size_t i) {
  const uint8_t* row = ink.row(y);
  const uint8_t here = row[i];
  if (here == 0) return 0;
  const bool inner = y > 0 && y + 1 < ink.height();
  const uint8_t up = inner ? ink.row(y - 1)[i] : here, down = inner ? ink.row(y + 1)[i] : here;
  const auto left = static_cast<uint8_t>(here >> 1 | (i > 0 ? row[i - 1] << 7 : 0));
  const auto right = static_cast<uint8_t>(
      here << 1 | (i + 1 < static_cast<size_t>(ink.stride()) ? row[i + 1] >> 7 : 0));
  return static_cast<uint8_t>(here & ((left & right & ~up & ~down) | (up & down & ~left & ~right)));
}

// Each pixel as most of the nine around it are, so that grain leaves the outlines; lines of one
// pixel stay.
Bitonal smoothed(const Bitonal& ink) {
  Bitonal out(ink.width(), ink.height());
  const auto stride = static_cast<size_t>(ink.stride());
  const std::vector<uint8_t> nothing(stride);
  std::array<Sums, 3> rows;
  rows[0].add_up(nothing.data(), stride);
  rows[1].add_up(ink.row(0), stride);
  for (int y = 0; y < ink.height(); ++y) {
    rows[2].add_up(y + 1 < ink.height() ? ink.row(y + 1) : nothing.data(), stride);
    for (size_t i = 0; i < stride; ++i) {
      const uint8_t a = rows[0].low[i], b = rows[1].low[i], c = rows[2].low[i];
      const uint8_t d = rows[0].high[i], e = rows[1].high[i], f = rows[2].high[i];
      // Five of nine: ones + 2 * (twos + d + e + f) is 5 or more.
      const uint8_t ones = a ^ b ^ c, twos = (a & b) | (a & c) | (b & c);
      const uint8_t pair = (twos & (d | e | f)) | (d & (e | f)) | (e & f);
      const uint8_t three = (twos & d & (e | f)) | (e & f & (twos | d));
      out.row(y)[i] = static_cast<uint8_t>((pair & ones) | three | thin_at(ink, y, i));
    }
    std::swap(rows[0], rows[1]);
    std::swap(rows[1], rows[2]);
  }
  return out;
}

Page doubled(const Page& page) {
  Page large = page;
  large.width *= 2;
  large.height *= 2;
  large.dpi *= 2;
  const PlaneMap& map = page.geometry.to_scan;
  std::shared_ptr<DisplacementField> bend;
  if (map.displacement()) {
    bend = std::make_shared<DisplacementField>(*map.displacement());
    bend->step *= 2;
    for (float& down : bend->down) down *= 2;
  }
  large.geometry.to_scan = PlaneMap(map.plane() * Affine{0.5, 0, 0, 0, 0.5, 0}, bend);
  return large;
}

}  // namespace

int print_factor(double dpi) {
  return dpi < kFineEnough ? 2 : 1;
}

Bitonal print_ink(const Gray& page, const Bitonal& ink, double dpi) {
  if (page.width() < 4 || page.height() < 4) {  // no row is long enough to be doubled
    Bitonal out(2 * page.width(), 2 * page.height());
    for (int y = 0; y < out.height(); ++y)
      for (int x = 0; x < out.width(); ++x) out.set_ink(x, y, ink.ink(x / 2, y / 2));
    return out;
  }
  Bitonal fine = smoothed(PrintInk(page, ink, dpi).drawn());
  Bitonal rest;
  const Bitonal missing = missing_from(fine, ink, rest);
  if (std::any_of(missing.bytes().begin(), missing.bytes().end(), [](uint8_t b) { return b; }))
    put_doubled(missing, grown(rest), fine);
  return fine;
}

PrintedPage printed_page(const CleanResult& cleaned) {
  PrintedPage printed{delivered_ink(cleaned), cleaned.page};
  printed.page.blocks.clear();
  const bool bitonal = std::holds_alternative<Bitonal>(cleaned.picture);
  if (bitonal || print_factor(cleaned.page.dpi) == 1) return printed;
  const bool gray = std::holds_alternative<Gray>(cleaned.picture);
  const Gray light = gray ? Gray() : to_gray(cleaned.picture);
  printed.ink =
      print_ink(gray ? std::get<Gray>(cleaned.picture) : light, printed.ink, cleaned.page.dpi);
  printed.page = doubled(printed.page);
  return printed;
}

}  // namespace burnisher::clean
