// The stage `clean`: a scan becomes one upright, straight page, or two, as a picture and as ink on
// paper. All geometry is joined into one map and the picture is sampled once.
//
// The order: quarter turn, inverse, tone; cut at the sheet's edges and at the fold; then for each
// page perspective, skew and curl are measured, the picture is sampled through all, paper is evened
// out, ink found, specks, borders, holes and rules taken out, strokes mended.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "clean/binarise.h"
#include "clean/despeckle.h"
#include "clean/measure.h"
#include "clean/rules.h"
#include "clean/tone.h"
#include "page/page.h"
#include "page/scan.h"

namespace burnisher::clean {

enum class Crop {
  kOff,
  kSheet,  // dark borders round the sheet are cut off
  kText,   // to the print, with a margin
};

struct CleanSettings {
  int turn = 0;        // degrees counter-clockwise before all else: 0, 90, 180, 270
  bool invert = true;  // white on black becomes black on white
  ToneSettings tone;   // applied to the scan
  bool split = true;   // spreads become two pages
  Crop crop = Crop::kSheet;
  double margin_mm = 5;  // with Crop::kText
  bool deskew = true;
  double skew_limit = 20;  // degrees searched to either side
  double straight = 0.05;  // degrees; less skew than this leaves the page as it is, to the pixel
  bool dewarp = true;      // curl, and the perspective of photographs
  double dpi = 0;          // 0: what the file says, else an estimate
  bool even = false;       // the delivered picture gets even white paper
  BinariseSettings binarise;
  bool holes = true;  // punch holes are filled with paper
  DespeckleSettings despeckle;
  Rules rules = Rules::kUnread;
  bool mend = false;  // bridges gaps in the strokes of the ink
};

// Cleans, but leaves every pixel at its place: for pictures whose positions count already.
CleanSettings in_place();

// What became of the ink, one repair after the other; kept on request.
struct Step {
  std::string name;
  Bitonal ink;
};

struct CleanResult {
  Page page;                         // without blocks
  Picture picture;                   // the page, straightened; Bitonal when the scan was
  std::shared_ptr<const Gray> scan;  // the scan in gray, upright, what the recogniser samples...
  PlaneMap to_scan_gray;             // ...and the way from the page to it
  Bitonal ink;                       // the page, bitonal and clean: what layout works on
  Bitonal unread;  // rules' pixels that are not in `ink` but stay on the page; may be empty
  std::vector<Component> rules;  // that are no longer in `ink`
  double text_height = 0;        // pixels, see dominant_height; 0: hardly any text
  double skew = 0;               // degrees counter-clockwise, taken out
  double skew_confidence = 0;
  double perspective = 0;  // degrees that parallels ran together by over the scan, taken out
  double curl = 0;         // largest bend taken out, pixels
  bool inverse = false;    // was white on black
  bool grainy = false;     // strewn with specks: `scan` and `ink` are smoothed, `picture` is not
  bool cropped = false;
  int holes = 0;
  int specks = 0;        // removed
  int bridges = 0;       // mended
  double ink_share = 0;  // of the page, after cleaning
  bool blank = false;
  std::string why_unread;   // nothing was read on a page that is not blank; told by reading
  bool other_side = false;  // all that is seen on it is print of the other side: told by reading
  bool dpi_estimated = false;
  std::vector<std::string> notes;  // for a person, without file and page
  std::vector<Step> steps;         // with `keep_steps`
};

// The ink to hand out: with the rules that only layout and reading don't see.
Bitonal delivered_ink(const CleanResult& result);

// The page in gray as it is best seen: `picture`, without its grain where there is much of it.
Gray smooth_page(const CleanResult& result);

// An empty page of even white paper.
void whiten(CleanResult& result);

// One page, or two for a spread, left first.
std::vector<CleanResult> clean(const Scan& scan, const CleanSettings& settings,
                               bool keep_steps = false);

}  // namespace burnisher::clean
