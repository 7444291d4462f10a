#include "run/stages.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <map>
#include <numeric>

#include "base/error.h"
#include "base/reading_version.h"
#include "clean/faint_ink.h"
#include "clean/settings_text.h"
#include "layout/faint_text.h"
#include "layout/stencil.h"
#include "layout/turned.h"
#include "page/as_stored.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/warp.h"
#include "recognise/cut_lines.h"
#include "recognise/item_marks.h"
#include "recognise/noise.h"
#include "recognise/numbered_fields.h"
#include "recognise/rows_or_columns.h"
#include "recognise/show_through.h"
#include "run/unread.h"

namespace burnisher::run {
namespace {

constexpr double kSmallest = 0.45;   // of the x-height of ten points
constexpr double kReadsAtAll = 0.5;  // confidence of a line whose script is believed

// The longest lines say most, but very long ones may be rules or borders read as text.
std::vector<Line*> sample_of(const std::vector<Page*>& pages, int count) {
  std::vector<Line*> lines;
  for (Page* page : pages) {
    for (Block& block : page->blocks) {
      for (Line& line : block.lines) lines.push_back(&line);
    }
  }
  std::sort(lines.begin(), lines.end(), [](const Line* a, const Line* b) {
    return a->box.width() / std::max(1.0, a->x_height) >
           b->box.width() / std::max(1.0, b->x_height);
  });
  const size_t skip = lines.size() / 5;  // the odd ones
  lines.erase(lines.begin(), lines.begin() + static_cast<long>(skip));
  if (lines.size() > static_cast<size_t>(count)) lines.resize(static_cast<size_t>(count));
  return lines;
}

// Of words, by their least clear letters: text the wrong way up has many letters that pass for
// others, but few whole words of them, and text on its side is read as single letters. No language
// is asked: it finds its words in any such text.
double network_confidence_of(const std::vector<Line*>& lines) {
  double sum = 0, weight = 0;
  for (const Line* line : lines) {
    for (const Word& word : line->words) {
      const auto length = static_cast<double>(word.glyphs.size());
      if (length > 1) sum += word.network_confidence * length;
      weight += length;
    }
  }
  return weight > 0 ? sum / weight : 0;
}

bool all_blank(const std::vector<clean::CleanResult>& pages) {
  return std::all_of(pages.begin(), pages.end(), [](const auto& p) { return p.blank; });
}

std::string lay_stencil(const std::vector<Page>& stencils, Page& page) {
  if (stencils.empty()) return "";
  const size_t which = stencils.size() > 1 && page.number % 2 == 0 ? 1 : 0;
  const layout::StencilFit fit = layout::lay_over(stencils[which], page);
  return fit.fits() ? ""
                    : fmt::format("the stencil does not fit: {} of {} lines lie outside its blocks",
                                  fit.outside, fit.lines);
}

// The scan turned by `turn` more than the settings say, with its blocks.
CleanedScan turned_by(int turn, const Scan& scan, const layout::PageNetwork& network,
                      const StageSettings& settings, bool keep_steps) {
  clean::CleanSettings turned = settings.clean;
  turned.turn = (turned.turn + turn) % 360;
  CleanedScan result;
  result.turn = turned.turn;
  result.pages = clean::clean(scan, turned, keep_steps);
  for (clean::CleanResult& cleaned : result.pages) {
    result.page_maps.push_back(maps_of(network, settings.segment, cleaned));
    const std::string misfit = segment_stage(result.page_maps.back(), settings, cleaned);
    if (!misfit.empty()) result.misfits.push_back(misfit);
  }
  return result;
}

// Blocks and tables anew, of a scan that turned out to be read from the right.
void order_from_the_right(const StageSettings& settings, CleanedScan& scan) {
  StageSettings from_right = settings;
  from_right.segment.right_to_left = true;
  scan.misfits.clear();
  for (size_t i = 0; i < scan.pages.size(); ++i) {
    const std::string misfit = segment_stage(scan.page_maps[i], from_right, scan.pages[i]);
    if (!misfit.empty()) scan.misfits.push_back(misfit);
  }
}

// Whether most text of a scan's pages lies on its side.
bool lies_on_its_side(const CleanedScan& scan) {
  double cells = 0, sideways = 0;
  for (const layout::PageMaps& maps : scan.page_maps) {
    const layout::TextAxis text = layout::text_axis(maps);
    cells += text.cells;
    sideways += text.cells * text.sideways;
  }
  return 2 * sideways > cells;
}

// The turn, counter-clockwise, that makes text of this heading run to the right.
int turn_from(layout::Heading heading) {
  switch (heading) {
    case layout::Heading::kRight:
      return 0;
    case layout::Heading::kDown:
      return 90;
    case layout::Heading::kLeft:
      return 180;
    case layout::Heading::kUp:
      return 270;
  }
  return 0;
}

// What is hardly readable tells none.
std::vector<std::string> scripts_of(const std::vector<Line*>& sample) {
  std::map<std::string, size_t> letters;
  for (const Line* line : sample) {
    if (line->confidence < kReadsAtAll) continue;
    for (const Word& word : line->words) letters[line->script] += word.glyphs.size();
  }
  std::vector<std::string> scripts;
  for (const auto& [script, count] : letters)
    if (count > 0 && !script.empty()) scripts.push_back(script);
  std::stable_sort(scripts.begin(), scripts.end(),
                   [&](const auto& a, const auto& b) { return letters[a] > letters[b]; });
  return scripts;
}

bool same_picture(const Picture& a, const Picture& b) {
  if (a.index() != b.index() || width_of(a) != width_of(b) || height_of(a) != height_of(b))
    return false;
  if (const auto* bits = std::get_if<Bitonal>(&a))
    return bits->bytes() == std::get<Bitonal>(b).bytes();
  if (const auto* gray = std::get_if<Gray>(&a))
    return gray->samples() == std::get<Gray>(b).samples();
  return std::get<Colour>(a).samples() == std::get<Colour>(b).samples();
}

// Nothing where the scan is gone or another picture comes of it; `why` says so in that case.
std::optional<clean::CleanResult> cleaned_again(const Scan& picture, const Page& page,
                                                const std::string& scan_path,
                                                const ScanLimits& limits, std::string& why) {
  if (page.cleaning.empty() || scan_path.empty()) return std::nullopt;
  const clean::CleanSettings settings = clean::from_text(page.cleaning);
  try {
    ScanLimits same = limits;
    if (settings.dpi > 0) same.pdf_dpi = settings.dpi;
    const Scan scan = ScanFile(scan_path, same).read(page.number);
    for (clean::CleanResult& cleaned : clean::clean(scan, settings)) {
      if (cleaned.page.part != page.part || !same_picture(cleaned.picture, picture.picture))
        continue;
      cleaned.page.file = page.file;
      cleaned.page.relative_file = page.relative_file;
      return std::move(cleaned);
    }
    why = "cleaning its scan gives another picture than the one that is there";
  } catch (const Error& cause) {
    if (cause.kind() != ErrorKind::kInput && cause.kind() != ErrorKind::kFormat) throw;
    why = cause.what();
  }
  return std::nullopt;
}

// Nothing was read on it: is nothing there?
void tell_unread(clean::CleanResult& cleaned) {
  cleaned.why_unread = unread_reason(evidence_on(cleaned));
  cleaned.blank = cleaned.why_unread.empty();
}

}  // namespace

layout::PageMaps maps_of(const layout::PageNetwork& network,
                         const layout::SegmentSettings& settings,
                         const clean::CleanResult& cleaned) {
  // Grain and ruled paper have no believable size of text.
  const double usual = kXHeightInches * cleaned.page.dpi;
  const double x_height =
      cleaned.text_height > 0 ? std::max(cleaned.text_height, kSmallest * usual) : usual;
  const Gray page = clean::smooth_page(cleaned);
  if (settings.text_angle == 0) return layout::look_at(network, page, x_height);
  const layout::LevelFrame frame =
      layout::level_frame(page.width(), page.height(), settings.text_angle);
  const auto paper = static_cast<uint8_t>(quantile_of(page, 0.6));
  const layout::PageMaps level = layout::look_at(
      network, warped(page, PlaneMap(frame.from_here), frame.side, frame.side, paper), x_height);
  return layout::PageMaps(level.grid(), level.to_cells() * frame.from_here.inverse());
}

std::string segment_stage(const layout::PageMaps& maps, const StageSettings& settings,
                          clean::CleanResult& cleaned) {
  if (cleaned.blank) return "";
  const std::vector<Box> faint = layout::text_without_ink(maps, cleaned.ink);
  if (!faint.empty() && !std::holds_alternative<Bitonal>(cleaned.picture))
    clean::add_faint_ink(clean::smooth_page(cleaned), faint, cleaned.ink);
  layout::segment(cleaned.ink, maps, cleaned.text_height, settings.segment, cleaned.page,
                  cleaned.rules);
  const std::string misfit = lay_stencil(settings.stencils, cleaned.page);
  round_as_stored(cleaned.page);
  return misfit;
}

double sample_confidence(const recognise::Recogniser& recogniser, const StageSettings& settings,
                         CleanedScan& scan) {
  std::vector<Page*> pages;
  for (clean::CleanResult& cleaned : scan.pages) pages.push_back(&cleaned.page);
  const std::vector<Line*> sample = sample_of(pages, settings.upright.sample);
  for (clean::CleanResult& cleaned : scan.pages) {  // every page has its own way back to the scan
    std::vector<Line*> own;
    for (Block& block : cleaned.page.blocks) {
      for (Line& line : block.lines) {
        if (std::find(sample.begin(), sample.end(), &line) != sample.end()) own.push_back(&line);
      }
    }
    recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, own);
  }
  const double confidence = network_confidence_of(sample);
  const auto from_right = [](const Line* line) { return line->right_to_left(); };
  scan.right_to_left = 2 * std::count_if(sample.begin(), sample.end(), from_right) >
                       static_cast<long>(sample.size());
  scan.scripts = scripts_of(sample);
  for (Line* line : sample) {
    line->words.clear();
    line->language.clear();
    line->script.clear();
    line->confidence = 0;
  }
  return confidence;
}

CleanedScan clean_and_segment(const Scan& scan, const layout::PageNetwork& network,
                              const recognise::Recogniser* recogniser,
                              const StageSettings& settings, bool keep_steps) {
  using layout::Heading;
  const UprightSettings& upright = settings.upright;
  CleanedScan best = turned_by(0, scan, network, settings, keep_steps);
  if (!upright.try_turns || recogniser == nullptr || all_blank(best.pages)) return best;
  // Text on its side reads well as such, but the page is to stand upright.
  const bool on_side = lies_on_its_side(best);
  best.sure = on_side ? 0 : sample_confidence(*recogniser, settings, best);
  const std::array<Heading, 3> ways =
      on_side ? std::array<Heading, 3>{Heading::kUp, Heading::kDown, Heading::kLeft}
              : std::array<Heading, 3>{Heading::kLeft, Heading::kUp, Heading::kDown};
  for (const Heading heading : ways) {
    if (best.sure >= upright.readable) break;
    CleanedScan other = turned_by(turn_from(heading), scan, network, settings, keep_steps);
    if (lies_on_its_side(other)) continue;
    other.sure = sample_confidence(*recogniser, settings, other);
    if (other.sure >= upright.turns_from && other.sure >= best.sure + upright.clearly)
      best = std::move(other);
  }
  if (best.right_to_left && !settings.segment.right_to_left) order_from_the_right(settings, best);
  return best;
}

void recognise_stage(const recognise::Recogniser& recogniser, const StageSettings& settings,
                     clean::CleanResult& cleaned) {
  if (cleaned.blank) {
    tell_unread(cleaned);
    return;
  }
  Page& page = cleaned.page;
  page.reading = reading_version();
  recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, page);
  const bool other_side =
      recognise::shines_through(recogniser, to_gray(cleaned.picture), settings.recognise, page);
  recognise::set_noise_aside(page);
  recognise::set_cut_lines_aside(page);
  if (cleaned.grainy) recognise::set_scraps_aside(page);
  if (!other_side) {
    recogniser.settle(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, page);
    if (settings.reading_settles_rows && settings.stencils.empty() &&
        settings.segment.columns == 0) {
      recognise::join_item_marks(page);
      if (!recognise::order_numbered_fields(page))
        recognise::settle_rows(recogniser.languages(), page);
    }
  }
  if (other_side) recognise::set_all_aside(page);
  cleaned.blank = other_side || recognise::set_blank_aside(page);
  cleaned.other_side = other_side;
  if (!other_side && !page.has_words()) tell_unread(cleaned);
  round_as_stored(page);
}

clean::CleanResult taken_up(const Scan& picture, const std::optional<Page>& page,
                            const std::string& scan_path, const ScanLimits& limits) {
  std::optional<clean::CleanResult> again;
  std::string why;
  if (page) again = cleaned_again(picture, *page, scan_path, limits, why);
  clean::CleanResult cleaned =
      again ? std::move(*again) : std::move(clean::clean(picture, clean::in_place()).front());
  if (!page) return cleaned;
  if (!why.empty()) cleaned.notes.push_back("read from its cleaned picture alone: " + why);
  if (!again) {
    // Places belong to the picture as it is, and lead back to the scan as its page says.
    cleaned.page = *page;
  }
  cleaned.page.blocks = page->blocks;
  // What a person or another program put there is text, however little it looks it.
  if (!page->blocks.empty()) cleaned.blank = false;
  return cleaned;
}

}  // namespace burnisher::run
