#include "run/survey.h"

#include "barcode/barcodes.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "raster/convert.h"
#include "raster/turn.h"
#include "recognise/noise.h"

namespace burnisher::run {
namespace {

constexpr double kFaintContrast = 75;    // grey levels
constexpr double kNoisy = 9;             // grey levels
constexpr double kHardlyReadable = 0.7;  // network confidence of the sample
constexpr double kUnsureSkew = 0.45;     // confidence, 0-1
constexpr double kManySpecks = 400;      // on a page
constexpr size_t kFewLines = 12;         // so few are all read, to tell a blank page for certain
constexpr int kThumbnail = 420;          // pixels of the longer side, at least

std::string reason_of_dpi(const clean::CleanResult& cleaned, const clean::CleanSettings& settings) {
  if (settings.dpi > 0) return "as told";
  if (!cleaned.dpi_estimated) return "stated by the file";
  return cleaned.text_height > 0 ? "estimated from the size of the text: the file states none"
                                 : "assumed: the file states none and there is no text";
}

bool truly_blank(std::vector<clean::CleanResult>& pages, const recognise::Recogniser& recogniser) {
  bool blank = true;
  for (clean::CleanResult& cleaned : pages) {
    if (cleaned.blank) continue;
    std::vector<Line*> lines;
    for (Block& block : cleaned.page.blocks) {
      for (Line& line : block.lines) lines.push_back(&line);
    }
    if (lines.size() > kFewLines) return false;
    recogniser.read(*cleaned.scan, cleaned.to_scan_gray, {}, lines);
    blank = blank && recognise::set_blank_aside(cleaned.page);
  }
  return blank;
}

void find_reasons(ScanSurvey& s) {
  const auto add = [&](bool when, std::string reason) {
    if (when) s.look.push_back(std::move(reason));
  };
  add(s.has_text, "has real text already");
  if (s.blank) return;
  add(s.reads < kHardlyReadable,
      fmt::format("hardly readable ({:.0f} % sure): upside down, very faint, or in a script the "
                  "model does not know",
                  100 * s.reads));
  add(s.skew_confidence < kUnsureSkew, "its skew is not certain");
  add(s.faint, fmt::format("faint: only {:.0f} grey levels between paper and ink", s.contrast));
  add(s.noise > kNoisy, fmt::format("grainy: {:.0f} grey levels", s.noise));
  add(s.specks > kManySpecks, fmt::format("{} specks", s.specks));
  add(s.x_height > 0 && s.x_height < 11,
      fmt::format("small: letters are {:.0f} pixels high; scan at a higher resolution",
                  s.x_height));
}

void measure_into(const Scan& scan, CleanedScan& upright, const clean::CleanSettings& settings,
                  ScanSurvey& s) {
  const clean::CleanResult& first = upright.pages.front();
  s.dpi = first.page.dpi;
  s.dpi_reason = reason_of_dpi(first, settings);
  s.skew = first.skew;
  s.skew_confidence = first.skew_confidence;
  s.inverse = first.inverse;
  s.x_height = first.text_height;
  for (const clean::CleanResult& page : upright.pages) {
    s.perspective = std::max(s.perspective, page.perspective);
    s.curl = std::max(s.curl, page.curl);
    s.specks += page.specks;
    s.ink_share += page.ink_share / static_cast<double>(upright.pages.size());
  }
  const Gray gray = to_gray(turned(scan.picture, upright.turn));
  const clean::Measure m = clean::measure(gray, s.dpi, {settings.binarise, true, true});
  s.spread = upright.pages.size() > 1;
  s.fold = s.spread ? m.fold.x : 0;
  s.sheet = m.sheet;
  s.dark_borders = m.sheet.width() < gray.width() - 1 || m.sheet.height() < gray.height() - 1;
  s.contrast = m.contrast;
  s.stroke_width = m.stroke;
  s.picture_share = m.picture_share;
  const bool bitonal = std::holds_alternative<Bitonal>(scan.picture);
  s.noise = bitonal ? 0 : clean::grain_of(gray);
  s.thumbnail = reduced(gray, std::max(1, std::max(gray.width(), gray.height()) / kThumbnail));
}

}  // namespace

ScanSurvey survey(const ScanFile& file, int page, const layout::PageNetwork& network,
                  const recognise::Recogniser& recogniser, const clean::CleanSettings& settings,
                  bool barcodes) {
  ScanSurvey s;
  s.file = file.path();
  s.page = page;
  try {
    const Scan scan = file.read(page);
    s.width = width_of(scan.picture);
    s.height = height_of(scan.picture);
    s.depth = std::holds_alternative<Bitonal>(scan.picture) ? "bitonal"
              : std::holds_alternative<Gray>(scan.picture)  ? "gray"
                                                            : "colour";
    s.dpi_stated = scan.stated_dpi;
    s.has_text = scan.has_text;
    StageSettings stages;
    stages.clean = settings;
    CleanedScan upright = clean_and_segment(scan, network, &recogniser, stages);
    s.orientation = upright.turn;
    s.orientation_confidence = upright.sure;
    s.reads = sample_confidence(recogniser, stages, upright);
    s.scripts = upright.scripts;
    s.blank = truly_blank(upright.pages, recogniser);
    measure_into(scan, upright, settings, s);
    if (barcodes) s.barcodes = barcode::barcodes_on(to_gray(scan.picture));
    s.faint = !s.blank && s.contrast < kFaintContrast;
    find_reasons(s);
  } catch (const std::exception& cause) {
    s.failed = true;
    s.look.push_back(cause.what());
  }
  return s;
}

}  // namespace burnisher::run
