// Where transcribed lines come from: page pictures with PAGE XML or ALTO beside them, and pictures
// of single lines with text files.
#pragma once

#include <string>
#include <vector>

#include "base/progress.h"
#include "intake/scan_file.h"
#include "layout/page_network.h"
#include "train/examples.h"

namespace burnisher::train {

// For every picture of the folder, NAME.xml (PAGE XML or ALTO) or, for pictures of one line,
// NAME.txt beside it. Pictures without either are named and left out. `network`: what sees where
// the line of a picture is; null: only its ink says so. Throws InputError.
std::vector<train::Example> read_transcriptions(const std::string& folder, const ScanLimits& limits,
                                                const layout::PageNetwork* network,
                                                Progress& progress);

}  // namespace burnisher::train
