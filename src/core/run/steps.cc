#include "run/steps.h"

#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <optional>

#include "base/error.h"
#include "base/files.h"
#include "export/overlay.h"
#include "layout/pictures.h"
#include "page/pdf_text.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "recognise/noise.h"
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
  constexpr int kWidth = 120;
  const Gray gray = to_gray(picture);
  return std::make_shared<Gray>(reduced(gray, std::max(1, gray.width() / kWidth)));
}

void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const std::string& folder) {
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
  const Picture overlay = exporting::overlay_of(to_gray(cleaned.picture), page, {});
  write_file(base + "-4-overlay.png", write_png(overlay, 0));
}

namespace {

constexpr int kJobQuality = 88;
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

// The page picture as it is kept in a job: bitonal pages as PNG, others as good JPEGs.
std::string put_into_job(const Picture& picture, const Page& page, const std::string& folder) {
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  const std::string name = page_name_of(page) + (bitonal ? ".png" : ".jpg");
  const std::string path = (std::filesystem::path(folder) / name).string();
  if (bitonal)
    write_file(path, write_png(picture, page.dpi));
  else if (const auto* gray = std::get_if<Gray>(&picture))
    write_file(path, write_jpeg(*gray, kJobQuality));
  else
    write_file(path, write_jpeg(std::get<Colour>(picture), kJobQuality));
  return name;
}

PageReport report_of(const clean::CleanResult& cleaned, const UprightScan& upright,
                     const recognise::Languages& languages, const RunSettings& settings) {
  const Page& read = cleaned.page;
  PageReport report = run::report_of(read);
  report.notes = cleaned.notes;
  report.turn = upright.turn;
  report.turn_confidence = upright.confidence;
  if (upright.turn != settings.clean.turn) {
    report.notes.push_back(
        fmt::format("did not stand upright; turned by {} degrees counter-clockwise", upright.turn));
  }
  if (cleaned.inverse) report.notes.push_back("white on black; turned to black on white");
  if (read.part > 0)
    report.notes.push_back(fmt::format("{} page of a spread", read.part == 1 ? "left" : "right"));
  if (cleaned.blank) report.notes.push_back("blank");
  report.look = reasons_to_look(read, settings.look_below);
  report.look.insert(report.look.end(), upright.misfits.begin(), upright.misfits.end());
  const std::string other = other_language(read, languages, settings.recognise.languages);
  if (!other.empty()) {
    report.look.push_back(
        fmt::format("reads like '{}', which is none of the languages asked for", other));
  }
  report.held = reasons_to_hold(settings.hold, read, {cleaned.blank, !other.empty()});
  report.skew = cleaned.skew;
  report.curl = cleaned.curl;
  report.blank = cleaned.blank;
  return report;
}

}  // namespace

std::string page_name_of(const Page& page) {
  return fmt::format("{}-{:04}{}", stem_of(page.file), page.number, side_suffix(page.part));
}

namespace {

// A PDF page with text of its own: that is taken, and the page stays as it is.
std::optional<PageResult> kept_page(const ScanFile& file, int page, const RunSettings& settings) {
  if (!file.is_pdf() || settings.existing_text != ExistingText::kKeep) return std::nullopt;
  std::optional<Page> text = read_pdf_text(file.path(), page, settings.limits);
  if (!text.has_value()) return std::nullopt;
  PageResult result;
  result.report.file = text->file;
  result.report.number = text->number;
  result.report.dpi = text->dpi;
  result.report.words = words_on(*text);
  result.report.confidence = 1;
  result.report.notes.push_back("has real text already; kept as it is (--existing-text)");
  if (!settings.job_folder.empty()) {
    // The job shows the page as it looks.
    const Scan scan = file.read(page);
    result.finished.job_picture = put_into_job(scan.picture, *text, settings.job_folder);
    text = read_pdf_text(file.path(), page, [&] {
      ScanLimits limits = settings.limits;
      limits.pdf_dpi = scan.stated_dpi > 0 ? scan.stated_dpi : limits.pdf_dpi;
      return limits;
    }());
    text->width = width_of(scan.picture);
    text->height = height_of(scan.picture);
  }
  result.finished.kept = true;
  result.finished.page = std::move(*text);
  return result;
}

}  // namespace

std::vector<PageResult> work_on(const ScanFile& file, int page,
                                const recognise::Recogniser& recogniser, const Wanted& wanted,
                                const RunSettings& settings) {
  const auto start = std::chrono::steady_clock::now();
  std::vector<PageResult> results;
  try {
    if (std::optional<PageResult> kept = kept_page(file, page, settings)) {
      results.push_back(std::move(*kept));
      return results;
    }
    const Scan scan = file.read(page);
    const bool keep = !settings.steps_folder.empty();
    UprightScan upright = clean_and_segment(scan, recogniser, settings.clean, settings.segment,
                                            settings.recognise, settings.upright, keep);
    for (clean::CleanResult& cleaned : upright.pages) {
      Page& read = cleaned.page;
      if (!cleaned.blank) {
        recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise,
                        unread_lines(read));
        recogniser.read_round(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, read);
        recognise::set_noise_aside(read);
        recogniser.settle(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, read);
        cleaned.blank = recognise::set_blank_aside(read);
        if (!cleaned.blank) layout::add_pictures(cleaned.ink, read);
      }
      correct::CorrectReport corrected;
      if (settings.lexicon != nullptr)
        corrected = correct::correct({&read}, *settings.lexicon, settings.habits, settings.correct);
      if (keep) keep_steps(scan, cleaned, settings.steps_folder);
      PageResult result;
      if (wanted.illustrations)
        result.finished.illustrations =
            illustrations_of(cleaned.picture, read, settings.delivery.pdf.picture);
      if (wanted.picture)
        result.finished.picture = picture_of(scan, cleaned, settings.delivery.pdf.picture);
      result.finished.blank = cleaned.blank;
      result.report = report_of(cleaned, upright, recogniser.languages(), settings);
      if (settings.thumbnails) result.report.thumbnail = thumbnail_of(cleaned.picture);
      result.report.suspects = corrected.suspects;
      result.report.changes = std::move(corrected.changes);
      if (!settings.job_folder.empty())
        result.finished.job_picture = put_into_job(cleaned.picture, read, settings.job_folder);
      result.finished.page = std::move(read);
      results.push_back(std::move(result));
    }
  } catch (const std::exception& cause) {
    results.clear();
    results.emplace_back();
    results[0].report.file = file.path();
    results[0].report.number = page;
    results[0].report.failed = true;
    results[0].report.look.push_back(cause.what());
  }
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  for (PageResult& result : results)
    result.report.seconds = passed.count() / static_cast<double>(results.size());
  return results;
}

}  // namespace burnisher::run
