// A network that learns: batches of lines in, its parameters moved down the gradient of the loss.
// The same batches in the same order give the same network, however many threads work.
#pragma once

#include <map>
#include <memory>
#include <vector>

#include "recognise/model.h"
#include "train/line_maker.h"
#include "train/optimiser.h"
#include "train/run_files.h"

namespace burnisher::train {

// Lines of like width.
struct Batch {
  std::vector<TrainingLine> lines;
  int width = 0;
};

// At most `pixels` of strip width in a batch; the batches in random order.
std::vector<Batch> batches_of(std::vector<TrainingLine> lines, int pixels, uint64_t seed);

class Learner {
 public:
  Learner(const recognise::NetworkPlan& plan, const recognise::StripFrame& frame,
          const recognise::Alphabet& alphabet, const OptimiserSettings& optimiser, uint64_t seed);
  ~Learner();
  Learner(const Learner&) = delete;
  Learner& operator=(const Learner&) = delete;

  // Begins with what a model knows. Its network may lack the last context convolutions; characters
  // it does not know begin from nothing, or as those that they are `likened` to. Throws
  // SettingsError when the networks differ otherwise.
  void start_from(const recognise::Model& base, const std::map<char32_t, char32_t>& likened = {});

  // One update from these batches together. `alignment`: weight of the known places of characters.
  void learn(const std::vector<Batch>& batches, double alignment, double rate);
  // CTC loss a character since it was last asked for.
  double take_loss();

  // The running mean of what was learnt.
  recognise::Model model() const;

  RunState& state();

 private:
  struct Machinery;
  std::unique_ptr<Machinery> machinery_;
};

}  // namespace burnisher::train
