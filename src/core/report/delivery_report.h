// What a run delivered, for the person who answers for it: every page small, how surely it was
// read, what was done to it, what to look at; every file with its size.
#pragma once

#include <string>

#include "run/run.h"

namespace burnisher::report {

// One self-contained HTML page. Thumbnails where the run kept them.
std::string delivery_report(const run::RunReport& report);

}  // namespace burnisher::report
