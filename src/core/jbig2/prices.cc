#include "jbig2/prices.h"

#include <cmath>

namespace burnisher::jbig2 {

Prices::Prices(const Counts& counts) : bits_(counts.seen().size()) {
  constexpr double kUnseen = 0.4;  // times that what was never seen counts for (near Krichevsky
                                   // and Trofimov 1981)
  const auto& seen = counts.seen();
  for (size_t i = 0; i < seen.size(); i += 2) {
    const double all = seen[i] + seen[i + 1] + 2 * kUnseen;
    for (size_t bit = 0; bit < 2; ++bit)
      bits_[i + bit] = static_cast<float>(-std::log2((seen[i + bit] + kUnseen) / all));
  }
}

}  // namespace burnisher::jbig2
