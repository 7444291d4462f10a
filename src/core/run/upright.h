// Which way up a scan stands, decided by reading: a few lines are read, and only when they read
// badly are the other ways tried, too. Which ones, the picture says: print on its side looks it.
#pragma once

#include <vector>

#include "clean/clean.h"
#include "layout/segment.h"
#include "page/scan.h"
#include "recognise/recognise.h"

namespace burnisher::run {

struct UprightSettings {
  bool try_turns = true;
  double readable = 0.75;  // mean confidence of the sample from which on a page is taken as upright
  double clearly = 0.12;   // by how much another way must read better, and it must be readable
  double looks_sideways = 0.6;  // confidence from which on the picture's own word is taken
  int sample = 6;               // lines
  // Laid over every page: the first over odd ones, the second over even ones; one over all.
  std::vector<Page> stencils;
};

struct UprightScan {
  // With blocks and lines; the sample's lines have their words already.
  std::vector<clean::CleanResult> pages;
  int turn = 0;                      // degrees counter-clockwise it was turned by
  std::vector<std::string> misfits;  // of stencils, to be looked at
  double confidence = 0;  // 0-1: how well the sample reads this way up; 0 when nothing was read
};

UprightScan clean_and_segment(const Scan& scan, const recognise::Recogniser& recogniser,
                              const clean::CleanSettings& clean_settings,
                              const layout::SegmentSettings& segment_settings,
                              const recognise::RecogniseSettings& recognise_settings,
                              const UprightSettings& settings, bool keep_steps = false);

}  // namespace burnisher::run
