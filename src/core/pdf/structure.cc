#include "pdf/structure.h"

#include <fmt/core.h>

namespace burnisher::pdf {
namespace {

// Numbers of links in the parent tree lie beyond those of all pages.
constexpr int kLinksFrom = 1 << 24;

QPDFObjectHandle name(const std::string& text) {
  return QPDFObjectHandle::newName("/" + text);
}
QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

// What a figure is called when it is read out: its caption, if one follows.
std::string words_for(const Page& page, size_t block) {
  for (size_t i = block + 1; i < page.blocks.size() && i <= block + 2; ++i) {
    if (page.blocks[i].kind != BlockKind::kCaption) continue;
    std::string text;
    for (const Line& line : page.blocks[i].lines) text += (text.empty() ? "" : " ") + line.text();
    return text;
  }
  return "Picture";
}

}  // namespace

Structure::Structure(QPDF& pdf) : pdf_(pdf) {
  root_ = pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /StructTreeRoot >>"));
  document_ = element("Document", root_);
  root_.replaceKey("/K", document_);
  auto catalog = pdf.getRoot();
  catalog.replaceKey("/StructTreeRoot", root_);
  catalog.replaceKey("/MarkInfo", QPDFObjectHandle::parse("<< /Marked true >>"));
}

QPDFObjectHandle Structure::element(const std::string& tag, QPDFObjectHandle parent) {
  auto node = QPDFObjectHandle::newDictionary();
  node.replaceKey("/S", name(tag));
  node.replaceKey("/P", parent);
  node.replaceKey("/K", QPDFObjectHandle::newArray());
  node = pdf_.makeIndirectObject(node);
  if (parent.hasKey("/K") && parent.getKey("/K").isArray()) parent.getKey("/K").appendItem(node);
  return node;
}

void Structure::add(const Page& page, const std::vector<TaggedPart>& parts, QPDFObjectHandle sheet,
                    int index, const SheetFrame& frame) {
  if (parents_.size() <= static_cast<size_t>(index))
    parents_.resize(static_cast<size_t>(index) + 1);
  auto& parents = parents_[static_cast<size_t>(index)];
  const std::vector<std::string> languages = page.languages();
  const std::string main = languages.empty() ? "" : languages.front();
  QPDFObjectHandle table, row;
  size_t table_of = page.blocks.size();
  int row_number = -1;
  for (const TaggedPart& part : parts) {
    const Block& block = page.blocks[part.block];
    QPDFObjectHandle node;
    if (part.cell >= 0) {
      const Cell& cell = block.cells[static_cast<size_t>(part.cell)];
      if (table_of != part.block) {
        table = element("Table", document_);
        table_of = part.block;
        row_number = -1;
      }
      if (cell.row != row_number) row = element("TR", table);
      row_number = cell.row;
      node = element(cell.header ? "TH" : "TD", row);
      auto attributes = QPDFObjectHandle::parse("<< /O /Table >>");
      if (cell.header) attributes.replaceKey("/Scope", name("Column"));
      if (cell.rows > 1) attributes.replaceKey("/RowSpan", integer(cell.rows));
      if (cell.columns > 1) attributes.replaceKey("/ColSpan", integer(cell.columns));
      if (attributes.getKeys().size() > 1) node.replaceKey("/A", attributes);
    } else if (block.kind == BlockKind::kPicture && block.lines.empty()) {
      node = element("Figure", document_);
      node.replaceKey("/Alt", QPDFObjectHandle::newUnicodeString(words_for(page, part.block)));
      Polygon corners;
      for (const Point& p : block.outline) corners.push_back(frame.to_sheet(p));
      const Box box = bounds(corners);
      node.replaceKey("/A",
                      QPDFObjectHandle::parse(fmt::format(
                          "<< /O /Layout /Placement /Block /BBox [{:.1f} {:.1f} {:.1f} {:.1f}] >>",
                          box.x0 * frame.points, (frame.height - box.y1) * frame.points,
                          box.x1 * frame.points, (frame.height - box.y0) * frame.points)));
    } else {
      const std::string tag = tag_of(block);
      node = element(tag, document_);
      if (tag == "Note")
        node.replaceKey("/ID", QPDFObjectHandle::newString(fmt::format("n{}-{}", index, part.id)));
      const std::string language = block.language();
      if (!language.empty() && language != main)
        node.replaceKey("/Lang", QPDFObjectHandle::newUnicodeString(language));
    }
    node.replaceKey("/Pg", sheet);
    node.replaceKey("/K", integer(part.id));
    parents.resize(static_cast<size_t>(part.id) + 1, QPDFObjectHandle::newNull());
    parents[static_cast<size_t>(part.id)] = node;
  }
}

void Structure::add_link(QPDFObjectHandle annotation, QPDFObjectHandle sheet) {
  auto node = element("Link", document_);
  auto reference = QPDFObjectHandle::parse("<< /Type /OBJR >>");
  reference.replaceKey("/Obj", annotation);
  reference.replaceKey("/Pg", sheet);
  node.replaceKey("/K", reference);
  annotation.replaceKey("/StructParent",
                        integer(kLinksFrom + static_cast<long long>(links_.size())));
  links_.push_back(node);
}

void Structure::finish(int sheets) {
  parents_.resize(static_cast<size_t>(sheets));
  auto numbers = QPDFObjectHandle::newArray();
  for (size_t i = 0; i < parents_.size(); ++i) {
    numbers.appendItem(integer(static_cast<long long>(i)));
    numbers.appendItem(pdf_.makeIndirectObject(QPDFObjectHandle::newArray(parents_[i])));
  }
  for (size_t i = 0; i < links_.size(); ++i) {
    numbers.appendItem(integer(kLinksFrom + static_cast<long long>(i)));
    numbers.appendItem(links_[i]);
  }
  auto tree = QPDFObjectHandle::newDictionary();
  tree.replaceKey("/Nums", numbers);
  root_.replaceKey("/ParentTree", pdf_.makeIndirectObject(tree));
  root_.replaceKey("/ParentTreeNextKey",
                   integer(kLinksFrom + static_cast<long long>(links_.size())));
}

}  // namespace burnisher::pdf
