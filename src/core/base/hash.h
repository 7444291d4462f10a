// A number that follows from bytes: FNV-1a (Fowler, Noll and Vo 1991). For names and identities,
// not against forgery.
#pragma once

#include <cstdint>
#include <string_view>

namespace burnisher {

constexpr uint64_t kHashStart = 14695981039346656037ull;

inline uint64_t hash_of(std::string_view bytes, uint64_t start = kHashStart) {
  uint64_t hash = start;
  for (const char c : bytes) {
    hash ^= static_cast<unsigned char>(c);
    hash *= 1099511628211ull;
  }
  return hash;
}

}  // namespace burnisher
