#include "jbig2/bit_costs.h"

#include <cmath>

namespace burnisher::jbig2 {

BitCosts::BitCosts(const ContextCounts& counts) : steps_(counts.seen().size()) {
  constexpr double kUnseen = 0.4;  // times that what was never seen counts for (near Krichevsky
                                   // and Trofimov 1981)
  constexpr double kDearest = 65535;
  const auto& seen = counts.seen();
  for (size_t i = 0; i < seen.size(); i += 2) {
    const double all = seen[i] + seen[i + 1] + 2 * kUnseen;
    for (size_t bit = 0; bit < 2; ++bit) {
      const double bits = -std::log2((seen[i + bit] + kUnseen) / all);
      steps_[i + bit] = static_cast<uint16_t>(std::lround(std::min(kDearest, bits * kSteps)));
    }
  }
}

}  // namespace burnisher::jbig2
