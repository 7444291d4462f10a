#include "train/run_files.h"

#include <fmt/core.h>

#include <fstream>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "neural/tensor_file.h"

namespace burnisher::train {
namespace {

using neural::Tensor;
using neural::TensorFile;

void put(const std::string& prefix, const ParameterMap& values, TensorFile& file) {
  for (const auto& [name, v] : values) {
    file.tensors[prefix + name] = Tensor{{static_cast<int>(v.size())}, v};
  }
}

ParameterMap take(const std::string& prefix, const TensorFile& file) {
  ParameterMap values;
  for (const auto& [name, tensor] : file.tensors) {
    if (name.compare(0, prefix.size(), prefix) == 0) {
      values[name.substr(prefix.size())] = tensor.values;
    }
  }
  return values;
}

}  // namespace

void write_checkpoint(const std::string& path, const RunState& state) {
  TensorFile file;
  put("parameter/", state.parameters, file);
  put("statistic/", state.statistics, file);
  put("first/", state.optimiser.first, file);
  put("second/", state.optimiser.second, file);
  put("average/", state.optimiser.average, file);
  file.metadata = {{"format", "burnisher-checkpoint-1"},
                   {"lines", std::to_string(state.seen)},
                   {"steps", std::to_string(state.optimiser.step)},
                   {"minutes", fmt::format("{:.3f}", state.minutes)}};
  neural::write_tensor_file(path, file, false);
}

RunState read_checkpoint(const std::string& path) {
  const TensorFile file = neural::read_tensor_file(path);
  RunState state;
  try {
    state.seen = std::stoll(file.metadata.at("lines"));
    state.optimiser.step = std::stoll(file.metadata.at("steps"));
    state.minutes = number_in(file.metadata.at("minutes")).value_or(0);
  } catch (const std::exception&) {
    throw FormatError(path + ": is no checkpoint of a training run");
  }
  state.parameters = take("parameter/", file);
  state.statistics = take("statistic/", file);
  state.optimiser.first = take("first/", file);
  state.optimiser.second = take("second/", file);
  state.optimiser.average = take("average/", file);
  return state;
}

void append_log(const std::string& path, const TrainRow& row) {
  const bool fresh = !std::ifstream(path).good();
  std::ofstream log(path, std::ios::app);
  if (fresh) log << "minutes\tlines\tsteps\trate\tloss\tcer_clean\tcer_medium\tcer_heavy\n";
  log << fmt::format("{:.2f}\t{}\t{}\t{:.3g}\t{:.4f}\t{:.3f}\t{:.3f}\t{:.3f}\n", row.minutes,
                     row.lines, row.steps, row.rate, row.loss, 100 * row.cer_clean,
                     100 * row.cer_medium, 100 * row.cer_heavy);
  if (!log) throw OutputError(path + ": the training log cannot be written");
}

std::vector<TrainRow> read_log(const std::string& path) {
  std::ifstream log(path);
  std::vector<TrainRow> rows;
  std::string line;
  std::getline(log, line);
  while (std::getline(log, line)) {
    std::istringstream fields(line);
    TrainRow row;
    fields >> row.minutes >> row.lines >> row.steps >> row.rate >> row.loss >> row.cer_clean >>
        row.cer_medium >> row.cer_heavy;
    for (double* share : {&row.cer_clean, &row.cer_medium, &row.cer_heavy}) *share /= 100;
    if (fields) rows.push_back(row);
  }
  return rows;
}

}  // namespace burnisher::train
