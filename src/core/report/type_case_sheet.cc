#include "report/type_case_sheet.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include "base/json.h"

#include "base/base64.h"
#include "base/files.h"
#include "raster/jpeg.h"
#include "report/html.h"
#include "report/type_case_page.h"
#include "teach/piles.h"

namespace burnisher::report {
namespace {

using nlohmann::json;
using teach::CaseLine;
using teach::Naming;
using teach::TypeCase;

constexpr int kStripQuality = 72;  // JPEG

std::string strip_source(const Gray& strip) {
  Gray paper(strip.width(), strip.height());
  for (int y = 0; y < strip.height(); ++y)
    for (int x = 0; x < strip.width(); ++x)
      paper.row(y)[x] =
          static_cast<uint8_t>(255 - std::max<int>(0, strip.row(y)[x] - recognise::kPaperLevel));
  return "data:image/jpeg;base64," + base64(write_jpeg(paper, kStripQuality));
}

// Those to show, in their order.
std::vector<size_t> lines_shown(const TypeCaseSheet& sheet,
                                const std::set<const CaseLine*>& named) {
  const std::vector<CaseLine>& lines = sheet.type_case->lines;
  std::vector<size_t> shown;
  const size_t wanted =
      sheet.most_lines > 0 ? std::min(sheet.most_lines, lines.size()) : lines.size();
  for (size_t i = 0; i < lines.size(); ++i) {
    const bool drawn = (i + 1) * wanted / lines.size() > i * wanted / lines.size();
    if (drawn || named.count(&lines[i]) > 0) shown.push_back(i);
  }
  return shown;
}

// [x0, x1, read, sure in percent, pile, name, broken] of each glyph; places in thousandths.
json glyph_json(const teach::GlyphPicture& glyph, int pile, const std::string& name, bool broken) {
  return {std::lround(1000 * glyph.x0),
          std::lround(1000 * glyph.x1),
          glyph.read,
          std::lround(100 * glyph.confidence),
          pile,
          name,
          broken ? 1 : 0};
}

// The glyphs of a line, those that somebody named as he cut them.
json glyphs_json(const CaseLine& line, const std::vector<int>& piles,
                 const std::vector<const Naming*>& namings) {
  std::vector<std::pair<double, json>> glyphs;
  std::vector<bool> gone(line.glyphs.size());
  for (const Naming* naming : namings) {
    if (naming->what == Naming::What::kLine) continue;
    teach::GlyphPicture glyph;
    glyph.x0 = naming->from;
    glyph.x1 = naming->to;
    int pile = -1, covered = 0;
    for (size_t g = 0; g < line.glyphs.size(); ++g) {
      const teach::GlyphPicture& own = line.glyphs[g];
      const double both = std::min(own.x1, glyph.x1) - std::max(own.x0, glyph.x0);
      if (both < 0.5 * std::min(own.x1 - own.x0, glyph.x1 - glyph.x0)) continue;
      gone[g] = true;
      ++covered;
      glyph.read += own.read;
      glyph.confidence = own.confidence;
      pile = covered == 1 && both > 0.8 * (glyph.x1 - glyph.x0) ? piles[g] : -1;
    }
    glyphs.emplace_back(
        glyph.x0, glyph_json(glyph, pile, naming->text, naming->what == Naming::What::kBroken));
  }
  for (size_t g = 0; g < line.glyphs.size(); ++g)
    if (!gone[g])
      glyphs.emplace_back(line.glyphs[g].x0, glyph_json(line.glyphs[g], piles[g], "", false));
  std::stable_sort(glyphs.begin(), glyphs.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  json all = json::array();
  for (auto& [at, glyph] : glyphs) all.push_back(std::move(glyph));
  return all;
}

}  // namespace

TypeCaseCounts write_type_case(const TypeCaseSheet& sheet, const std::string& path,
                               bool overwrite) {
  const TypeCase& whole = *sheet.type_case;
  std::map<const CaseLine*, std::vector<const Naming*>> namings;
  std::set<const CaseLine*> named;
  for (const Naming& naming : *sheet.namings)
    if (const CaseLine* line = teach::line_of(naming, whole)) {
      namings[line].push_back(&naming);
      named.insert(line);
    }
  const std::vector<size_t> shown = lines_shown(sheet, named);
  TypeCase seen;
  seen.frame = whole.frame;
  for (const size_t i : shown) {
    CaseLine line;
    line.strip = whole.lines[i].strip.clone();
    line.glyphs = whole.lines[i].glyphs;
    seen.lines.push_back(std::move(line));
  }
  const std::vector<teach::Pile> piles = teach::piles_of(seen);
  TypeCaseCounts counts;
  counts.lines = shown.size();
  counts.piles = piles.size();
  std::vector<std::vector<int>> pile_of;
  for (const CaseLine& line : seen.lines) pile_of.emplace_back(line.glyphs.size(), -1);
  std::vector<int> pile_sizes;
  json order = json::array();  // of the pictures in each pile: the most typical first
  for (size_t p = 0; p < piles.size(); ++p) {
    json pictures = json::array();
    for (const teach::GlyphAt& at : piles[p].glyphs) {
      pile_of[at.line][at.glyph] = static_cast<int>(p);
      pictures.push_back({at.line, std::lround(1000 * seen.lines[at.line].glyphs[at.glyph].x0)});
    }
    counts.glyphs += piles[p].glyphs.size();
    order.push_back(std::move(pictures));
  }
  json lines = json::array();
  std::string identity = sheet.title;
  for (size_t k = 0; k < shown.size(); ++k) {
    const CaseLine& line = whole.lines[shown[k]];
    std::string typed;
    for (const Naming* naming : namings[&line])
      if (naming->what == Naming::What::kLine) typed = naming->text;
    json spaces = json::array();
    for (const double space : line.spaces) spaces.push_back(std::lround(1000 * space));
    lines.push_back({{"file", line.file},
                     {"number", line.number},
                     {"x", std::round(10 * line.start.x) / 10},
                     {"y", std::round(10 * line.start.y) / 10},
                     {"width", line.strip.width()},
                     {"src", strip_source(line.strip)},
                     {"read", line.read},
                     {"typed", typed},
                     {"spaces", spaces},
                     {"glyphs", glyphs_json(line, pile_of[k], namings[&line])}});
    identity +=
        fmt::format("|{},{},{},{}", line.file, line.number, line.start.x, line.glyphs.size());
  }
  const json data = {{"title", sheet.title},
                     {"id", fmt::format("{:016x}", std::hash<std::string>()(identity))},
                     {"height", whole.frame.height},
                     {"xHeight", whole.frame.x_height},
                     {"margin", teach::column_of(0, whole.frame)},
                     {"letters", sheet.letters},
                     {"lines", std::move(lines)},
                     {"piles", std::move(order)}};
  write_file(path,
             html_page(sheet.title, kTypeCaseStyle,
                       std::string(kTypeCaseBody) +
                           "<script>\nconst sheet = " + within_script(json_text(data)) + ";\n" +
                           kTypeCaseScript + "</script>\n"),
             overwrite);
  return counts;
}

}  // namespace burnisher::report
