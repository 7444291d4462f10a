#include "score/document.h"

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "export/text.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"

namespace burnisher::score {
namespace {

void add_page(const Page& page, const std::string& picture, Document& document) {
  document.text += exporting::text_of(page);
  document.pages.push_back({picture, page.number, page.width, page.height});
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise || block.kind == BlockKind::kDropCapital) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words)
        document.words.push_back(
            {word.text, word.confidence, block.kind, document.pages.size() - 1, word.box});
    }
  }
}

}  // namespace

Document read_document(const std::string& path) {
  const auto bytes = read_file(path);
  Document document;
  document.text.assign(bytes.begin(), bytes.end());
  if (std::filesystem::path(path).extension() != ".xml") {
    if (document.text.find('\0') != std::string::npos)
      throw FormatError(path + ": is no text; expected is text, PAGE XML or ALTO");
    return document;
  }
  const bool alto = document.text.substr(0, 2000).find("<alto") != std::string::npos;
  document.text.clear();
  if (alto) {
    for (const Page& page : read_alto_file(path)) add_page(page, page.file, document);
  } else {
    const PageXml xml = read_page_xml_file(path);
    add_page(xml.page, xml.image_name, document);
  }
  return document;
}

}  // namespace burnisher::score
