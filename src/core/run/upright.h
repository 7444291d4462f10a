// Which way up a page stands, decided by reading: a few lines are read, and only when they read
// badly are the other three ways tried, too.
#pragma once

#include "clean/clean.h"
#include "layout/segment.h"
#include "page/scan.h"
#include "recognise/recognise.h"

namespace burnisher::run {

struct UprightSettings {
  bool try_turns = true;
  double readable = 0.75;  // mean confidence of the sample from which on a page is taken as upright
  double clearly = 0.12;   // by how much another way must read better, and it must be readable
  int sample = 6;          // lines
};

struct UprightPage {
  clean::CleanResult cleaned;  // with blocks and lines; the sample's lines have their words already
  int turn = 0;                // degrees counter-clockwise it was turned by
};

UprightPage clean_and_segment(const Scan& scan, const recognise::Recogniser& recogniser,
                              const clean::CleanSettings& clean_settings,
                              const layout::SegmentSettings& segment_settings,
                              const recognise::RecogniseSettings& recognise_settings,
                              const UprightSettings& settings);

}  // namespace burnisher::run
