// What a scan is, before anything is done to it: for the command `survey`.
#pragma once

#include <string>
#include <vector>

#include "clean/clean.h"
#include "intake/scan_file.h"
#include "run/stages.h"

namespace burnisher::run {

struct ScanSurvey {
  std::string file;
  int page = 1;
  bool failed = false;
  int width = 0, height = 0;  // pixels as delivered
  std::string depth;          // bitonal, gray or colour
  double dpi = 0, dpi_stated = 0;
  std::string dpi_reason;
  int orientation = 0;  // degrees to turn counter-clockwise so that the page stands upright
  double orientation_confidence = 0;
  double skew = 0;  // degrees counter-clockwise, after turning upright
  double skew_confidence = 0;
  bool spread = false;
  double fold = 0;  // pixels from the left of the upright scan; 0: no spread
  bool blank = false;
  double ink_share = 0;    // after cleaning
  double perspective = 0;  // degrees that parallels run together by
  double curl = 0;         // pixels
  bool faint = false;
  double contrast = 0;  // paper less ink, grey levels
  bool dark_borders = false;
  Box sheet;  // pixels of the upright scan
  bool inverse = false;
  double noise = 0;     // grain of the bare paper, grey levels
  int specks = 0;       // removed by cleaning
  double x_height = 0;  // pixels
  double stroke_width = 0;
  bool has_text = false;  // real text in a PDF page
  double picture_share = 0;
  std::vector<std::string> scripts;  // of the sample lines (ISO 15924), the commonest first
  double reads = 0;                  // 0-1: how surely the sample lines were read
  std::vector<Barcode> barcodes;     // where they were looked for; pixels of the scan
  std::vector<std::string> look;     // why a person should look at it; or why it failed
  Gray thumbnail;                    // of the upright scan
};

// Reads a few lines of the page to tell which way is up. Failures end up in the result.
ScanSurvey survey(const ScanFile& file, int page, const layout::PageNetwork& network,
                  const recognise::Recogniser& recogniser, const clean::CleanSettings& settings,
                  bool barcodes = false);

}  // namespace burnisher::run
