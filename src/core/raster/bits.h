// Rows of bits, as bitonal pictures keep them.
#pragma once

#include <cstdint>
#include <cstring>

namespace burnisher {

// Sets the bits of the `width` bytes that are 1 (others are 0); `bits` is all 0 before.
inline void pack_bits(const uint8_t* ones, int width, uint8_t* bits) {
  for (int x = 0; x + 8 <= width; x += 8) {
    // Eight bytes of 0 or 1 become eight bits by one multiplication.
    uint64_t eight;
    std::memcpy(&eight, ones + x, sizeof eight);
    bits[x >> 3] = static_cast<uint8_t>((eight * 0x8040201008040201ull) >> 56);
  }
  for (int x = width & ~7; x < width; ++x) {
    if (ones[x]) bits[x >> 3] = static_cast<uint8_t>(bits[x >> 3] | 0x80 >> (x & 7));
  }
}

// Each of eight bits twice.
inline uint16_t doubled_bits(uint8_t bits) {
  uint32_t v = bits;
  v = (v | v << 4) & 0x0f0f;
  v = (v | v << 2) & 0x3333;
  v = (v | v << 1) & 0x5555;
  return static_cast<uint16_t>(v | v << 1);
}

}  // namespace burnisher
