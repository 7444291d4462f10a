#include "run/stages.h"

#include <fmt/core.h>

#include <algorithm>

#include "base/error.h"
#include "clean/settings_text.h"
#include "layout/pictures.h"
#include "layout/stencil.h"
#include "page/as_stored.h"
#include "recognise/noise.h"

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
std::vector<int> other_turns(const clean::Orientation& orientation, double sure) {
  if (orientation.confidence < sure) return {180, 90, 270};
  return orientation.upright ? std::vector<int>{180} : std::vector<int>{90, 270};
}

std::string lay_stencil(const std::vector<Page>& stencils, Page& page) {
  if (stencils.empty()) return "";
  const size_t which = stencils.size() > 1 && page.number % 2 == 0 ? 1 : 0;
  const layout::StencilFit fit = layout::lay_over(stencils[which], page);
  return fit.fits() ? ""
                    : fmt::format("the stencil does not fit: {} of {} lines lie outside its blocks",
                                  fit.outside, fit.lines);
}

bool all_blank(const std::vector<clean::CleanResult>& pages) {
  return std::all_of(pages.begin(), pages.end(), [](const auto& p) { return p.blank; });
}

// The scan turned by `turn` more than the settings say, with its blocks.
CleanedScan turned_by(int turn, const Scan& scan, const StageSettings& settings, bool keep_steps) {
  clean::CleanSettings turned = settings.clean;
  turned.turn = (turned.turn + turn) % 360;
  CleanedScan result;
  result.turn = turned.turn;
  result.pages = clean::clean(scan, turned, keep_steps);
  for (clean::CleanResult& cleaned : result.pages) {
    const std::string misfit = segment_stage(settings, cleaned);
    if (!misfit.empty()) result.misfits.push_back(misfit);
  }
  return result;
}

// How well a few lines read; their words are forgotten again. Every page has its own way back to
// the scan.
double sample_confidence(const recognise::Recogniser& recogniser, const StageSettings& settings,
                         CleanedScan& scan) {
  std::vector<Page> spare(scan.pages.size());
  std::vector<Page*> to_sample;
  for (size_t i = 0; i < scan.pages.size(); ++i)
    to_sample.push_back(page_to_sample(scan.pages[i], settings.segment, spare[i]));
  const std::vector<Line*> sample = sample_of(to_sample, settings.upright.sample);
  for (size_t i = 0; i < scan.pages.size(); ++i) {
    const clean::CleanResult& cleaned = scan.pages[i];
    std::vector<Line*> own;
    for (Block& block : to_sample[i]->blocks) {
      for (Line& line : block.lines) {
        if (std::find(sample.begin(), sample.end(), &line) != sample.end()) own.push_back(&line);
      }
    }
    recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, own);
  }
  const double confidence = network_confidence_of(sample);
  scan.languages.clear();
  for (Line* line : sample) {
    if (!line->language.empty() && std::find(scan.languages.begin(), scan.languages.end(),
                                             line->language) == scan.languages.end())
      scan.languages.push_back(line->language);
    line->words.clear();
    line->language.clear();
    line->confidence = 0;
  }
  return confidence;
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

// Nothing where the scan is gone or another picture comes of it.
std::optional<clean::CleanResult> cleaned_again(const Scan& picture, const Page& page,
                                                const std::string& scan_path,
                                                const ScanLimits& limits) {
  if (page.cleaning.empty() || scan_path.empty()) return std::nullopt;
  try {
    const clean::CleanSettings settings = clean::from_text(page.cleaning);
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
  } catch (const Error&) {
    // The scan cannot be read any more; the picture can.
  }
  return std::nullopt;
}

}  // namespace

std::string segment_stage(const StageSettings& settings, clean::CleanResult& cleaned) {
  if (cleaned.blank) return "";
  layout::segment(cleaned.ink, cleaned.text_height, settings.segment, cleaned.page, cleaned.rules);
  const std::string misfit = lay_stencil(settings.stencils, cleaned.page);
  round_as_stored(cleaned.page);
  return misfit;
}

CleanedScan clean_and_segment(const Scan& scan, const recognise::Recogniser* recogniser,
                              const StageSettings& settings, bool keep_steps) {
  CleanedScan best = turned_by(0, scan, settings, keep_steps);
  if (recogniser == nullptr) return best;
  best.confidence = sample_confidence(*recogniser, settings, best);
  if (best.confidence >= settings.upright.readable || !settings.upright.try_turns ||
      all_blank(best.pages))
    return best;
  for (const int turn :
       other_turns(best.pages.front().orientation, settings.upright.looks_sideways)) {
    CleanedScan other = turned_by(turn, scan, settings, keep_steps);
    other.confidence = sample_confidence(*recogniser, settings, other);
    if (other.confidence >= settings.upright.readable &&
        other.confidence > best.confidence + settings.upright.clearly)
      best = std::move(other);
    if (best.confidence >= settings.upright.readable) break;
  }
  return best;
}

void recognise_stage(const recognise::Recogniser& recogniser, const StageSettings& settings,
                     clean::CleanResult& cleaned) {
  if (cleaned.blank) return;
  Page& page = cleaned.page;
  recogniser.read(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, page);
  recognise::set_noise_aside(page);
  recogniser.settle(*cleaned.scan, cleaned.to_scan_gray, settings.recognise, page);
  cleaned.blank = recognise::set_blank_aside(page);
  if (!cleaned.blank) layout::add_pictures(cleaned.ink, page);
  round_as_stored(page);
}

clean::CleanResult taken_up(const Scan& picture, const std::optional<Page>& page,
                            const std::string& scan_path, const ScanLimits& limits) {
  std::optional<clean::CleanResult> again;
  if (page) again = cleaned_again(picture, *page, scan_path, limits);
  clean::CleanResult cleaned =
      again ? std::move(*again) : std::move(clean::clean(picture, clean::in_place()).front());
  if (!page) return cleaned;
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
