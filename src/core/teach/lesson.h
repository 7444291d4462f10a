// Learning from a type case: what was named, and lines transcribed besides, teach a recogniser that
// goes on from a bundle's, in a few minutes, measured on lines kept back.
#pragma once

#include <string>
#include <vector>

#include "base/progress.h"
#include "recognise/model.h"
#include "teach/case_examples.h"
#include "train/rounds.h"

namespace burnisher::teach {

struct LessonSettings {
  std::string from;        // model file to go on from
  std::string run_folder;  // model.safetensors, rounds.tsv
  double kept_back = 0.1;  // of the lines with something named, to measure with
  int most_rounds = 0;     // over all there is to learn; 0: as many as fit into about three minutes
  uint64_t seed = 1;
  int threads = 0;  // 0: all cores
};

struct LessonReport {
  train::RoundsReport rounds;
  recognise::Symbols symbols;
  size_t glyphs = 0;  // named, in runs
  size_t read = 0;    // surely read besides, see case_examples.h
  size_t lines = 0;   // with something named, or typed
  std::vector<std::string> lost;
};

// `transcribed`: lines besides, may be empty. The best model is run_folder/model.safetensors at the
// end. Throws InputError where too little is named to learn and to measure with.
LessonReport learn_from(const TypeCase& type_case, const std::vector<Naming>& namings,
                        std::vector<train::Example> transcribed, const LessonSettings& settings,
                        Progress& progress);

}  // namespace burnisher::teach
