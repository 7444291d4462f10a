#include "train/validation.h"

#include <algorithm>
#include <numeric>

#include "base/edit_distance.h"
#include "base/parallel.h"
#include "recognise/decode.h"
#include "recognise/network.h"

namespace burnisher::train {
namespace {

constexpr int kBatch = 8;  // lines

}  // namespace

double character_error_rate(const recognise::Model& model, const std::vector<TrainingLine>& lines) {
  const recognise::Network network(model, recognise::Precision::kFloat32);
  std::vector<size_t> order(lines.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::sort(order.begin(), order.end(),
            [&](size_t a, size_t b) { return lines[a].strip.width() < lines[b].strip.width(); });
  const int batches = (static_cast<int>(lines.size()) + kBatch - 1) / kBatch;
  std::vector<int> errors(static_cast<size_t>(batches)), characters(static_cast<size_t>(batches));
  parallel_each(batches, [&](int b) {
    std::vector<const Gray*> strips;
    const size_t first = static_cast<size_t>(b * kBatch);
    const size_t last = std::min(lines.size(), first + kBatch);
    for (size_t i = first; i < last; ++i) strips.push_back(&lines[order[i]].strip);
    const auto scores = network.read(strips);
    for (size_t i = first; i < last; ++i) {
      std::vector<char32_t> read;
      for (const auto& c : best_path(recognise::Posteriors(scores[i - first]), model.alphabet))
        read.push_back(c.character);
      errors[static_cast<size_t>(b)] += edit_distance(read, lines[order[i]].text);
      characters[static_cast<size_t>(b)] += static_cast<int>(lines[order[i]].text.size());
    }
  });
  return static_cast<double>(std::accumulate(errors.begin(), errors.end(), 0)) /
         std::max(1, std::accumulate(characters.begin(), characters.end(), 0));
}

}  // namespace burnisher::train
