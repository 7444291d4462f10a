#include "layout/marks.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include "base/json.h"

#include "base/error.h"
#include "base/hash.h"
#include "page/block_kind.h"

namespace burnisher::layout {
namespace {

using nlohmann::json;

const char* const kFormat = "burnisher-layout-1";
constexpr double kSamePlace = 2;      // pixels
constexpr double kCovered = 0.5;      // of a line's box, by the block or cell it belongs to
constexpr double kFootOfLine = 0.25;  // of a drawn line's height, below its baseline
constexpr double kXHeightOfLine = 0.45;
constexpr size_t kMostPoints = 10000;  // of an outline
constexpr int kMostRows = 5000;

double coordinate(const json& value) {
  const double number = value.get<double>();
  if (!std::isfinite(number) || std::fabs(number) > 1e6)
    throw FormatError(fmt::format("no page has a place at {}", json_text(value)));
  return number;
}

Polygon outline_of(const json& from) {
  Polygon outline;
  for (const json& point : from)
    outline.push_back({coordinate(point.at(0)), coordinate(point.at(1))});
  if (outline.size() < 3 || outline.size() > kMostPoints)
    throw FormatError("an outline needs three corners or more");
  return outline;
}

std::vector<double> sorted(const json& from) {
  std::vector<double> values;
  for (const json& value : from) values.push_back(coordinate(value));
  if (values.size() > kMostRows) throw FormatError("no table has so many rows or columns");
  std::sort(values.begin(), values.end());
  return values;
}

MarkedBlock block_of(const json& from) {
  MarkedBlock block;
  try {
    block.kind = kind_named(from.at("kind").get<std::string>());
  } catch (const SettingsError& cause) {
    throw FormatError(cause.what());
  }
  block.level = from.value("level", 0);
  block.outline = outline_of(from.at("outline"));
  if (from.contains("lines")) {
    block.lines.emplace();
    for (const json& line : from["lines"])
      block.lines->push_back({coordinate(line.at(0)), coordinate(line.at(1)),
                              coordinate(line.at(2)), coordinate(line.at(3))});
  }
  block.gridded = from.contains("rows") || from.contains("columns");
  if (from.contains("rows")) block.rows = sorted(from["rows"]);
  if (from.contains("columns")) block.columns = sorted(from["columns"]);
  block.header = from.value("header", 0);
  if (from.contains("joined")) {
    for (const json& cell : from["joined"])
      block.joined.push_back({cell.at(0).get<int>(), cell.at(1).get<int>(), cell.at(2).get<int>(),
                              cell.at(3).get<int>()});
  }
  return block;
}

json json_of(const MarkedBlock& block) {
  json outline = json::array();
  for (const Point& p : block.outline) outline.push_back({p.x, p.y});
  json result = {{"kind", name_of(block.kind)}, {"level", block.level}, {"outline", outline}};
  if (block.lines) {
    result["lines"] = json::array();
    for (const Box& b : *block.lines) result["lines"].push_back({b.x0, b.y0, b.x1, b.y1});
  }
  if (block.gridded) {
    result["rows"] = block.rows;
    result["columns"] = block.columns;
    result["header"] = block.header;
    result["joined"] = json::array();
    for (const MarkedCell& c : block.joined)
      result["joined"].push_back({c.row, c.column, c.rows, c.columns});
  }
  return result;
}

double covered(const Box& inner, const Box& outer) {
  return overlap(inner.x0, inner.x1, outer.x0, outer.x1) *
         overlap(inner.y0, inner.y1, outer.y0, outer.y1) /
         std::max(1.0, inner.width() * inner.height());
}

bool same_place(const Box& a, const Box& b) {
  return std::fabs(a.x0 - b.x0) <= kSamePlace && std::fabs(a.y0 - b.y0) <= kSamePlace &&
         std::fabs(a.x1 - b.x1) <= kSamePlace && std::fabs(a.y1 - b.y1) <= kSamePlace;
}

// A line of which only the place is known; reading it finds the rest (run/read_scan.h).
Line drawn(const Box& box) {
  Line line;
  line.box = box;
  const double y = box.y1 - kFootOfLine * box.height();
  line.baseline = {{box.x0, y}, {box.x1, y}};
  line.x_height = kXHeightOfLine * box.height();
  return line;
}

// Cells between the rules, those named in `joined` as one.
std::vector<Cell> cells_of(const MarkedBlock& mark) {
  const Box frame = bounds(mark.outline);
  std::vector<double> xs = {frame.x0}, ys = {frame.y0};
  for (const double x : mark.columns)
    if (x > frame.x0 && x < frame.x1) xs.push_back(x);
  for (const double y : mark.rows)
    if (y > frame.y0 && y < frame.y1) ys.push_back(y);
  xs.push_back(frame.x1);
  ys.push_back(frame.y1);
  const int rows = static_cast<int>(ys.size()) - 1, columns = static_cast<int>(xs.size()) - 1;
  std::vector<char> taken(static_cast<size_t>(rows) * static_cast<size_t>(columns), 0);
  std::vector<Cell> cells;
  const auto add = [&](int row, int column, int high, int wide) {
    Cell cell;
    cell.row = row;
    cell.column = column;
    cell.rows = high;
    cell.columns = wide;
    cell.header = row < mark.header;
    cell.box = {xs[static_cast<size_t>(column)], ys[static_cast<size_t>(row)],
                xs[static_cast<size_t>(column + wide)], ys[static_cast<size_t>(row + high)]};
    cells.push_back(cell);
    for (int r = row; r < row + high; ++r)
      for (int c = column; c < column + wide; ++c) taken[static_cast<size_t>(r * columns + c)] = 1;
  };
  for (const MarkedCell& joined : mark.joined) {
    const bool fits = joined.row >= 0 && joined.column >= 0 && joined.rows > 0 &&
                      joined.columns > 0 && joined.row + joined.rows <= rows &&
                      joined.column + joined.columns <= columns;
    if (fits) add(joined.row, joined.column, joined.rows, joined.columns);
  }
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < columns; ++c)
      if (!taken[static_cast<size_t>(r * columns + c)]) add(r, c, 1, 1);
  std::sort(cells.begin(), cells.end(), [](const Cell& a, const Cell& b) {
    return std::make_pair(a.row, a.column) < std::make_pair(b.row, b.column);
  });
  return cells;
}

// The part of a line between two places across the page.
Line part_of(const Line& line, double x0, double x1) {
  Line part = line;
  part.words.clear();
  part.outline.clear();
  part.said.clear();
  part.box.x0 = std::max(line.box.x0, x0);
  part.box.x1 = std::min(line.box.x1, x1);
  Polyline cut = {{part.box.x0, height_at(line.baseline, part.box.x0)}};
  for (const Point& p : line.baseline)
    if (p.x > part.box.x0 && p.x < part.box.x1) cut.push_back(p);
  cut.push_back({part.box.x1, height_at(line.baseline, part.box.x1)});
  part.baseline = std::move(cut);
  return part;
}

}  // namespace

std::vector<PageMarks> read_marks(const std::string& text) {
  try {
    const json all = parse_json(text);
    if (all.at("format") != kFormat)
      throw FormatError(std::string("is no layout: its format is not ") + kFormat);
    std::vector<PageMarks> marks;
    for (const json& from : all.at("pages")) {
      PageMarks page;
      page.page = from.at("page").get<std::string>();
      page.seen = from.value("seen", "");
      if (from.contains("turn")) page.turn = from["turn"].get<int>();
      if (page.turn && *page.turn % 90 != 0)
        throw FormatError(fmt::format("{}: pages are turned by quarters, not by {} degrees",
                                      page.page, *page.turn));
      if (from.contains("leave_out")) page.leave_out = from["leave_out"].get<bool>();
      if (from.contains("blocks")) {
        page.blocks.emplace();
        for (const json& block : from["blocks"]) page.blocks->push_back(block_of(block));
      }
      marks.push_back(std::move(page));
    }
    return marks;
  } catch (const json::exception& cause) {
    throw FormatError(std::string("is no layout: ") + cause.what());
  }
}

std::string written_marks(const std::vector<PageMarks>& marks) {
  json pages = json::array();
  for (const PageMarks& page : marks) {
    json one = {{"page", page.page}};
    if (!page.seen.empty()) one["seen"] = page.seen;
    if (page.turn) one["turn"] = *page.turn;
    if (page.leave_out) one["leave_out"] = *page.leave_out;
    if (page.blocks) {
      one["blocks"] = json::array();
      for (const MarkedBlock& block : *page.blocks) one["blocks"].push_back(json_of(block));
    }
    pages.push_back(one);
  }
  return json_text(json{{"format", kFormat}, {"pages", pages}}, 1) + "\n";
}

std::string layout_digest(const Page& page) {
  std::string all;
  for (const Block& block : page.blocks) {
    all += name_of(block.kind);
    const Box b = bounds(block.outline);
    all += fmt::format(" {:.0f} {:.0f} {:.0f} {:.0f} {} {};", b.x0, b.y0, b.x1, b.y1,
                       block.lines.size(), block.cells.size());
  }
  return fmt::format("{:016x}", hash_of(all));
}

int lay_over(const std::vector<MarkedBlock>& marks, Page& page) {
  std::vector<Line> lines;
  for (const Block& block : page.blocks)
    for (const Line& line : block.lines) lines.push_back(line);
  std::vector<char> used(lines.size(), 0);
  std::vector<Block> blocks;
  for (const MarkedBlock& mark : marks) {
    Block block;
    block.kind = mark.kind;
    block.level = mark.level;
    block.outline = mark.outline;
    if (mark.lines) {
      for (const Box& box : *mark.lines) {
        const auto own = std::find_if(lines.begin(), lines.end(),
                                      [&](const Line& line) { return same_place(line.box, box); });
        block.lines.push_back(own == lines.end() ? drawn(box) : *own);
        if (own != lines.end()) used[static_cast<size_t>(own - lines.begin())] = 1;
      }
    } else if (mark.kind != BlockKind::kPicture && mark.kind != BlockKind::kSeparator) {
      for (size_t i = 0; i < lines.size(); ++i) {
        if (used[i] || !inside(mark.outline, lines[i].box.centre())) continue;
        block.lines.push_back(lines[i]);
        used[i] = 1;
      }
    }
    if (mark.gridded) {
      block.cells = cells_of(mark);
      put_into_cells(block);
    } else if (mark.kind == BlockKind::kTable) {
      // As it was, where its lines are.
      for (const Block& old : page.blocks) {
        if (old.kind != BlockKind::kTable || old.cells.empty() ||
            covered(bounds(old.outline), bounds(mark.outline)) < kCovered)
          continue;
        block.cells = old.cells;
        block.lines = old.lines;
        break;
      }
    }
    blocks.push_back(std::move(block));
  }
  page.blocks = std::move(blocks);
  return static_cast<int>(std::count(used.begin(), used.end(), 0));
}

void put_into_cells(Block& table) {
  std::vector<Line> lines;
  for (Cell& cell : table.cells) {
    cell.lines.clear();
    for (const Line& line : table.lines) {
      const double y = line.box.centre().y;
      if (y < cell.box.y0 || y >= cell.box.y1) continue;
      const double shared = overlap(line.box.x0, line.box.x1, cell.box.x0, cell.box.x1);
      if (shared <= line.x_height / 2) continue;
      cell.lines.push_back(static_cast<int>(lines.size()));
      // A line may reach over a border by its last stroke.
      const bool whole = shared > line.box.width() - line.x_height / 2;
      lines.push_back(whole ? line : part_of(line, cell.box.x0, cell.box.x1));
    }
  }
  table.lines = std::move(lines);
}

}  // namespace burnisher::layout
