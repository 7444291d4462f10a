#include "recognise/show_through.h"

#include <algorithm>

namespace burnisher::recognise {
namespace {

constexpr double kReadable = 0.72;  // mean network confidence of a page that is not asked about
// The mirror must read well and gain this much; scripts the model does not know don't read at all.
constexpr double kReadsWell = 0.6, kClearly = 0.1;
// Or gain so much that nothing else explains it: strongly blurred print reads badly in any case.
constexpr double kReadsSomewhat = 0.4, kByFar = 0.25;
constexpr size_t kSample = 8;  // lines

double confidence_of(const std::vector<Line>& lines) {
  double sum = 0, letters = 0;
  for (const Line& line : lines) {
    for (const Word& word : line.words) {
      const auto length = static_cast<double>(word.glyphs.size());
      sum += word.network_confidence * length;
      letters += length;
    }
  }
  return letters > 0 ? sum / letters : 0;
}

Gray mirrored(const Gray& picture) {
  Gray result(picture.width(), picture.height(), 255);
  for (int y = 0; y < picture.height(); ++y)
    std::reverse_copy(picture.row(y), picture.row(y) + picture.width(), result.row(y));
  return result;
}

void mirror(double width, Line& line) {
  for (Point& p : line.baseline) p.x = width - p.x;
  std::reverse(line.baseline.begin(), line.baseline.end());
  line.box = {width - line.box.x1, line.box.y0, width - line.box.x0, line.box.y1};
  line.words.clear();
}

}  // namespace

bool shines_through(const Recogniser& recogniser, const Gray& picture,
                    const RecogniseSettings& settings, const Page& page) {
  if (page.mean_network_confidence() >= kReadable) return false;
  std::vector<Line> sample;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      if (!line.words.empty()) sample.push_back(line);
    }
  }
  std::stable_sort(sample.begin(), sample.end(),
                   [](const Line& a, const Line& b) { return a.box.width() > b.box.width(); });
  if (sample.size() > kSample) sample.resize(kSample);
  const double as_it_is = confidence_of(sample);
  std::vector<Line*> lines;
  for (Line& line : sample) {
    mirror(picture.width(), line);
    lines.push_back(&line);
  }
  recogniser.read(mirrored(picture), {}, settings, lines);
  const double in_the_mirror = confidence_of(sample);
  const double gain = in_the_mirror - as_it_is;
  return (in_the_mirror > kReadsWell && gain > kClearly) ||
         (in_the_mirror > kReadsSomewhat && gain > kByFar);
}

}  // namespace burnisher::recognise
