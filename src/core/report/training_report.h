// How a training from transcribed pages went: the curve, the letters that are still mixed up, and
// the lines that are still read worst.
#pragma once

#include <string>

#include "train/rounds.h"

namespace burnisher::report {

// `curve`: a PNG file, shown at the top; "": none.
std::string training_html(const train::RoundsReport& report, const std::string& curve);

}  // namespace burnisher::report
