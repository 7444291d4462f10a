// The files of a training run: the checkpoint it goes on from, the log.
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
  int64_t seen = 0;  // lines, or pages
  double minutes = 0;
};

void write_checkpoint(const std::string& path, const RunState& state);
RunState read_checkpoint(const std::string& path);

void append_log(const std::string& path, const TrainRow& row);
std::vector<TrainRow> read_log(const std::string& path);

}  // namespace burnisher::train
