// Where transcribed lines come from: page pictures with PAGE XML or ALTO beside them, and pictures
// of single lines with text files.
#pragma once

#include <string>
#include <vector>

#include "base/progress.h"
#include "intake/scan_file.h"
#include "train/examples.h"

namespace burnisher::train {

// For every picture of the folder, NAME.xml (PAGE XML or ALTO) or, for pictures of one line,
// NAME.txt beside it. Pictures without either are named and left out. Throws InputError.
std::vector<train::Example> read_transcriptions(const std::string& folder, const ScanLimits& limits,
                                                Progress& progress);

}  // namespace burnisher::train
