// Lines kept back from training, and how well a model reads them.
#pragma once

#include <vector>

#include "recognise/model.h"
#include "train/line_maker.h"

namespace burnisher::train {

// Character errors / characters, best path, no lexicon.
double character_error_rate(const recognise::Model& model, const std::vector<TrainingLine>& lines);

}  // namespace burnisher::train
