// The stage `clean`: a scan becomes an upright, straight page, as a picture and as ink on paper.
// All geometry is joined into one map and the picture is sampled once.
#pragma once

#include <string>
#include <vector>

#include "clean/binarise.h"
#include "clean/despeckle.h"
#include "page/page.h"
#include "page/scan.h"

namespace burnisher::clean {

struct CleanSettings {
  int turn = 0;  // degrees counter-clockwise before all else: 0, 90, 180, 270
  bool deskew = true;
  double skew_limit = 20;  // degrees searched to either side
  double straight = 0.05;  // degrees; less skew than this leaves the page as it is, to the pixel
  double dpi = 0;          // 0: what the file says, else an estimate
  BinariseSettings binarise;
  DespeckleSettings despeckle;
};

struct CleanResult {
  Page page;               // without blocks
  Picture picture;         // the page, straightened; Bitonal when the scan was
  Gray scan_gray;          // the scan itself in gray, unchanged: what the recogniser samples from
  Bitonal ink;             // the page, bitonal and despeckled: what layout works on
  double text_height = 0;  // pixels, see dominant_height; 0: hardly any text
  double skew = 0;         // degrees counter-clockwise, taken out
  double skew_confidence = 0;
  int specks = 0;        // removed
  double ink_share = 0;  // of the page, after despeckling
  bool blank = false;
  bool dpi_estimated = false;
  std::vector<std::string> notes;  // for a person, without file and page
};

CleanResult clean(const Scan& scan, const CleanSettings& settings);

}  // namespace burnisher::clean
