#include "pagefile/page_xml.h"

#include <fmt/core.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <optional>
#include <pugixml.hpp>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/unicode.h"
#include "page/block_kind.h"
#include "page/reasons.h"
#include "page/table.h"
#include "pagefile/custom.h"
#include "pagefile/scan_geometry.h"

namespace burnisher {
namespace {

const char* const kBarcodeType = "barcode";  // of a GraphicRegion, as the schema has it
constexpr int kMostCells = 10000;            // rows or columns of a table
constexpr double kConfidenceStep = 0.001;    // of confidences as they are written
// Of a line's height, when another program does not tell them.
constexpr double kXHeightOfLine = 0.45, kFootOfLine = 0.25;

const char* const kReadingItem = "reading";  // of the metadata: the version that read the page
const char* const kNamespace = "http://schema.primaresearch.org/PAGE/gts/pagecontent/2019-07-15";

std::string joined(const std::vector<std::string>& entries) {
  std::string custom;
  for (const std::string& entry : entries) custom += (custom.empty() ? "" : " ") + entry;
  return custom;
}

std::string points_text(const std::vector<Point>& points) {
  std::string text;
  for (const Point& p : points) {
    if (!text.empty()) text += ' ';
    text += fmt::format("{},{}", std::max(0L, std::lround(p.x)), std::max(0L, std::lround(p.y)));
  }
  return text;
}

// Pairs as in "12,40 310,44"; what is none is passed over. Throws FormatError for numbers that no
// page has.
std::vector<Point> points_of(const char* text) {
  std::vector<Point> points;
  const char* const end = text + std::strlen(text);
  const auto is_space = [](char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; };
  for (const char* at = text; at != end;) {
    const char* const stop = std::find_if(at, end, is_space);
    Point p;
    const auto x = std::from_chars(at, stop, p.x);
    if (x.ec == std::errc() && x.ptr != stop && *x.ptr == ',' &&
        std::from_chars(x.ptr + 1, stop, p.y).ec == std::errc()) {
      if (!(std::fabs(p.x) <= kLargestNumber && std::fabs(p.y) <= kLargestNumber))
        throw FormatError("no page has a point at " + std::string(at, stop));
      points.push_back(p);
    }
    at = std::find_if_not(stop, end, is_space);
  }
  return points;
}

bool is_whole(const std::vector<Point>& points) {
  return std::all_of(points.begin(), points.end(), [](const Point& p) {
    return p.x == std::round(p.x) && p.y == std::round(p.y) && p.x >= 0 && p.y >= 0;
  });
}

std::string exact_points(const std::vector<Point>& points) {
  std::string text;
  for (const Point& p : points) text += (text.empty() ? "" : " ") + exact(p.x) + "," + exact(p.y);
  return text;
}

void add_coords(pugi::xml_node node, const std::vector<Point>& points) {
  node.append_child("Coords").append_attribute("points") = points_text(points).c_str();
}

pugi::xml_node add_text(pugi::xml_node node, const std::string& text, double confidence) {
  auto equiv = node.append_child("TextEquiv");
  equiv.append_attribute("conf") = fmt::format("{:.3f}", std::clamp(confidence, 0.0, 1.0)).c_str();
  equiv.append_child("Unicode").text() = sound_utf8(text).c_str();
  return equiv;
}

// What correcting found out: "suspect {probability:0.61; reason:unsure,unknown;} corrected
// {by:person; before:lainp;}", and how sure the network was where that is not the confidence.
std::string verdict_of(const Word& word) {
  std::vector<std::string> entries;
  if (std::fabs(word.network_confidence - word.confidence) >= kConfidenceStep / 2) {
    entries.push_back(
        custom_entry("network", {{"confidence", fmt::format("{:.3f}", word.network_confidence)}}));
  }
  if (word.error_probability > 0) {
    entries.push_back(
        custom_entry("suspect", {{"probability", fmt::format("{:.3f}", word.error_probability)},
                                 {"reason", reason_names(word.reasons)}}));
  }
  if (word.corrected != CorrectedBy::kNobody) {
    entries.push_back(custom_entry(
        "corrected", {{"by", word.corrected == CorrectedBy::kPerson ? "person" : "repair"},
                      {"before", word.before}}));
  }
  return joined(entries);
}

void add_word(pugi::xml_node line_node, const Word& word, const std::string& id) {
  auto node = line_node.append_child("Word");
  node.append_attribute("id") = id.c_str();
  const std::string verdict = verdict_of(word);
  if (!verdict.empty()) node.append_attribute("custom") = verdict.c_str();
  add_coords(node, word.box.corners());
  int number = 0;
  for (const Glyph& glyph : word.glyphs) {
    auto child = node.append_child("Glyph");
    child.append_attribute("id") = fmt::format("{}g{}", id, ++number).c_str();
    add_coords(child, glyph.box.corners());
    add_text(child, encode_utf8(glyph.character), glyph.confidence);
  }
  auto proper = add_text(node, word.text, word.confidence);
  // The schema's way to give alternatives: the reading proper has index 0.
  if (!word.readings.empty()) proper.append_attribute("index") = 0;
  int index = 0;
  for (const OtherReading& other : word.readings)
    add_text(node, other.text, other.share).append_attribute("index") = ++index;
  if (word.small_capitals) node.append_child("TextStyle").append_attribute("smallCaps") = true;
}

void add_line(pugi::xml_node block_node, const Line& line, const std::string& id) {
  auto node = block_node.append_child("TextLine");
  node.append_attribute("id") = id.c_str();
  std::vector<std::pair<std::string, std::string>> type = {{"value", exact(line.x_height)}};
  if (line.stroke > 0) type.emplace_back("stroke", exact(line.stroke));
  std::vector<std::string> custom = {custom_entry("x_height", type)};
  if (!is_whole(line.baseline))
    custom.push_back(custom_entry("baseline", {{"points", exact_points(line.baseline)}}));
  if (!line.language.empty()) custom.push_back(custom_entry("language", {{"tag", line.language}}));
  if (!line.script.empty()) custom.push_back(custom_entry("script", {{"code", line.script}}));
  if (line.right_to_left()) node.append_attribute("readingDirection") = "right-to-left";
  node.append_attribute("custom") = joined(custom).c_str();
  add_coords(node, line.outline.empty() ? line.box.corners() : line.outline);
  node.append_child("Baseline").append_attribute("points") = points_text(line.baseline).c_str();
  int number = 0;
  for (const Word& word : line.words) add_word(node, word, fmt::format("{}w{}", id, ++number));
  if (!line.words.empty()) add_text(node, line.text(), line.confidence);
}

// The schema keeps a table's text in regions within it, one for each cell.
void add_table(pugi::xml_node node, const Block& table, const std::string& id) {
  node.append_attribute("rows") = row_count(table);
  node.append_attribute("columns") = column_count(table);
  add_coords(node, table.outline);
  int number = 0;
  for (const Cell& cell : table.cells) {
    auto child = node.append_child("TextRegion");
    const std::string cell_id = fmt::format("{}c{}", id, ++number);
    child.append_attribute("id") = cell_id.c_str();
    add_coords(child, cell.box.corners());
    auto role = child.append_child("Roles").append_child("TableCellRole");
    role.append_attribute("rowIndex") = cell.row;
    role.append_attribute("columnIndex") = cell.column;
    role.append_attribute("rowSpan") = cell.rows;
    role.append_attribute("colSpan") = cell.columns;
    role.append_attribute("header") = cell.header;
    int line_number = 0;
    for (int index : cell.lines)
      add_line(child, table.lines[static_cast<size_t>(index)],
               fmt::format("{}l{}", cell_id, ++line_number));
  }
}

double confidence_of(const pugi::xml_node& node) {
  const double confidence = node.child("TextEquiv").attribute("conf").as_double(1);
  return confidence >= 0 && confidence <= 1 ? confidence : 0;
}

void read_verdict(const Custom& custom, Word& word) {
  word.network_confidence = custom.number("network", "confidence").value_or(word.confidence);
  word.error_probability = custom.number("suspect", "probability").value_or(0);
  std::istringstream reasons(custom.text("suspect", "reason"));
  for (std::string one; std::getline(reasons, one, ',');) {
    for (const auto& [reason, name] : kReasonNames) {
      if (one == name) word.reasons |= reason;
    }
  }
  const std::string by = custom.text("corrected", "by");
  if (by == "person") word.corrected = CorrectedBy::kPerson;
  if (by == "repair") word.corrected = CorrectedBy::kRepair;
  word.before = custom.text("corrected", "before");
}

Word read_word(const pugi::xml_node& node) {
  Word word;
  word.text = to_nfc(node.child("TextEquiv").child("Unicode").text().get());
  for (const auto& child : node.children("TextEquiv")) {
    if (child.attribute("index").as_int() > 0)
      word.readings.push_back(
          {to_nfc(child.child("Unicode").text().get()), child.attribute("conf").as_double()});
  }
  word.box = bounds(points_of(node.child("Coords").attribute("points").value()));
  word.confidence = confidence_of(node);
  read_verdict(Custom(node.attribute("custom").value()), word);
  word.small_capitals = node.child("TextStyle").attribute("smallCaps").as_bool();
  for (const auto& child : node.children("Glyph")) {
    const auto characters = decode_utf8(child.child("TextEquiv").child("Unicode").text().get());
    if (characters.size() != 1) continue;
    word.glyphs.push_back({characters[0],
                           bounds(points_of(child.child("Coords").attribute("points").value())),
                           confidence_of(child)});
  }
  return word;
}

// A line known only by its text gets words of even width, so that nothing of it is lost.
void spread_words(const std::string& text, double confidence, Line& line) {
  std::istringstream stream(text);
  std::vector<std::string> words;
  size_t total = 0;
  for (std::string w; stream >> w;) {
    total += decode_utf8(w).size() + 1;
    words.push_back(w);
  }
  double at = line.box.x0;
  for (const std::string& w : words) {
    const double width = line.box.width() * static_cast<double>(decode_utf8(w).size()) /
                         static_cast<double>(std::max<size_t>(1, total - 1));
    line.words.push_back({to_nfc(w), {at, line.box.y0, at + width, line.box.y1}, confidence, {}});
    line.words.back().network_confidence = confidence;
    at += width + line.box.width() / static_cast<double>(std::max<size_t>(1, total - 1));
  }
}

Line read_line(const pugi::xml_node& node) {
  Line line;
  line.outline = points_of(node.child("Coords").attribute("points").value());
  line.box = bounds(line.outline);
  if (line.outline.size() <= 4) line.outline.clear();
  line.baseline = points_of(node.child("Baseline").attribute("points").value());
  const double height = line.box.height();
  if (line.baseline.size() < 2) {
    const double y = line.box.y1 - kFootOfLine * height;
    line.baseline = {{line.box.x0, y}, {line.box.x1, y}};
  }
  const Custom custom(node.attribute("custom").value());
  line.x_height = custom.number("x_height", "value").value_or(0);
  if (line.x_height <= 0) line.x_height = kXHeightOfLine * height;
  line.stroke = custom.number("x_height", "stroke").value_or(0);
  line.language = custom.text("language", "tag");
  line.script = custom.text("script", "code");
  // The exact baseline counts as long as nobody has moved the one that all programs see.
  const Polyline exact_one = points_of(custom.text("baseline", "points").c_str());
  if (!exact_one.empty() && points_text(exact_one) == points_text(line.baseline))
    line.baseline = exact_one;
  for (const auto& child : node.children("Word")) line.words.push_back(read_word(child));
  line.confidence = confidence_of(node);
  const std::string text = node.child("TextEquiv").child("Unicode").text().get();
  if (line.words.empty() && !text.empty())
    spread_words(text, line.confidence, line);
  else if (!text.empty() && to_nfc(text) != line.text())
    line.said = to_nfc(text);
  return line;
}

void read_cells(const pugi::xml_node& region, Block& table) {
  for (const auto& child : region.children("TextRegion")) {
    const auto role = child.child("Roles").child("TableCellRole");
    Cell cell;
    cell.row = role.attribute("rowIndex").as_int();
    cell.column = role.attribute("columnIndex").as_int();
    cell.rows = std::max(1, role.attribute("rowSpan").as_int(1));
    cell.columns = std::max(1, role.attribute("colSpan").as_int(1));
    for (const int place : {cell.row, cell.column, cell.rows, cell.columns}) {
      if (place < 0 || place > kMostCells)
        throw FormatError(fmt::format("no table has a cell in row or column {}", place));
    }
    cell.header = role.attribute("header").as_bool();
    cell.box = bounds(points_of(child.child("Coords").attribute("points").value()));
    for (const auto& line : child.children("TextLine")) {
      cell.lines.push_back(static_cast<int>(table.lines.size()));
      table.lines.push_back(read_line(line));
    }
    table.cells.push_back(cell);
  }
}

// Regions named by the reading order first, in its order, the others after them as they stand.
std::vector<pugi::xml_node> ordered_regions(const pugi::xml_node& page_node) {
  std::vector<pugi::xml_node> regions;
  std::map<std::string, pugi::xml_node> by_id;
  for (const auto& child : page_node.children()) {
    const std::string name = child.name();
    if (name.size() > 6 && name.compare(name.size() - 6, 6, "Region") == 0) {
      regions.push_back(child);
      by_id[child.attribute("id").value()] = child;
    }
  }
  std::vector<std::pair<int, std::string>> order;
  for (const auto& found : page_node.child("ReadingOrder").select_nodes(".//*[@regionRef]")) {
    order.emplace_back(found.node().attribute("index").as_int(static_cast<int>(order.size())),
                       found.node().attribute("regionRef").value());
  }
  std::stable_sort(order.begin(), order.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<pugi::xml_node> sorted;
  for (const auto& [index, id] : order) {
    const auto found = by_id.find(id);
    if (found == by_id.end()) continue;
    sorted.push_back(found->second);
    by_id.erase(found);
  }
  for (const auto& region : regions) {
    if (by_id.count(region.attribute("id").value())) sorted.push_back(region);
  }
  return sorted;
}

}  // namespace

std::string write_page_xml(const Page& page, const std::string& image_name) {
  pugi::xml_document document;
  auto declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  auto root = document.append_child("PcGts");
  root.append_attribute("xmlns") = kNamespace;
  auto metadata = root.append_child("Metadata");
  metadata.append_child("Creator").text() = "Burnisher";
  // Same input, same bytes: the time of writing is the file's own business.
  metadata.append_child("Created").text() = "1970-01-01T00:00:00Z";
  metadata.append_child("LastChange").text() = "1970-01-01T00:00:00Z";
  if (!page.reading.empty()) {
    auto item = metadata.append_child("MetadataItem");
    item.append_attribute("type") = "processingStep";
    item.append_attribute("name") = kReadingItem;
    item.append_attribute("value") = page.reading.c_str();
  }
  auto node = root.append_child("Page");
  node.append_attribute("imageFilename") = sound_utf8(image_name).c_str();
  node.append_attribute("imageWidth") = page.width;
  node.append_attribute("imageHeight") = page.height;
  node.append_attribute("custom") = joined(scan_entries(page, image_name)).c_str();
  if (!page.blocks.empty()) {
    auto group = node.append_child("ReadingOrder").append_child("OrderedGroup");
    group.append_attribute("id") = "order";
    for (size_t i = 0; i < page.blocks.size(); ++i) {
      auto reference = group.append_child("RegionRefIndexed");
      reference.append_attribute("index") = static_cast<int>(i);
      reference.append_attribute("regionRef") = fmt::format("b{}", i + 1).c_str();
    }
  }
  int block_number = 0;
  for (const Block& block : page.blocks) {
    const PageRegion region = page_region_of(block.kind);
    auto child = node.append_child(region.element);
    const std::string id = fmt::format("b{}", ++block_number);
    child.append_attribute("id") = id.c_str();
    if (*region.type) child.append_attribute("type") = region.type;
    if (block.level > 0)
      child.append_attribute("custom") =
          custom_entry("heading", {{"level", std::to_string(block.level)}}).c_str();
    if (block.kind == BlockKind::kTable) {
      add_table(child, block, id);
      continue;
    }
    add_coords(child, block.outline);
    auto holder = child;
    // The schema has lines in text regions alone; those of others lie in one within.
    if (!block.lines.empty() && std::string(region.element) != "TextRegion") {
      holder = child.append_child("TextRegion");
      holder.append_attribute("id") = (id + "t").c_str();
      add_coords(holder, block.outline);
    }
    int line_number = 0;
    for (const Line& line : block.lines)
      add_line(holder, line, fmt::format("{}l{}", id, ++line_number));
  }
  int code_number = 0;
  for (const Barcode& code : page.barcodes) {
    auto child = node.append_child("GraphicRegion");
    child.append_attribute("id") = fmt::format("c{}", ++code_number).c_str();
    child.append_attribute("type") = kBarcodeType;
    child.append_attribute("custom") =
        custom_entry("barcode", {{"kind", code.kind}, {"text", code.text}}).c_str();
    add_coords(child, code.outline);
  }
  std::ostringstream text;
  document.save(text, "  ");
  return text.str();
}

PageXml read_page_xml_file(const std::string& path) {
  const auto bytes = read_file(path);
  return read_page_xml(std::string(bytes.begin(), bytes.end()), path);
}

namespace {

Block read_block(const pugi::xml_node& region) {
  Block block;
  block.kind = kind_of_region(region.name(), region.attribute("type").value());
  block.outline = points_of(region.child("Coords").attribute("points").value());
  block.level = static_cast<int>(
      Custom(region.attribute("custom").value()).number("heading", "level").value_or(0));
  if (block.kind == BlockKind::kTable) {
    read_cells(region, block);
    return block;
  }
  for (const auto& found : region.select_nodes("./TextLine | .//TextRegion/TextLine"))
    block.lines.push_back(read_line(found.node()));
  return block;
}

// A region that this program wrote for a barcode.
std::optional<Barcode> read_barcode(const pugi::xml_node& region) {
  if (std::string(region.attribute("type").value()) != kBarcodeType) return std::nullopt;
  const Custom custom(region.attribute("custom").value());
  if (!custom.has("barcode")) return std::nullopt;
  return Barcode{custom.text("barcode", "kind"), custom.text("barcode", "text"),
                 points_of(region.child("Coords").attribute("points").value())};
}

PageXml read_parsed(const pugi::xml_node& node) {
  PageXml read;
  Page& page = read.page;
  page.width = node.attribute("imageWidth").as_int();
  page.height = node.attribute("imageHeight").as_int();
  if (page.width < 1 || page.height < 1)
    throw FormatError("imageWidth and imageHeight are missing");
  if (page.width > kLongestSide || page.height > kLongestSide)
    throw FormatError(fmt::format("no page has {} x {} pixels", page.width, page.height));
  const Custom custom(node.attribute("custom").value());
  read.image_name = node.attribute("imageFilename").value();
  if (const std::string* name = custom.find("picture", "name")) read.image_name = *name;
  read_geometry(custom, page);
  page.file = custom.text("scan", "file");
  page.relative_file = custom.text("scan", "relative");
  page.cleaning = custom.all("cleaning");
  if (page.file.empty()) page.file = read.image_name;
  for (const auto& region : ordered_regions(node)) {
    if (const auto code = read_barcode(region))
      page.barcodes.push_back(*code);
    else
      page.blocks.push_back(read_block(region));
  }
  return read;
}

// The same text without its Glyph elements, which are most of it and cost most of the parsing.
std::string without_glyphs(const std::string& bytes) {
  constexpr std::string_view kOpening = "<Glyph ", kClosing = "</Glyph>";
  std::string kept;
  kept.reserve(bytes.size() / 2);
  size_t at = 0;
  for (size_t first = bytes.find(kOpening); first != std::string::npos;
       first = bytes.find(kOpening, at)) {
    const size_t end = bytes.find(kClosing, first);
    if (end == std::string::npos) break;
    kept.append(bytes, at, first - at);
    at = end + kClosing.size();
  }
  return kept.append(bytes, at, std::string::npos);
}

}  // namespace

PageXml read_page_xml(const std::string& bytes, const std::string& path, bool glyphs) {
  if (!glyphs) return read_page_xml(without_glyphs(bytes), path);
  pugi::xml_document document;
  // No DTD, no entities beyond the five of XML itself: nothing can be fetched or blown up.
  const auto parsed = document.load_buffer(bytes.data(), bytes.size());
  if (!parsed) throw FormatError(path + ": no usable XML: " + parsed.description());
  const auto node = document.child("PcGts").child("Page");
  if (!node) throw FormatError(path + ": is XML, but no PAGE XML (PcGts/Page is missing)");
  try {
    PageXml read = read_parsed(node);
    for (const auto item : document.child("PcGts").child("Metadata").children("MetadataItem"))
      if (item.attribute("name").value() == std::string(kReadingItem))
        read.page.reading = item.attribute("value").value();
    return read;
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
}

}  // namespace burnisher
