#include "run/steps.h"

#include <fmt/core.h>

#include <chrono>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "export/overlay.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "run/checks.h"

namespace burnisher::run {
namespace {

int words_on(const Page& page) {
  int count = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) count += static_cast<int>(line.words.size());
  }
  return count;
}

// The sample that told which way is up has its words already.
std::vector<Line*> unread_lines(Page& page) {
  std::vector<Line*> lines;
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      if (line.words.empty()) lines.push_back(&line);
    }
  }
  return lines;
}

}  // namespace

std::string stem_of(const std::string& path) {
  return std::filesystem::path(path).stem();
}

void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const Page& page,
                const std::string& folder) {
  std::filesystem::create_directories(folder);
  const std::string base = fmt::format("{}/{}-{:04}", folder, stem_of(scan.file), scan.page);
  write_file(base + "-1-scan.png", write_png(scan.picture, page.dpi));
  write_file(base + "-2-page.png", write_png(cleaned.picture, page.dpi));
  const Picture ink = cleaned.ink.clone();
  write_file(base + "-3-bitonal.png", write_png(ink, page.dpi));
  const Picture overlay = exporting::overlay_of(to_gray(cleaned.picture), page, {});
  write_file(base + "-4-overlay.png", write_png(overlay, 0));
}

PageResult work_on(const ScanFile& file, int page, const recognise::Recogniser& recogniser,
                   bool picture_wanted, const RunSettings& settings) {
  const auto start = std::chrono::steady_clock::now();
  PageResult result;
  PageReport& report = result.report;
  report.file = file.path();
  report.number = page;
  try {
    const Scan scan = file.read(page);
    UprightPage upright = clean_and_segment(scan, recogniser, settings.clean, settings.segment,
                                            settings.recognise, settings.upright);
    clean::CleanResult& cleaned = upright.cleaned;
    Page& read = cleaned.page;
    if (!cleaned.blank) {
      recogniser.read(cleaned.scan_gray, read.geometry.to_scan, settings.recognise,
                      unread_lines(read));
      recognise::set_noise_aside(read);
      cleaned.blank = recognise::set_blank_aside(read);
    }
    if (!settings.steps_folder.empty()) keep_steps(scan, cleaned, read, settings.steps_folder);
    if (picture_wanted)
      result.finished.picture = exporting::coded(cleaned.picture, settings.jpeg_quality);
    report.notes = cleaned.notes;
    report.turn = upright.turn;
    if (upright.turn != settings.clean.turn) {
      report.notes.push_back(fmt::format(
          "did not stand upright; turned by {} degrees counter-clockwise", upright.turn));
    }
    if (cleaned.blank) report.notes.push_back("blank");
    report.look = reasons_to_look(read, settings.look_below);
    report.dpi = read.dpi;
    report.skew = cleaned.skew;
    report.blank = cleaned.blank;
    report.words = words_on(read);
    report.confidence = read.mean_confidence();
    result.finished.page = std::move(read);
  } catch (const std::exception& cause) {
    report.failed = true;
    report.look.push_back(cause.what());
  }
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  report.seconds = passed.count();
  return result;
}

}  // namespace burnisher::run
