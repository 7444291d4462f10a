#include "recognise/line_scripts.h"

#include <algorithm>

namespace burnisher::recognise {
namespace {

// What a neighbour's letters count beside the line's own: enough to settle a page number or two
// letters, too little to make a line of Greek among English ones English.
constexpr double kOfNeighbour = 0.05;
constexpr double kOfPage = 0.015;  // what every other line counts

}  // namespace

std::vector<std::string> scripts_of(const std::vector<LineReading>& readings,
                                    const std::vector<std::string>& told,
                                    const std::vector<std::string>& known) {
  if (known.empty()) return std::vector<std::string>(readings.size());
  std::vector<std::string> scripts(readings.size(), known.front());
  if (known.size() < 2) return scripts;
  const size_t n = told.size();
  const auto share = [&](size_t line, size_t script) -> double {
    const auto& own = readings[line].script_log_probability;
    return own.size() == n ? own[script] : 0;
  };
  std::vector<double> page(n, 0);
  for (size_t i = 0; i < readings.size(); ++i)
    for (size_t s = 0; s < n; ++s) page[s] += kOfPage * share(i, s);
  std::string last = known.front();
  for (size_t i = 0; i < readings.size(); ++i) {
    scripts[i] = last;
    if (readings[i].script_log_probability.size() != n) continue;
    double best = -1e18;
    std::string likeliest = last;
    for (size_t s = 0; s < n; ++s) {
      if (std::find(known.begin(), known.end(), told[s]) == known.end()) continue;
      double sum = share(i, s) + page[s];
      if (i > 0) sum += kOfNeighbour * share(i - 1, s);
      if (i + 1 < readings.size()) sum += kOfNeighbour * share(i + 1, s);
      if (sum > best) {
        best = sum;
        likeliest = told[s];
      }
    }
    scripts[i] = last = likeliest;
  }
  return scripts;
}

}  // namespace burnisher::recognise
