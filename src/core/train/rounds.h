// Training from transcribed lines: round after round over all of them, each measured on pages kept
// back, until it gets no better.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "base/progress.h"
#include "recognise/model.h"
#include "train/examples.h"
#include "train/optimiser.h"

namespace burnisher::train {

// Gentler than learning from nothing: few steps, from what is nearly right already.
OptimiserSettings round_optimiser();

struct RoundSettings {
  std::string from;        // model to go on from; empty: from nothing
  std::string run_folder;  // model.safetensors and rounds.tsv
  std::string characters;  // the alphabet; empty: what the transcriptions use, and the model knows
  std::map<char32_t, char32_t> likened;  // new characters, to what they were read as before
  int most_rounds = 25;
  int patience = 5;  // rounds without a better one before it ends
  int batch_pixels = 3000;
  int batches_per_step = 2;
  uint64_t seed = 1;
  int threads = 0;  // 0: all cores
  OptimiserSettings optimiser;
  recognise::NetworkPlan plan;  // from nothing
  recognise::StripFrame frame;
};

// How well the kept-back lines are read.
struct Round {
  int number = 0;  // 0: before any training
  double minutes = 0;
  double loss = 0;  // CTC loss a character, of the lines learnt from
  double cer = 0, wer = 0;
  bool best = false;  // the best so far
};

struct KeptBackLine {
  const Example* example = nullptr;
  std::string read;  // by the best model
};

struct RoundsReport {
  std::vector<Round> rounds;
  std::string added;  // characters that the model to start from did not know
  std::vector<KeptBackLine> lines;
  size_t learnt_lines = 0;
};

// Chooses pages to keep back: `share` of them (at least one line), evenly drawn. A single page is
// parted by lines.
void keep_back(double share, std::vector<Example>& learnt, std::vector<Example>& kept_back);

// The best model is in run_folder/model.safetensors at the end, and after every round that was
// better. Throws InputError when there is nothing to learn or to measure with.
RoundsReport train_in_rounds(const std::vector<Example>& learnt,
                             const std::vector<Example>& kept_back, const RoundSettings& settings,
                             Progress& progress);

}  // namespace burnisher::train
