#include "run/read_scan.h"

#include <fmt/core.h>

#include <algorithm>
#include <chrono>

#include "base/error.h"
#include "clean/settings_text.h"
#include "layout/marks.h"
#include "page/as_stored.h"
#include "run/leaves.h"
#include "run/page_codes.h"

namespace burnisher::run {
namespace {

constexpr double kSameLine = 0.4;  // of a drawn line's height that the page's own must share

bool holds_text(const Block& block) {
  return block.kind != BlockKind::kPicture && block.kind != BlockKind::kSeparator &&
         block.kind != BlockKind::kNoise;
}

// The lines that the page itself shows, for blocks that came without any.
std::vector<Line> lines_seen(const clean::CleanResult& cleaned, const layout::PageNetwork& network,
                             const StageSettings& settings) {
  Page bare = cleaned.page;
  bare.blocks.clear();
  layout::SegmentSettings as_shown = settings.segment;
  as_shown.text_in_pictures = true;
  as_shown.tables = false;
  layout::segment(cleaned.ink, maps_of(network, as_shown, cleaned), cleaned.text_height, as_shown,
                  bare, cleaned.rules);
  std::vector<Line> lines;
  for (Block& block : bare.blocks) {
    for (Line& line : block.lines) lines.push_back(std::move(line));
  }
  return lines;
}

// A line that was drawn by hand gets the baseline and height of the one that the page shows there.
void fit_to_page(const std::vector<Line>& seen, Line& line) {
  const Line* best = nullptr;
  double most = kSameLine * line.box.height();
  for (const Line& one : seen) {
    const double level = overlap(one.box.y0, one.box.y1, line.box.y0, line.box.y1);
    if (overlap(one.box.x0, one.box.x1, line.box.x0, line.box.x1) <= 0 || level <= most) continue;
    most = level;
    best = &one;
  }
  if (best == nullptr || best->runs_up_or_down()) return;
  const double x0 = line.box.x0, x1 = line.box.x1;
  line.x_height = best->x_height;
  line.stroke = best->stroke;
  line.baseline = {{x0, height_at(best->baseline, x0)}, {x1, height_at(best->baseline, x1)}};
}

void fill_empty_blocks(const clean::CleanResult& cleaned, const layout::PageNetwork& network,
                       const StageSettings& settings, Page& page) {
  const bool any = std::any_of(page.blocks.begin(), page.blocks.end(), [](const Block& block) {
    return holds_text(block) && (block.lines.empty() ||
                                 std::any_of(block.lines.begin(), block.lines.end(),
                                             [](const Line& line) { return line.words.empty(); }));
  });
  if (!any) return;
  const std::vector<Line> lines = lines_seen(cleaned, network, settings);
  for (Block& block : page.blocks) {
    if (!holds_text(block)) continue;
    for (Line& line : block.lines)
      if (line.words.empty()) fit_to_page(lines, line);
    if (!block.lines.empty()) continue;
    for (const Line& line : lines)
      if (inside(block.outline, line.box.centre())) block.lines.push_back(line);
    if (!block.cells.empty()) layout::put_into_cells(block);
  }
  round_as_stored(page);
}

}  // namespace

ScanInHand scan_in_hand(const ScanTask& task, PixelBudget& budget) {
  ScanInHand hand;
  hand.scan = scan_of(task);
  hand.held =
      budget.hold(static_cast<double>(width_of(hand.scan.picture)) * height_of(hand.scan.picture));
  return hand;
}

ReadScan read_scan(const layout::PageNetwork& network, const recognise::Recogniser& recogniser,
                   const StageSettings& settings, bool keep_steps, ScanInHand& hand) {
  const auto start = std::chrono::steady_clock::now();
  CleanedScan all = clean_and_segment(hand.scan, network, &recogniser, settings, keep_steps);
  if (settings.barcodes) note_barcodes(hand.scan, all.pages);
  ReadScan read;
  read.turn = all.turn;
  read.turn_confidence = all.sure;
  read.misfits = all.misfits;
  for (clean::CleanResult& cleaned : all.pages) {
    recognise_stage(recogniser, settings, cleaned);
    ReadPage page;
    page.blank = cleaned.blank;
    page.other_side = cleaned.other_side;
    page.unread = cleaned.why_unread;
    page.skew = cleaned.skew;
    page.perspective = cleaned.perspective;
    page.curl = cleaned.curl;
    page.notes = cleaned.notes;
    if (all.turn != settings.clean.turn)
      page.notes.push_back(
          fmt::format("did not stand upright; turned by {} degrees counter-clockwise", all.turn));
    if (cleaned.inverse) page.notes.emplace_back("white on black; turned to black on white");
    if (cleaned.page.part > 0)
      page.notes.push_back(
          fmt::format("{} page of a spread", cleaned.page.part == 1 ? "left" : "right"));
    if (cleaned.blank) page.notes.emplace_back("blank");
    page.page = std::move(cleaned.page);
    cleaned.page = page.page;
    cleaned.page.blocks.clear();
    read.pages.push_back(std::move(page));
  }
  hand.cleaned = std::move(all.pages);
  hand.page_maps = std::move(all.page_maps);
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  read.seconds = passed.count();
  return read;
}

void clean_again(const ReadScan& read, ScanInHand& hand) {
  std::vector<clean::CleanResult> cleaned =
      clean::clean(hand.scan, clean::from_text(read.pages.front().page.cleaning));
  for (const ReadPage& page : read.pages) {
    const auto same = std::find_if(cleaned.begin(), cleaned.end(), [&](const auto& one) {
      return one.page.part == page.page.part && one.page.width == page.page.width &&
             one.page.height == page.page.height;
    });
    if (same == cleaned.end())
      throw FormatError(fmt::format("page {} of {} does not come out of cleaning as it did before",
                                    hand.scan.page, hand.scan.file));
    hand.cleaned.push_back(std::move(*same));
    clean::CleanResult& own = hand.cleaned.back();
    own.blank = page.blank;
    own.other_side = page.other_side;
    own.why_unread = page.unread;
  }
}

void read_missing(const ScanInHand& hand, size_t place, const layout::PageNetwork& network,
                  const recognise::Recogniser& recogniser, const StageSettings& settings,
                  Page& page) {
  const clean::CleanResult& cleaned = hand.cleaned[place];
  fill_empty_blocks(cleaned, network, settings, page);
  std::vector<Line*> unread;
  for (Block& block : page.blocks) {
    if (!holds_text(block)) continue;
    for (Line& line : block.lines)
      if (line.words.empty()) unread.push_back(&line);
  }
  if (unread.empty()) return;
  recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, unread);
  round_as_stored(page);
}

}  // namespace burnisher::run
