#include <cstdio>
#include <functional>
#include <pugixml.hpp>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "page/alto.h"

namespace burnisher {
namespace {

constexpr double kXHeightOfLine = 0.45, kFootOfLine = 0.25;  // of its height, when not told

Box box_of(const pugi::xml_node& node) {
  const double x = node.attribute("HPOS").as_double(), y = node.attribute("VPOS").as_double();
  return {x, y, x + node.attribute("WIDTH").as_double(), y + node.attribute("HEIGHT").as_double()};
}

// "x,y x,y ..." or, as in older files, one height.
Polyline baseline_of(const pugi::xml_node& node, const Box& box) {
  Polyline points;
  std::istringstream stream(node.attribute("BASELINE").value());
  for (std::string pair; stream >> pair;) {
    Point p;
    const int read = std::sscanf(pair.c_str(), "%lf,%lf", &p.x, &p.y);
    if (read == 2) points.push_back(p);
    if (read == 1) points = {{box.x0, p.x}, {box.x1, p.x}};
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
      line.words.back().text += compose(child.attribute("CONTENT").as_string("-"));
    } else if (name == "String") {
      line.words.push_back({compose(child.attribute("CONTENT").value()),
                            box_of(child),
                            child.attribute("WC").as_double(1),
                            {}});
      Word& word = line.words.back();
      word.before = compose(child.child("ALTERNATIVE").text().get());
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

void add_blocks(const pugi::xml_node& space, Page& page) {
  for (const auto& node : space.children()) {
    const std::string name = node.name();
    if (name == "ComposedBlock") add_blocks(node, page);
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
  for (const auto& node : root.child("Layout").children("Page")) {
    Page page;
    page.width = node.attribute("WIDTH").as_int();
    page.height = node.attribute("HEIGHT").as_int();
    page.file =
        root.child("Description").child("sourceImageInformation").child("fileName").text().get();
    page.number = node.attribute("PHYSICAL_IMG_NR").as_int(static_cast<int>(pages.size()) + 1);
    for (const auto& space : node.children()) add_blocks(space, page);
    pages.push_back(page);
  }
  return pages;
}

}  // namespace burnisher
