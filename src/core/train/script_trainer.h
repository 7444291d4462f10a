// Teaches a recogniser's model to tell the script of a line from what its network sees anyway: a
// second head, one linear layer over the channels before the first (multinomial logistic regression
// over frames). The network stays as it is.
#pragma once

#include <map>
#include <string>

#include "base/progress.h"
#include "recognise/model.h"

namespace burnisher::train {

struct ScriptTrainerSettings {
  std::string faces, texts;  // as for training a model
  int lines = 12000;
  int validation_lines = 600;
  uint64_t seed = 1;
  int threads = 0;  // 0: all cores
};

struct ScriptTrainerReport {
  recognise::Model model;
  // By script: lines of kept-back texts and faces that have a letter of it, and how many of them
  // were told right.
  std::map<std::string, std::pair<int, int>> lines;
};

// Learns those scripts that there are faces and texts of; two at least. Throws Error.
ScriptTrainerReport learn_scripts(const ScriptTrainerSettings& settings,
                                  const recognise::Model& model, Progress& progress);

}  // namespace burnisher::train
