// The files of a training run: the checkpoint it goes on from, the log and its curve.
#pragma once

#include <string>
#include <vector>

#include "train/optimiser.h"
#include "train/trainer.h"

namespace burnisher::train {

struct RunState {
  ParameterMap parameters;
  ParameterMap statistics;  // running means and variances
  OptimiserState optimiser;
  int64_t lines = 0;
  double minutes = 0;
};

void write_checkpoint(const std::string& path, const RunState& state);
RunState read_checkpoint(const std::string& path);

void append_log(const std::string& path, const TrainRow& row);
std::vector<TrainRow> read_log(const std::string& path);

// Draws the error rates over the lines seen, with gnuplot. Throws OutputError when gnuplot fails.
void draw_curve(const std::string& log_path, const std::string& picture_path);
// The same for rounds.tsv: errors of the kept-back lines by round.
void draw_rounds(const std::string& rounds_path, const std::string& picture_path);

}  // namespace burnisher::train
