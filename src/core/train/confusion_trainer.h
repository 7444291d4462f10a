// Learns how the recogniser errs: rendered lines are read as pages are, and held against the text
// they were made from. What it mixes up becomes the costs of suggestions; what wrong words look
// like becomes the weights that rank suspects (logistic regression by Newton's method).
#pragma once

#include <string>

#include "base/progress.h"
#include "correct/confusion_model.h"
#include "correct/lexicon.h"
#include "recognise/recognise.h"

namespace burnisher::train {

struct ConfusionTrainerSettings {
  std::string faces, texts;  // as for training a model
  std::string language;      // of the texts; a dictionary of it must be installed
  int lines = 3000;
  uint64_t seed = 1;
  int threads = 0;  // 0: all cores
};

struct ConfusionTrainerReport {
  correct::ConfusionModel confusion_model;
  int words = 0, wrong = 0;
  double precision = 0, recall = 0;  // of suspects, on the last fifth of the words, not fitted to
};

// Throws Error.
ConfusionTrainerReport learn_confusion_model(const ConfusionTrainerSettings& settings,
                                             const recognise::Model& model,
                                             const recognise::Recogniser& recogniser,
                                             const correct::Lexicon& lexicon, Progress& progress);

}  // namespace burnisher::train
