// Scans that are the two sides of leaves: what shines through is taken out with the scan before or
// after, whichever the other side is on.
#pragma once

#include "page/scan.h"
#include "run/scan_list.h"

namespace burnisher::run {

// Every scan gets those before and after it, in its file or in the list, of which one may be the
// other side of its leaf.
void set_beside(ScanList& scans);

// The scan of `task`; a note says what was taken out. Throws what a broken file throws; when those
// beside it are broken, the scan stays as it is.
Scan scan_of(const ScanTask& task);

}  // namespace burnisher::run
