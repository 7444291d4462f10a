#include "teach/type_case.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "base/unicode.h"
#include "teach/glyph_cuts.h"

namespace burnisher::teach {
namespace {

using recognise::LineReading;
using recognise::ReadCharacter;
using recognise::StripFrame;

constexpr double kSurelyRead = 0.85;  // confidence of a line
constexpr double kWideGap = 0.75;     // x-heights without ink: words end there whatever was read

std::vector<double> spaces_of(const LineReading& reading, const std::vector<GlyphPicture>& glyphs,
                              const StripFrame& frame) {
  std::vector<double> spaces;
  for (size_t i = 0; i + 1 < glyphs.size(); ++i) {
    const double from = glyphs[i].x1, to = glyphs[i + 1].x0;
    bool between = to - from > kWideGap;
    for (const ReadCharacter& c : reading.characters) {
      const double at = place_of_column((c.peak_frame + 0.5) * recognise::kFrameWidth, frame);
      // A peak is only as exact as a frame is wide.
      const double slack = recognise::kFrameWidth / frame.x_height;
      between = between || (c.character == U' ' && at > from - slack && at < to + slack);
    }
    if (between) spaces.push_back((from + to) / 2);
  }
  return spaces;
}

CaseLine cut(const LineReading& reading, const StripFrame& frame, const std::string& script) {
  CaseLine line;
  line.read = reading.text(script);
  line.confidence = reading.confidence;
  for (const GlyphCut& one :
       glyph_cuts(reading.strip, frame, reading.characters, script == "Deva")) {
    GlyphPicture glyph;
    glyph.x0 = place_of_column(one.x0, frame);
    glyph.x1 = place_of_column(one.x1, frame);
    glyph.confidence = one.characters.empty() ? 0 : 1;
    for (const ReadCharacter& c : one.characters) {
      glyph.read += encode_utf8(c.character);
      glyph.confidence = std::min(glyph.confidence, c.confidence);
    }
    line.glyphs.push_back(glyph);
  }
  line.spaces = spaces_of(reading, line.glyphs, frame);
  line.strip = own_ink(reading.strip, frame);
  return line;
}

}  // namespace

double column_of(double place, const StripFrame& frame) {
  return (place + recognise::kStripMargin) * frame.x_height;
}

double place_of_column(double column, const StripFrame& frame) {
  return column / frame.x_height - recognise::kStripMargin;
}

TypeCase type_case_of(const std::vector<CasePage>& pages,
                      const std::function<Gray(size_t page)>& picture,
                      const recognise::Reader& reader, bool every_script,
                      const std::function<void(size_t)>& advance) {
  TypeCase all;
  all.frame = reader.frame();
  all.script = reader.bundle().scripts.front();
  for (size_t p = 0; p < pages.size(); ++p) {
    Page page = *pages[p].page;  // lines are handed over to be written to
    std::vector<recognise::LineTask> tasks;
    std::vector<int> numbers;
    int number = 0;
    for (Block& block : page.blocks) {
      for (Line& line : block.lines) {
        ++number;
        if (line.baseline.size() < 2 || line.x_height <= 1 || line.runs_up_or_down()) continue;
        if (!every_script && line.confidence >= kSurelyRead && !line.script.empty() &&
            !reader.bundle().reads(line.script))
          continue;
        tasks.push_back({&line, recognise::place_of(line, PlaneMap())});
        numbers.push_back(number);
      }
    }
    if (!tasks.empty()) {
      const std::vector<LineReading> readings = reader.read(picture(p), tasks);
      std::vector<CaseLine> lines(tasks.size());
      parallel_each(static_cast<int>(tasks.size()), [&](int i) {
        const auto k = static_cast<size_t>(i);
        lines[k] = cut(readings[k], all.frame, all.script);
        lines[k].file = pages[p].file;
        lines[k].number = numbers[k];
        lines[k].start = tasks[k].place.baseline.front();
        lines[k].height = tasks[k].place.x_height;
      });
      for (CaseLine& line : lines)
        if (!line.glyphs.empty()) all.lines.push_back(std::move(line));
    }
    advance(p + 1);
  }
  return all;
}

}  // namespace burnisher::teach
