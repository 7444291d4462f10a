#include "run/checks.h"

#include <fmt/core.h>

namespace burnisher::run {

std::vector<std::string> reasons_to_look(const Page& page, double look_below) {
  std::vector<std::string> reasons;
  if (page.has_words() && page.mean_network_confidence() < look_below) {
    reasons.push_back(fmt::format(
        "hardly readable ({:.0f} % clear): upside down, sideways, very faint, or in a script the "
        "model does not know",
        100 * page.mean_network_confidence()));
  }
  return reasons;
}

}  // namespace burnisher::run
