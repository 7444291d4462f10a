#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/unicode.h"
#include "pagefile/alto.h"

namespace burnisher {
namespace {

constexpr int kDeepest = 32;                                 // blocks within blocks
constexpr double kXHeightOfLine = 0.45, kFootOfLine = 0.25;  // of its height, when not told

// 0 where the attribute is missing. Throws FormatError for numbers that no page has.
double number_of(const pugi::xml_node& node, const char* name) {
  const auto attribute = node.attribute(name);
  if (!attribute) return 0;
  const auto value = number_in(attribute.value());
  if (!value || std::fabs(*value) > kLargestNumber)
    throw FormatError(std::string(name) + " makes no sense as " + attribute.value());
  return *value;
}

Box box_of(const pugi::xml_node& node) {
  const double x = number_of(node, "HPOS"), y = number_of(node, "VPOS");
  return {x, y, x + number_of(node, "WIDTH"), y + number_of(node, "HEIGHT")};
}

// "x,y x,y ..." or, as in older files, one height.
Polyline baseline_of(const pugi::xml_node& node, const Box& box) {
  Polyline points;
  std::istringstream stream(node.attribute("BASELINE").value());
  for (std::string pair; stream >> pair;) {
    const size_t comma = pair.find(',');
    const auto first = number_in(pair.substr(0, comma));
    if (!first || std::fabs(*first) > kLargestNumber) continue;
    if (comma == std::string::npos) {
      points = {{box.x0, *first}, {box.x1, *first}};
    } else if (const auto second = number_in(pair.substr(comma + 1));
               second && std::fabs(*second) <= kLargestNumber) {
      points.push_back({*first, *second});
    }
  }
  if (points.size() >= 2) return points;
  const double y = box.y1 - kFootOfLine * box.height();
  return {{box.x0, y}, {box.x1, y}};
}

Line line_of(const pugi::xml_node& node) {
  Line line;
  line.box = box_of(node);
  line.baseline = baseline_of(node, line.box);
  line.x_height = kXHeightOfLine * line.box.height();
  line.confidence = 1;
  for (const auto& child : node.children()) {
    const std::string name = child.name();
    if (name == "HYP" && !line.words.empty()) {
      line.words.back().text += to_nfc(child.attribute("CONTENT").as_string("-"));
    } else if (name == "String") {
      line.words.push_back({to_nfc(child.attribute("CONTENT").value()),
                            box_of(child),
                            child.attribute("WC").as_double(1),
                            {}});
      Word& word = line.words.back();
      word.network_confidence = word.confidence;
      word.before = to_nfc(child.child("ALTERNATIVE").text().get());
      if (child.attribute("CS").as_bool()) {
        word.corrected = CorrectedBy::kPerson;
        if (word.before.empty()) word.before = word.text;
      } else if (!word.before.empty()) {
        word.corrected = CorrectedBy::kRepair;
      }
    }
  }
  return line;
}

void add_blocks(const pugi::xml_node& space, int depth, Page& page) {
  if (depth > kDeepest) throw FormatError("blocks lie in blocks without end");
  for (const auto& node : space.children()) {
    const std::string name = node.name();
    if (name == "ComposedBlock") add_blocks(node, depth + 1, page);
    if (name != "TextBlock") continue;
    Block block;
    block.outline = box_of(node).corners();
    for (const auto& child : node.children("TextLine")) block.lines.push_back(line_of(child));
    page.blocks.push_back(block);
  }
}

}  // namespace

std::vector<Page> read_alto_file(const std::string& path) {
  const auto bytes = read_file(path);
  pugi::xml_document document;
  const auto parsed = document.load_buffer(bytes.data(), bytes.size());
  if (!parsed) throw FormatError(path + ": no usable XML: " + parsed.description());
  const auto root = document.child("alto");
  if (!root) throw FormatError(path + ": is XML, but no ALTO (its root is no <alto>)");
  const std::string unit = root.child("Description").child("MeasurementUnit").text().get();
  if (!unit.empty() && unit != "pixel")
    throw FormatError(path + ": counts in " + unit + "; only ALTO that counts in pixels is read");
  std::vector<Page> pages;
  for (const auto& node : root.child("Layout").children("Page")) try {
      Page page;
      page.width = static_cast<int>(number_of(node, "WIDTH"));
      page.height = static_cast<int>(number_of(node, "HEIGHT"));
      page.file =
          root.child("Description").child("sourceImageInformation").child("fileName").text().get();
      page.number = node.attribute("PHYSICAL_IMG_NR").as_int(static_cast<int>(pages.size()) + 1);
      for (const auto& space : node.children()) add_blocks(space, 0, page);
      pages.push_back(page);
    } catch (const FormatError& cause) {
      throw FormatError(path + ": " + cause.what());
    }
  return pages;
}

}  // namespace burnisher
