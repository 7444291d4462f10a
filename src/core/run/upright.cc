#include "run/upright.h"

#include <fmt/core.h>

#include <algorithm>

#include "layout/stencil.h"

namespace burnisher::run {
namespace {

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
double clarity_of(const std::vector<Line*>& lines) {
  double sum = 0, weight = 0;
  for (const Line* line : lines) {
    for (const Word& word : line->words) {
      const auto length = static_cast<double>(word.glyphs.size());
      if (length > 1) sum += word.clarity * length;
      weight += length;
    }
  }
  return weight > 0 ? sum / weight : 0;
}

// Lines of text on their side look like tables of single letters, which pass for others whichever
// way they stand: the sample is taken from lines as they are without tables. `spare` holds them.
Page* page_to_sample(clean::CleanResult& cleaned, const layout::SegmentSettings& settings,
                     Page& spare) {
  const bool table = std::any_of(cleaned.page.blocks.begin(), cleaned.page.blocks.end(),
                                 [](const Block& b) { return b.kind == BlockKind::kTable; });
  if (!table) return &cleaned.page;
  spare = cleaned.page;
  layout::SegmentSettings plain = settings;
  plain.tables = false;
  layout::segment(cleaned.ink, cleaned.text_height, plain, spare, cleaned.rules);
  return &spare;
}

// The turns worth trying after none, by the looks of the page.
std::vector<int> other_turns(const clean::Standing& standing, double sure) {
  if (standing.confidence < sure) return {180, 90, 270};
  return standing.upright ? std::vector<int>{180} : std::vector<int>{90, 270};
}

void lay_stencil(const std::vector<Page>& stencils, Page& page, std::vector<std::string>& misfits) {
  if (stencils.empty()) return;
  const size_t which = stencils.size() > 1 && page.number % 2 == 0 ? 1 : 0;
  const layout::StencilFit fit = layout::lay_over(stencils[which], page);
  if (!fit.fits()) {
    misfits.push_back(fmt::format("the stencil does not fit: {} of {} lines lie outside its blocks",
                                  fit.outside, fit.lines));
  }
}

bool all_blank(const std::vector<clean::CleanResult>& pages) {
  return std::all_of(pages.begin(), pages.end(), [](const auto& p) { return p.blank; });
}

}  // namespace

UprightScan clean_and_segment(const Scan& scan, const recognise::Recogniser& recogniser,
                              const clean::CleanSettings& clean_settings,
                              const layout::SegmentSettings& segment_settings,
                              const recognise::RecogniseSettings& recognise_settings,
                              const UprightSettings& settings, bool keep_steps) {
  const auto stood = [&](int turn) {
    clean::CleanSettings turned = clean_settings;
    turned.turn = (clean_settings.turn + turn) % 360;
    UprightScan way;
    way.turn = turned.turn;
    way.pages = clean::clean(scan, turned, keep_steps);
    for (clean::CleanResult& cleaned : way.pages) {
      if (cleaned.blank) continue;
      layout::segment(cleaned.ink, cleaned.text_height, segment_settings, cleaned.page,
                      cleaned.rules);
      lay_stencil(settings.stencils, cleaned.page, way.misfits);
    }
    std::vector<Page> spare(way.pages.size());
    std::vector<Page*> to_sample;
    for (size_t i = 0; i < way.pages.size(); ++i)
      to_sample.push_back(page_to_sample(way.pages[i], segment_settings, spare[i]));
    // The sample is read page by page: every page has its own way back to the scan.
    const std::vector<Line*> sample = sample_of(to_sample, settings.sample);
    for (size_t i = 0; i < way.pages.size(); ++i) {
      const clean::CleanResult& cleaned = way.pages[i];
      std::vector<Line*> own;
      for (Block& block : to_sample[i]->blocks) {
        for (Line& line : block.lines) {
          if (std::find(sample.begin(), sample.end(), &line) != sample.end()) own.push_back(&line);
        }
      }
      recogniser.read(*cleaned.scan, cleaned.to_scan_gray, recognise_settings, own);
    }
    way.confidence = clarity_of(sample);
    return way;
  };
  UprightScan best = stood(0);
  if (best.confidence >= settings.readable || !settings.try_turns || all_blank(best.pages))
    return best;
  for (const int turn : other_turns(best.pages.front().standing, settings.looks_sideways)) {
    UprightScan way = stood(turn);
    if (way.confidence >= settings.readable && way.confidence > best.confidence + settings.clearly)
      best = std::move(way);
    if (best.confidence >= settings.readable) break;
  }
  return best;
}

}  // namespace burnisher::run
