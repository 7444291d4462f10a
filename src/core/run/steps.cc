#include "run/steps.h"

#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <optional>

#include "base/error.h"
#include "base/files.h"
#include "export/overlay.h"
#include "intake/pdf_file.h"
#include "layout/maps_picture.h"
#include "page/as_stored.h"
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

}  // namespace

PageReport report_of(const Page& page) {
  PageReport report;
  report.file = page.file;
  report.number = page.number;
  report.part = page.part;
  report.dpi = page.dpi;
  report.languages = page.languages();
  report.words = words_on(page);
  report.confidence = page.mean_confidence();
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) report.suspects += word.reasons != 0;
    }
  }
  return report;
}

std::shared_ptr<const Gray> thumbnail_of(const Picture& picture) {
  constexpr int kWidth = 120;  // pixels
  const Gray gray = to_gray(picture);
  return std::make_shared<Gray>(reduced(gray, std::max(1, gray.width() / kWidth)));
}

void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const layout::Sight& sight,
                const std::string& folder) {
  std::filesystem::create_directories(folder);
  const Page& page = cleaned.page;
  const std::string base =
      fmt::format("{}/{}-{:04}{}", folder, stem_of(scan.file), scan.page, side_suffix(page.part));
  write_file(base + "-1-scan.png", write_png(scan.picture, page.dpi));
  write_file(base + "-2-page.png", write_png(cleaned.picture, page.dpi));
  for (const clean::Step& step : cleaned.steps) {
    const Picture ink = step.ink.clone();
    write_file(fmt::format("{}-3-{}.png", base, step.name), write_png(ink, page.dpi));
  }
  const Gray gray = to_gray(cleaned.picture);
  const double scale = layout::kCellPixels / sight.pixels_of_cell();
  const Picture maps = layout::picture_of(sight.maps(), scaled(gray, scale));
  write_file(base + "-4-maps.png", write_png(maps, 0));
  write_file(base + "-5-overlay.png", write_png(exporting::overlay_of(gray, page, {}), 0));
}

namespace {

constexpr size_t kEnoughToTell = 200;  // bytes of text from which on a language is sure

// What a page reads like when that is none of the languages asked for.
std::string other_language(const Page& page, const recognise::Languages& languages,
                           const std::vector<std::string>& wanted) {
  // Of a language that is not known nothing can be told.
  const bool all_known = std::all_of(wanted.begin(), wanted.end(),
                                     [&](const auto& tag) { return languages.knows(tag); });
  if (wanted.empty() || !all_known) return "";
  Page guessed;
  guessed.blocks.resize(1);
  std::vector<std::string> texts;
  size_t size = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      texts.push_back(line.text());
      size += texts.back().size();
      guessed.blocks[0].lines.push_back(line);
    }
  }
  if (size < kEnoughToTell) return "";
  const std::vector<std::string> tags = languages.guess(texts, {});
  for (size_t i = 0; i < tags.size(); ++i) guessed.blocks[0].lines[i].language = tags[i];
  const std::vector<std::string> found = guessed.languages();
  const bool fits = found.empty() || std::any_of(found.begin(), found.end(), [&](const auto& tag) {
                      return std::find(wanted.begin(), wanted.end(), tag) != wanted.end();
                    });
  return fits ? "" : found.front();
}

PageReport report_of(const clean::CleanResult& cleaned, const CleanedScan& upright,
                     const recognise::Languages& languages, const RunSettings& settings) {
  const Page& read = cleaned.page;
  PageReport report = run::report_of(read);
  report.notes = cleaned.notes;
  report.turn = upright.turn;
  report.turn_confidence = upright.sure;
  if (upright.turn != settings.stages.clean.turn) {
    report.notes.push_back(
        fmt::format("did not stand upright; turned by {} degrees counter-clockwise", upright.turn));
  }
  if (cleaned.inverse) report.notes.push_back("white on black; turned to black on white");
  if (read.part > 0)
    report.notes.push_back(fmt::format("{} page of a spread", read.part == 1 ? "left" : "right"));
  if (cleaned.blank) report.notes.push_back("blank");
  report.look = reasons_to_look(read, settings.look_below);
  report.look.insert(report.look.end(), upright.misfits.begin(), upright.misfits.end());
  const std::string other = other_language(read, languages, settings.stages.recognise.languages);
  if (!other.empty()) {
    report.look.push_back(
        fmt::format("reads like '{}', which is none of the languages asked for", other));
  }
  report.held = reasons_to_hold(settings.hold, read, {cleaned.blank, !other.empty()});
  report.skew = cleaned.skew;
  report.perspective = cleaned.perspective;
  report.curl = cleaned.curl;
  report.blank = cleaned.blank;
  return report;
}

}  // namespace

namespace {

// A PDF page with text of its own: that is taken, and the page stays as it is.
std::optional<PageResult> kept_page(const ScanFile& file, int page, const RunSettings& settings,
                                    const JobFolder* job) {
  if (!file.is_pdf() || settings.existing_text != ExistingText::kKeep) return std::nullopt;
  std::optional<Page> text = file.pdf()->text(page, settings.limits.pdf_dpi);
  if (!text.has_value()) return std::nullopt;
  PageResult result;
  if (job != nullptr) {
    // The job shows the page as it looks.
    const Scan scan = file.read(page);
    result.finished.job_picture = job->keep_picture(scan.picture, *text);
    text = file.pdf()->text(page, scan.stated_dpi > 0 ? scan.stated_dpi : settings.limits.pdf_dpi);
    text->width = width_of(scan.picture);
    text->height = height_of(scan.picture);
  }
  result.report = run::report_of(*text);
  result.report.confidence = 1;
  result.report.notes.push_back("has real text already; kept as it is");
  result.finished.kept = true;
  result.finished.page = std::move(*text);
  return result;
}

// A script without a model of its own has no habits to go by.
const correct::ConfusionModel& confusion_model_of(const std::string& script,
                                                  const RunTools& tools) {
  static const correct::ConfusionModel none;
  const auto found = tools.confusion_models.find(script);
  return found == tools.confusion_models.end() ? none : found->second;
}

// A cleaned page with its blocks: read, corrected, and with the pictures that documents want of it.
PageResult finished(const ScanFile& file, const Scan& scan, CleanedScan& all, size_t place,
                    const recognise::Recogniser& recogniser, const Wanted& wanted,
                    const RunSettings& settings, const RunTools& tools, const JobFolder* job) {
  clean::CleanResult& cleaned = all.pages[place];
  recognise_stage(recogniser, settings.stages, cleaned);
  if (cleaned.other_side && settings.stages.clean.even) clean::whiten(cleaned);
  Page& read = cleaned.page;
  correct::CorrectReport corrected;
  if (tools.lexicon != nullptr) {
    corrected = correct::correct({&read}, *tools.lexicon,
                                 confusion_model_of(read.main_script(), tools), settings.correct);
    round_as_stored(read);
  }
  if (!settings.steps_folder.empty())
    keep_steps(scan, cleaned, all.sights[place], settings.steps_folder);
  PageResult result;
  const pdf::PictureSettings& pictures = settings.delivery.pdf.picture;
  if (wanted.illustrations)
    result.finished.illustrations = illustrations_of(cleaned.picture, read, pictures);
  if (wanted.picture) result.finished.picture = picture_of(file, scan, cleaned, pictures);
  result.finished.blank = cleaned.blank;
  result.report = report_of(cleaned, all, recogniser.languages(), settings);
  if (settings.thumbnails) result.report.thumbnail = thumbnail_of(cleaned.picture);
  result.report.suspects = corrected.suspects;
  result.report.changes = std::move(corrected.changes);
  if (job != nullptr) result.finished.job_picture = job->keep_picture(cleaned.picture, read);
  result.finished.page = std::move(read);
  return result;
}

PageResult failed(const ScanFile& file, int page, const std::exception& cause) {
  PageResult result;
  result.report.file = file.path();
  result.report.number = page;
  result.report.failed = true;
  result.report.failure = problem_of(cause).code;
  result.report.look.push_back(cause.what());
  return result;
}

}  // namespace

std::vector<PageResult> work_on(const ScanFile& file, int page, const layout::PageNetwork& network,
                                const recognise::Recogniser& recogniser, const Wanted& wanted,
                                const RunSettings& settings, const RunTools& tools,
                                const JobFolder* job) {
  const auto start = std::chrono::steady_clock::now();
  std::vector<PageResult> results;
  try {
    if (std::optional<PageResult> kept = kept_page(file, page, settings, job)) {
      results.push_back(std::move(*kept));
    } else {
      const Scan scan = file.read(page);
      CleanedScan cleaned = clean_and_segment(scan, network, &recogniser, settings.stages,
                                              !settings.steps_folder.empty());
      for (size_t i = 0; i < cleaned.pages.size(); ++i) {
        results.push_back(
            finished(file, scan, cleaned, i, recogniser, wanted, settings, tools, job));
      }
    }
  } catch (const std::exception& cause) {
    results.clear();
    results.push_back(failed(file, page, cause));
  }
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  for (PageResult& result : results) {
    result.report.pages_in_file = file.page_count();
    result.report.seconds = passed.count() / static_cast<double>(results.size());
  }
  return results;
}

}  // namespace burnisher::run
