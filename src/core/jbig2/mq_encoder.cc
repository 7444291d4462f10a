#include "jbig2/mq_encoder.h"

#include <algorithm>
#include <cstdlib>

namespace burnisher::jbig2 {
namespace {

struct State {
  uint16_t less_likely;  // share of the interval
  uint8_t after_likely, after_unlikely;
  bool turns;  // the likelier bit changes
};

// T.88, table E.1.
constexpr State kStates[] = {
    {0x5601, 1, 1, true},    {0x3401, 2, 6, false},   {0x1801, 3, 9, false},
    {0x0AC1, 4, 12, false},  {0x0521, 5, 29, false},  {0x0221, 38, 33, false},
    {0x5601, 7, 6, true},    {0x5401, 8, 14, false},  {0x4801, 9, 14, false},
    {0x3801, 10, 14, false}, {0x3001, 11, 17, false}, {0x2401, 12, 18, false},
    {0x1C01, 13, 20, false}, {0x1601, 29, 21, false}, {0x5601, 15, 14, true},
    {0x5401, 16, 14, false}, {0x5101, 17, 15, false}, {0x4801, 18, 16, false},
    {0x3801, 19, 17, false}, {0x3401, 20, 18, false}, {0x3001, 21, 19, false},
    {0x2801, 22, 19, false}, {0x2401, 23, 20, false}, {0x2201, 24, 21, false},
    {0x1C01, 25, 22, false}, {0x1801, 26, 23, false}, {0x1601, 27, 24, false},
    {0x1401, 28, 25, false}, {0x1201, 29, 26, false}, {0x1101, 30, 27, false},
    {0x0AC1, 31, 28, false}, {0x09C1, 32, 29, false}, {0x08A1, 33, 30, false},
    {0x0521, 34, 31, false}, {0x0441, 35, 32, false}, {0x02A1, 36, 33, false},
    {0x0221, 37, 34, false}, {0x0141, 38, 35, false}, {0x0111, 39, 36, false},
    {0x0085, 40, 37, false}, {0x0049, 41, 38, false}, {0x0025, 42, 39, false},
    {0x0015, 43, 40, false}, {0x0009, 44, 41, false}, {0x0005, 45, 42, false},
    {0x0001, 45, 43, false}, {0x5601, 46, 46, false}};

constexpr uint32_t kTop = 0x8000;  // the interval's 0.75 (T.88, annex E)

}  // namespace

void MqEncoder::encode(Context& context, int bit) {
  const State& state = kStates[context >> 1];
  const uint32_t share = state.less_likely;
  interval_ -= share;
  if (bit == (context & 1)) {
    if (interval_ & kTop) {
      code_ += share;
      return;
    }
    if (interval_ < share)
      interval_ = share;
    else
      code_ += share;
    context = static_cast<Context>(state.after_likely << 1 | (context & 1));
  } else {
    if (interval_ < share)
      code_ += share;
    else
      interval_ = share;
    const int likely = (context & 1) ^ static_cast<int>(state.turns);
    context = static_cast<Context>(state.after_unlikely << 1 | likely);
  }
  renormalise();
}

void MqEncoder::encode_zeros(Context& context, long count) {
  while (count > 0) {
    const uint32_t share = kStates[context >> 1].less_likely;
    // As many as the interval takes without being scaled, at once.
    const long at_once = (context & 1) != 0 ? 0 : (interval_ - kTop) / share;
    if (at_once < 2) {
      encode(context, 0);
      --count;
      continue;
    }
    const uint32_t steps = static_cast<uint32_t>(std::min(at_once, count));
    interval_ -= steps * share;
    code_ += steps * share;
    count -= steps;
  }
}

void MqEncoder::renormalise() {
  do {
    interval_ <<= 1;
    code_ <<= 1;
    if (--room_ == 0) byte_out();
  } while ((interval_ & kTop) == 0);
}

void MqEncoder::byte_out() {
  if (bytes_.back() != 0xFF && code_ >= 0x8000000) {
    ++bytes_.back();
    code_ &= 0x7FFFFFF;
  }
  // After a byte of ones a bit is stuffed, so that no carry can pass it.
  const int shift = bytes_.back() == 0xFF ? 20 : 19;
  bytes_.push_back(static_cast<uint8_t>(code_ >> shift));
  code_ &= (1u << shift) - 1;
  room_ = shift == 20 ? 7 : 8;
}

std::vector<uint8_t> MqEncoder::finish() {
  const uint32_t end = code_ + interval_;
  code_ |= 0xFFFF;
  if (code_ >= end) code_ -= kTop;
  for (int i = 0; i < 2; ++i) {
    code_ <<= room_;
    byte_out();
  }
  if (bytes_.back() != 0xFF) bytes_.push_back(0xFF);
  bytes_.push_back(0xAC);
  bytes_.erase(bytes_.begin());
  return std::move(bytes_);
}

void IntegerContexts::bit(MqEncoder& coder, int value) {
  coder.encode(contexts_[prefix_], value);
  prefix_ = prefix_ < 256 ? prefix_ << 1 | static_cast<uint32_t>(value)
                          : (((prefix_ << 1 | static_cast<uint32_t>(value)) & 511) | 256);
}

void IntegerContexts::bits(MqEncoder& coder, uint32_t value, int count) {
  while (count-- > 0) bit(coder, static_cast<int>(value >> count & 1));
}

void IntegerContexts::encode(MqEncoder& coder, int value) {
  struct Range {
    uint32_t from;
    int ones, bits;
  };
  static constexpr Range kRanges[] = {{4436, 5, 32}, {340, 4, 12}, {84, 3, 8},
                                      {20, 2, 6},    {4, 1, 4},    {0, 0, 2}};
  prefix_ = 1;
  bit(coder, value < 0);
  const uint32_t size = static_cast<uint32_t>(std::abs(value));
  for (const Range& range : kRanges) {
    if (size < range.from) continue;
    for (int i = 0; i < range.ones; ++i) bit(coder, 1);
    if (range.ones < 5) bit(coder, 0);
    bits(coder, size - range.from, range.bits);
    return;
  }
}

void IntegerContexts::encode_end(MqEncoder& coder) {
  prefix_ = 1;
  for (const int b : {1, 0, 0, 0}) bit(coder, b);  // minus nought
}

void NumberContexts::encode(MqEncoder& coder, uint32_t value) {
  uint32_t prefix = 1;
  for (int i = length_ - 1; i >= 0; --i) {
    const int bit = static_cast<int>(value >> i & 1);
    coder.encode(contexts_[prefix], bit);
    prefix = prefix << 1 | static_cast<uint32_t>(bit);
  }
}

}  // namespace burnisher::jbig2
