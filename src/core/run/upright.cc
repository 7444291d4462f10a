#include "run/upright.h"

#include <algorithm>

namespace burnisher::run {
namespace {

// The longest lines say most, but very long ones may be rules or borders read as text.
std::vector<Line*> sample_of(Page& page, int count) {
  std::vector<Line*> lines;
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) lines.push_back(&line);
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

// Of words, each as sure as its least sure character: text the wrong way up has many letters that
// pass for others, but few whole words of them.
double confidence_of(const std::vector<Line*>& lines) {
  double sum = 0, weight = 0;
  for (const Line* line : lines) {
    for (const Word& word : line->words) {
      const double length = static_cast<double>(word.glyphs.size());
      sum += word.confidence * length;
      weight += length;
    }
  }
  return weight > 0 ? sum / weight : 0;
}

}  // namespace

UprightPage clean_and_segment(const Scan& scan, const recognise::Recogniser& recogniser,
                              const clean::CleanSettings& clean_settings,
                              const layout::SegmentSettings& segment_settings,
                              const recognise::RecogniseSettings& recognise_settings,
                              const UprightSettings& settings) {
  UprightPage best;
  double confidence = -1;
  for (const int turn : {0, 180, 90, 270}) {
    clean::CleanSettings turned = clean_settings;
    turned.turn = (clean_settings.turn + turn) % 360;
    clean::CleanResult cleaned = clean::clean(scan, turned);
    if (cleaned.blank) {
      if (turn == 0) return {std::move(cleaned), turned.turn};
      continue;
    }
    layout::segment(cleaned.ink, cleaned.text_height, segment_settings, cleaned.page);
    const std::vector<Line*> sample = sample_of(cleaned.page, settings.sample);
    recogniser.read(cleaned.scan_gray, cleaned.page.geometry.to_scan, recognise_settings, sample);
    const double now = confidence_of(sample);
    if (turn == 0 || (now >= settings.readable && now > confidence + settings.clearly)) {
      best.cleaned = std::move(cleaned);
      best.turn = turned.turn;
      confidence = now;
    }
    if (confidence >= settings.readable || !settings.try_turns) break;
  }
  return best;
}

}  // namespace burnisher::run
