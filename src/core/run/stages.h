// The stages of one scan, in their order: clean (with which way up), segment, recognise, correct.
// `run` and the commands of the single stages call these same functions, so that the stages one by
// one give what `run` gives. What each hands on is as its file would say it (page/as_stored.h).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "clean/clean.h"
#include "intake/scan_file.h"
#include "layout/segment.h"
#include "recognise/recognise.h"

namespace burnisher::run {

// The page network sees whether text lies level or on its side; which end is up, a few lines tell
// that are read. Other ways than the scan stands are tried only when they read badly, the likelier
// ones first.
struct UprightSettings {
  bool try_turns = true;
  double readable = 0.75;   // confidence of the sample from which on no other way is tried
  double turns_from = 0.4;  // confidence that another way must have at least
  double clearly = 0.12;    // ... and by how much it must read better
  int sample = 6;           // lines
};

struct StageSettings {
  clean::CleanSettings clean;
  layout::SegmentSettings segment;
  // Laid over every page: the first over odd ones, the second over even ones; one over all.
  std::vector<Page> stencils;
  recognise::RecogniseSettings recognise;
  UprightSettings upright;
  // Where the eye can't tell rows from columns, reading does; never where a person said how it is.
  bool reading_settles_rows = true;
  bool barcodes = false;  // are looked for
  bool leaves = false;    // the scans are the two sides of leaves, see run/leaves.h
};

struct CleanedScan {
  std::vector<clean::CleanResult> pages;    // one, or the two of a spread; with blocks and lines
  std::vector<layout::PageMaps> page_maps;  // of each page: what the page network sees
  int turn = 0;                             // degrees counter-clockwise it was turned by
  std::vector<std::string> misfits;         // of stencils, to be looked at
  double sure = 0;                   // 0-1: that the text runs this way up, by how well it reads
  bool right_to_left = false;        // most lines of the sample run so
  std::vector<std::string> scripts;  // of the sample (ISO 15924), that of most letters first
};

// Clean and segment. Without a `recogniser` (null) the scan stays as it stands.
CleanedScan clean_and_segment(const Scan& scan, const layout::PageNetwork& network,
                              const recognise::Recogniser* recogniser,
                              const StageSettings& settings, bool keep_steps = false);

// What the page network sees on a cleaned page; where lines are said to run at an angle, it looks
// at the page turned until they are level. The result is in the page's own frame.
layout::PageMaps maps_of(const layout::PageNetwork& network,
                         const layout::SegmentSettings& settings,
                         const clean::CleanResult& cleaned);

// Blocks and lines of a cleaned page, none on a blank one. Returns what does not fit about the
// stencil; "": nothing.
std::string segment_stage(const layout::PageMaps& maps, const StageSettings& settings,
                          clean::CleanResult& cleaned);

// How well a few lines of the pages read (0-1), by the network's own probabilities; 0 when there is
// nothing to read. The lines stay without words.
double sample_confidence(const recognise::Recogniser& recogniser, const StageSettings& settings,
                         CleanedScan& scan);

// The words of all lines; what is no text is set aside, and the page is blank when that leaves
// none.
void recognise_stage(const recognise::Recogniser& recogniser, const StageSettings& settings,
                     clean::CleanResult& cleaned);

// A page picture with its PAGE XML, as cleaning left them, taken up again. Where the scan is still
// there and cleaning it the same way gives the same picture, what comes back is what cleaning had
// in hand then, the scan's own pixels included; blocks are those of `page`. Otherwise the picture
// itself is taken, its pixels left at their places. `scan_path`: of the scan; "": not known.
clean::CleanResult taken_up(const Scan& picture, const std::optional<Page>& page,
                            const std::string& scan_path, const ScanLimits& limits);

}  // namespace burnisher::run
