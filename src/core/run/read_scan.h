// The stages that read, as one step: from a scan to pages with words. Its result can be put down in
// files and taken up again without losing anything that later steps look at.
#pragma once

#include <string>
#include <vector>

#include "clean/clean.h"
#include "intake/scan_file.h"
#include "run/pixel_budget.h"
#include "run/scan_list.h"
#include "run/stages.h"

namespace burnisher::run {

struct ReadPage {
  Page page;
  bool blank = false, other_side = false;  // see clean::CleanResult
  std::string unread;                      // why_unread of the same
  double skew = 0, perspective = 0, curl = 0;
  std::vector<std::string> notes;  // what was done or assumed, for a person
  bool person = false;             // a person changed it since
};

struct ReadScan {
  std::vector<ReadPage> pages;  // one, or the two of a spread
  int turn = 0;                 // degrees counter-clockwise it was turned by to stand upright
  double turn_confidence = 0;
  std::vector<std::string> misfits;  // of stencils, to be looked at
  double seconds = 0;                // that reading took
  bool kept = false;                 // a PDF page whose own text was taken
};

// What the stages had in hand: for the pictures that documents want.
struct ScanInHand {
  Scan scan;
  std::vector<clean::CleanResult> cleaned;  // by page, without blocks and words
  std::vector<layout::PageMaps> page_maps;  // empty where it was not read just now
  std::shared_ptr<void> held;               // of the pixels that may be worked on at a time
};

// Reads a scan in `hand`, which gets its pages, too.
ReadScan read_scan(const layout::PageNetwork& network, const recognise::Recogniser& recogniser,
                   const StageSettings& settings, bool keep_steps, ScanInHand& hand);

// The scan, and its pixels held. Throws what a broken file throws.
ScanInHand scan_in_hand(const ScanTask& task, PixelBudget& budget);

// The pictures of pages that were read before: the scan in `hand` cleaned again as it was then.
void clean_again(const ReadScan& read, ScanInHand& hand);

// Lines that a person drew are found in the page's blocks by their having no words: they are read,
// and blocks of text without any lines get those that the page shows there. Nothing else changes.
void read_missing(const ScanInHand& hand, size_t place, const layout::PageNetwork& network,
                  const recognise::Recogniser& recogniser, const StageSettings& settings,
                  Page& page);

}  // namespace burnisher::run
