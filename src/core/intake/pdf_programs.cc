#include "intake/pdf_programs.h"

#include <fmt/core.h>

#include <algorithm>
#include <pugixml.hpp>

#include "base/error.h"
#include "base/process.h"
#include "base/unicode.h"
#include "raster/convert.h"
#include "raster/pnm.h"

namespace burnisher {
namespace {

constexpr int kColourTolerance = 12;          // levels; channels nearer than this are gray
constexpr size_t kMostText = 64 << 20;        // bytes a page's words may take
constexpr size_t kPictureOverhead = 1 << 16;  // bytes beside three for each pixel

std::vector<uint8_t> output_of(const std::vector<std::string>& arguments, size_t most_output,
                               const char* what) {
  ProcessResult result;
  try {
    result = run_process(arguments, most_output);
  } catch (const InputError& cause) {
    throw InputError(std::string(cause.what()) + " (PDF pages need the package poppler-utils)");
  }
  if (result.exit_code != 0 || result.output.empty()) {
    const std::string first = result.messages.substr(0, result.messages.find('\n'));
    throw FormatError(
        fmt::format("the page cannot be {}{}", what, first.empty() ? "" : " (" + first + ")"));
  }
  return result.output;
}

bool is_gray(const Colour& picture) {
  for (int y = 0; y < picture.height(); ++y) {
    const uint8_t* row = picture.row(y);
    for (int x = 0; x < picture.width(); ++x) {
      const uint8_t* p = row + 3 * x;
      if (std::abs(p[0] - p[1]) > kColourTolerance || std::abs(p[1] - p[2]) > kColourTolerance)
        return false;
    }
  }
  return true;
}

// Renderers give colour whatever is on the page.
Picture simplest(Colour colour) {
  if (!is_gray(colour)) return colour;
  Gray gray(colour.width(), colour.height());
  bool bitonal = true;
  for (int y = 0; y < gray.height(); ++y) {
    const uint8_t* from = colour.row(y);
    uint8_t* to = gray.row(y);
    for (int x = 0; x < gray.width(); ++x) {
      to[x] = from[3 * x + 1];
      bitonal = bitonal && (to[x] == 0 || to[x] == 255);
    }
  }
  if (bitonal) return to_bitonal(gray, 128);
  return gray;
}

}  // namespace

Picture draw_pdf_page(const std::string& path, int page, double dpi, double most_pixels) {
  const std::string number = std::to_string(page);
  const std::vector<uint8_t> bytes =
      output_of({"pdftoppm", "-q", "-cropbox", "-f", number, "-l", number, "-r",
                 fmt::format("{:.4f}", dpi), path},
                static_cast<size_t>(3 * most_pixels) + kPictureOverhead, "drawn");
  Picture picture = read_pnm(bytes, most_pixels);
  if (auto* colour = std::get_if<Colour>(&picture)) return simplest(std::move(*colour));
  return picture;
}

std::vector<PdfWords> pdf_words(const std::string& path, int first, int last) {
  const std::vector<uint8_t> bytes =
      output_of({"pdftotext", "-q", "-cropbox", "-bbox", "-f", std::to_string(first), "-l",
                 std::to_string(last), path, "-"},
                kMostText * static_cast<size_t>(last - first + 1), "searched for text");
  pugi::xml_document document;
  if (!document.load_buffer(bytes.data(), bytes.size()))
    throw FormatError("the page cannot be searched for text");
  std::vector<PdfWords> pages;
  for (const auto& one : document.select_nodes("//page")) {
    const auto sheet = one.node();
    PdfWords found;
    found.width = sheet.attribute("width").as_double();
    found.height = sheet.attribute("height").as_double();
    for (const auto& node : sheet.children("word")) {
      PdfWord word;
      word.text = to_nfc(node.text().get());
      word.box = {node.attribute("xMin").as_double(), node.attribute("yMin").as_double(),
                  node.attribute("xMax").as_double(), node.attribute("yMax").as_double()};
      if (!word.text.empty() && !word.box.empty()) found.words.push_back(std::move(word));
    }
    pages.push_back(std::move(found));
  }
  return pages;
}

PdfWords pdf_words(const std::string& path, int page) {
  std::vector<PdfWords> pages = pdf_words(path, page, page);
  return pages.empty() ? PdfWords() : std::move(pages.front());
}

}  // namespace burnisher
