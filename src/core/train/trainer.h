// The training loop: lines are made, sorted into batches of like width, and the network is moved
// down the gradient of its loss. Everything follows from the seed; the number of threads changes
// only the time. A run writes into one folder and can go on from it.
#pragma once

#include <functional>
#include <string>

#include "base/progress.h"
#include "recognise/model.h"
#include "train/optimiser.h"

namespace burnisher::train {

struct TrainSettings {
  std::string faces;       // table of faces (scripts/training-corpus)
  std::string texts;       // folder of texts
  std::string run_folder;  // checkpoint.safetensors, log.tsv, model.safetensors, curve.png
  std::string from;        // a model to start from; empty: from nothing
  bool go_on = false;      // go on from the folder's checkpoint
  int64_t lines = 400000;  // length of the whole training
  uint64_t seed = 1;
  int threads = 0;           // 0: all cores
  int longest_line = 72;     // characters
  int batch_pixels = 4000;   // strip width in one batch
  int batches_per_step = 4;  // gradients averaged for one update
  int pool_lines = 240;      // lines made at a time
  int64_t validate_every = 15000;
  int validation_lines = 120;  // per scan level
  double checkpoint_minutes = 3;
  recognise::NetworkPlan plan;
  recognise::StripFrame frame;
  std::string script;      // ISO 15924: of the texts and the faces; empty: Latn
  std::string characters;  // empty: those of `from`, or the script's alphabet when one is named
  OptimiserSettings optimiser;
};

// One row of the log.
struct TrainRow {
  double minutes = 0;
  int64_t lines = 0;
  int64_t steps = 0;
  double rate = 0;
  double loss = 0;                                      // CTC loss a character since the row before
  double cer_clean = 0, cer_medium = 0, cer_heavy = 0;  // on faces and texts never trained on
};

// Trains to the end and returns the last row. Throws Error.
TrainRow train(const TrainSettings& settings, Progress& progress);

}  // namespace burnisher::train
