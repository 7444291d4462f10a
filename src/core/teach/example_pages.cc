#include "teach/example_pages.h"

#include <algorithm>
#include <filesystem>
#include <map>

#include "base/files.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"

namespace burnisher::teach {
namespace {

using train::Example;

constexpr int kBetween = 24, kBeside = 20;  // pixels of paper
constexpr uint8_t kPaper = 255 - recognise::kPaperLevel;
constexpr double kDpi = 200;  // of strips: letters of 14 pixels are about 10 points high

std::string page_of(const Example& example) {
  return example.page.substr(0, example.page.rfind(", line "));
}

std::string text_of(const Example& example, const recognise::Symbols& symbols) {
  std::vector<char32_t> text;
  for (const char32_t c : example.text) {
    const auto found = symbols.find(c);
    if (found == symbols.end()) {
      text.push_back(c);
      continue;
    }
    const auto logical = logical_order(found->second, runs_right_to_left(found->second));
    text.insert(text.end(), logical.begin(), logical.end());
  }
  return to_nfc(encode_utf8(text));
}

Line line_of(const Example& example, const std::string& text, double top) {
  Line line;
  line.x_height = example.place.x_height;
  for (const Point& p : example.place.baseline) line.baseline.push_back({p.x + kBeside, p.y + top});
  const Box run = bounds(line.baseline);
  line.box = {run.x0, run.y0 - 2 * line.x_height, run.x1, run.y1 + line.x_height};
  Word word;
  word.text = text;
  word.box = line.box;
  line.words.push_back(word);
  return line;
}

}  // namespace

size_t write_example_pages(const CaseExamples& examples, const std::string& folder,
                           bool overwrite) {
  std::map<std::string, std::vector<const Example*>> pages;
  for (const auto* list : {&examples.lines, &examples.runs})
    for (const Example& example : *list) pages[page_of(example)].push_back(&example);
  std::filesystem::create_directories(folder);
  size_t count = 0;
  for (const auto& [name, list] : pages) {
    int width = 0, height = kBetween;
    for (const Example* example : list) {
      width = std::max(width, example->picture.width());
      height += example->picture.height() + kBetween;
    }
    Gray picture(width + 2 * kBeside, height, kPaper);
    Page page;
    page.file = name + ".png";
    page.width = picture.width();
    page.height = picture.height();
    page.dpi = kDpi;
    Block block;
    block.outline =
        Box{0, 0, static_cast<double>(page.width), static_cast<double>(page.height)}.corners();
    int top = kBetween;
    for (const Example* example : list) {
      for (int y = 0; y < example->picture.height(); ++y)
        std::copy(example->picture.row(y), example->picture.row(y) + example->picture.width(),
                  picture.row(top + y) + kBeside);
      block.lines.push_back(line_of(*example, text_of(*example, examples.symbols), top));
      top += example->picture.height() + kBetween;
      ++count;
    }
    page.blocks.push_back(std::move(block));
    const std::string stem = (std::filesystem::path(folder) / name).string();
    write_file(stem + ".png", write_png(Picture(std::move(picture)), kDpi), overwrite);
    write_file(stem + ".xml", write_page_xml(page, name + ".png"), overwrite);
  }
  return count;
}

}  // namespace burnisher::teach
