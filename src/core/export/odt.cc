#include "export/odt.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>
#include <vector>

#include "base/files.h"
#include "base/unicode.h"
#include "export/package.h"
#include "export/xml_nodes.h"
#include "page/table.h"

namespace burnisher::exporting {
namespace {

const char* const kKind = "application/vnd.oasis.opendocument.text";
constexpr double kTextWidth = 6.3;  // inches between the margins of an A4 page

// Begins a part of the package; returns its root.
pugi::xml_node begin_part(pugi::xml_document& document, const char* root) {
  begin_xml(document);
  const std::string of = "urn:oasis:names:tc:opendocument:xmlns:";
  return add_node(document, root,
                  {{"xmlns:office", of + "office:1.0"},
                   {"xmlns:style", of + "style:1.0"},
                   {"xmlns:text", of + "text:1.0"},
                   {"xmlns:table", of + "table:1.0"},
                   {"xmlns:draw", of + "drawing:1.0"},
                   {"xmlns:fo", of + "xsl-fo-compatible:1.0"},
                   {"xmlns:svg", of + "svg-compatible:1.0"},
                   {"xmlns:xlink", "http://www.w3.org/1999/xlink"},
                   {"xmlns:dc", "http://purl.org/dc/elements/1.1/"},
                   {"xmlns:meta", of + "meta:1.0"},
                   {"office:version", "1.3"}});
}

void add_style(pugi::xml_node styles, const std::string& name, const std::string& parent,
               Attributes paragraph, Attributes text) {
  auto style =
      add_node(styles, "style:style", {{"style:name", name}, {"style:family", "paragraph"}});
  if (!parent.empty()) style.append_attribute("style:parent-style-name") = parent.c_str();
  add_node(style, "style:paragraph-properties", paragraph);
  add_node(style, "style:text-properties", text);
}

void add_heading_style(pugi::xml_node styles, int level) {
  constexpr const char* kSizes[] = {"18pt", "15pt", "13pt", "12pt", "11pt", "11pt"};
  add_style(styles, fmt::format("Heading_20_{}", level), "Standard",
            {{"fo:margin-top", "0.17in"},
             {"fo:margin-bottom", "0.08in"},
             {"fo:keep-with-next", "always"}},
            {{"fo:font-size", kSizes[level - 1]}, {"fo:font-weight", "bold"}});
  auto style = styles.last_child();
  style.append_attribute("style:display-name") = fmt::format("Heading {}", level).c_str();
  style.append_attribute("style:next-style-name") = "Text_20_body";
  style.append_attribute("style:default-outline-level") = level;
}

std::string styles() {
  pugi::xml_document document;
  auto root = begin_part(document, "office:document-styles");
  add_node(add_node(root, "office:font-face-decls"), "style:font-face",
           {{"style:name", "Liberation Serif"},
            {"svg:font-family", "'Liberation Serif'"},
            {"style:font-family-generic", "roman"}});
  auto all = add_node(root, "office:styles");
  add_node(add_node(all, "style:default-style", {{"style:family", "paragraph"}}),
           "style:text-properties",
           {{"style:font-name", "Liberation Serif"}, {"fo:font-size", "11pt"}});
  add_style(all, "Standard", "", {}, {});
  add_style(all, "Text_20_body", "Standard",
            {{"fo:margin-bottom", "0.08in"}, {"fo:line-height", "115%"}}, {});
  add_style(all, "Figure", "Standard", {{"fo:keep-with-next", "always"}}, {});
  add_style(all, "Caption", "Standard", {{"fo:margin-bottom", "0.12in"}},
            {{"fo:font-style", "italic"}});
  add_style(all, "Note", "Standard", {{"fo:margin-bottom", "0.05in"}}, {{"fo:font-size", "9pt"}});
  add_style(all, "Head", "Standard", {{"fo:margin-bottom", "0.08in"}},
            {{"fo:font-size", "9pt"}, {"fo:color", "#666666"}});
  add_style(all, "Table_20_Contents", "Standard", {}, {});
  add_style(all, "Table_20_Heading", "Table_20_Contents", {}, {{"fo:font-weight", "bold"}});
  for (int level = 1; level <= 6; ++level) add_heading_style(all, level);
  auto page = add_node(add_node(root, "office:automatic-styles"), "style:page-layout",
                       {{"style:name", "Page"}});
  add_node(page, "style:page-layout-properties",
           {{"fo:page-width", "210mm"},
            {"fo:page-height", "297mm"},
            {"fo:margin-top", "25mm"},
            {"fo:margin-bottom", "25mm"},
            {"fo:margin-left", "25mm"},
            {"fo:margin-right", "25mm"}});
  add_node(add_node(root, "office:master-styles"), "style:master-page",
           {{"style:name", "Standard"}, {"style:page-layout-name", "Page"}});
  return saved(document);
}

void add_row(pugi::xml_node parent, const Block& table, int row, int columns) {
  auto node = add_node(parent, "table:table-row");
  for (int column = 0; column < columns; ++column) {
    const auto at = std::find_if(table.cells.begin(), table.cells.end(), [&](const Cell& c) {
      return row >= c.row && row < c.row + c.rows && column >= c.column &&
             column < c.column + c.columns;
    });
    if (at == table.cells.end()) {
      add_node(node, "table:table-cell", {{"table:style-name", "Cell"}});
    } else if (at->row != row || at->column != column) {
      add_node(node, "table:covered-table-cell");
    } else {
      auto cell = add_node(node, "table:table-cell",
                           {{"table:style-name", "Cell"}, {"office:value-type", "string"}});
      if (at->columns > 1) cell.append_attribute("table:number-columns-spanned") = at->columns;
      if (at->rows > 1) cell.append_attribute("table:number-rows-spanned") = at->rows;
      add_node(cell, "text:p",
               {{"text:style-name", at->header ? "Table_20_Heading" : "Table_20_Contents"}},
               text_of(table, *at));
    }
  }
}

}  // namespace

struct Odt::State {
  Sink sink;
  BookSettings settings;
  pugi::xml_document text;          // the nodes of the body; what is round them comes last
  std::set<std::string> languages;  // that paragraphs name
  Illustrations pictures;
  int marked = 0, tables = 0;
  pugi::xml_node list;  // open at the end of the body; null: none
  Flow flow;

  State(const Sink& target, const BookSettings& s, const FlowSettings& f)
      : sink(target), settings(s), flow(f, [this](const FlowItem& item) { write(item); }) {}

  std::string style_for(const std::string& parent, const std::string& language) {
    if (language.empty() || language == settings.language) return parent;
    languages.insert(language);
    return parent + "_" + language;
  }

  // A paragraph with bookmarks of the printed pages that begin in it.
  pugi::xml_node paragraph(pugi::xml_node parent, const char* name, const FlowItem& item,
                           const std::string& style, const std::string& content) {
    auto node = add_node(parent, name, {{"text:style-name", style_for(style, item.language)}});
    while (marked < item.page)
      add_node(node, "text:bookmark", {{"text:name", fmt::format("page {}", ++marked)}});
    add_text(node, content);
    return node;
  }

  void table(const FlowItem& item) {
    const int rows = row_count(item.block), columns = column_count(item.block);
    if (rows == 0 || columns == 0) return;
    const auto in_head = [&](int row) {
      return std::any_of(item.block.cells.begin(), item.block.cells.end(),
                         [&](const Cell& c) { return c.header && c.row == row; });
    };
    auto node = add_node(
        text, "table:table",
        {{"table:name", fmt::format("Table {}", ++tables)}, {"table:style-name", "Table"}});
    add_node(node, "table:table-column",
             {{"table:number-columns-repeated", std::to_string(columns)}});
    int row = 0;
    if (in_head(0)) {
      auto head = add_node(node, "table:table-header-rows");
      for (; row < rows && in_head(row); ++row) add_row(head, item.block, row, columns);
    }
    for (; row < rows; ++row) add_row(node, item.block, row, columns);
    add_node(text, "text:p", {{"text:style-name", "Text_20_body"}});
  }

  void picture(const FlowItem& item) {
    if (!item.picture) return;
    pictures.push_back(item.picture);
    const double less = std::min(1.0, kTextWidth / std::max(0.1, item.picture->width));
    FlowItem bare = item;
    bare.language.clear();
    auto frame = add_node(paragraph(text, "text:p", bare, "Figure", ""), "draw:frame",
                          {{"draw:name", fmt::format("Picture {}", pictures.size())},
                           {"text:anchor-type", "as-char"},
                           {"svg:width", fmt::format("{:.3f}in", item.picture->width * less)},
                           {"svg:height", fmt::format("{:.3f}in", item.picture->height * less)}});
    add_node(frame, "draw:image",
             {{"xlink:href", picture_file(pictures.size() - 1)},
              {"xlink:type", "simple"},
              {"xlink:show", "embed"},
              {"xlink:actuate", "onLoad"}});
  }

  std::string picture_file(size_t index) const {
    return fmt::format("Pictures/{:03}{}", index + 1, pictures[index]->ending());
  }

  void write(const FlowItem& item) {
    using Kind = FlowItem::Kind;
    if (item.kind != Kind::kListItem) list = pugi::xml_node();
    switch (item.kind) {
      case Kind::kHeading:
        paragraph(text, "text:h", item, fmt::format("Heading_20_{}", item.level), item.text)
            .append_attribute("text:outline-level") = item.level;
        break;
      case Kind::kListItem:
        if (!list) list = add_node(text, "text:list", {{"text:style-name", "List"}});
        paragraph(add_node(list, "text:list-item"), "text:p", item, "Text_20_body",
                  (item.marker == "-" ? "\u2022" : item.marker) + " " + item.text);
        break;
      case Kind::kTable:
        table(item);
        break;
      case Kind::kPicture:
        picture(item);
        break;
      case Kind::kCaption:
        paragraph(text, "text:p", item, "Caption", item.text);
        break;
      case Kind::kNote:
        paragraph(text, "text:p", item, "Note", item.text);
        break;
      case Kind::kHead:
        paragraph(text, "text:p", item, "Head", item.text);
        break;
      case Kind::kParagraph:
        paragraph(text, "text:p", item, "Text_20_body", item.text);
        break;
      case Kind::kPageEnd:
        break;
    }
  }

  // Styles that only say which language a paragraph is in.
  void add_language_styles(pugi::xml_node styles) const {
    std::vector<std::string> parents = {"Text_20_body", "Caption", "Note", "Head"};
    for (int level = 1; level <= 6; ++level) parents.push_back(fmt::format("Heading_20_{}", level));
    for (const std::string& language : languages) {
      const size_t dash = language.find('-');
      const std::string country = dash == std::string::npos ? "none" : language.substr(dash + 1);
      for (const std::string& parent : parents) {
        // Text from right to left is "complex" text in this format.
        const bool from_right = language_runs_right_to_left(language);
        const std::string kind = from_right ? "style:language-complex" : "fo:language";
        const std::string place = from_right ? "style:country-complex" : "fo:country";
        add_style(styles, parent + "_" + language, parent,
                  from_right ? Attributes{{"style:writing-mode", "rl-tb"}} : Attributes{},
                  {{kind.c_str(), language.substr(0, dash)}, {place.c_str(), country}});
      }
    }
  }

  std::string content() const {
    pugi::xml_document document;
    auto root = begin_part(document, "office:document-content");
    auto styles = add_node(root, "office:automatic-styles");
    add_language_styles(styles);
    add_node(add_node(styles, "style:style", {{"style:name", "Table"}, {"style:family", "table"}}),
             "style:table-properties",
             {{"style:width", fmt::format("{:.2f}in", kTextWidth)}, {"table:align", "left"}});
    add_node(
        add_node(styles, "style:style", {{"style:name", "Cell"}, {"style:family", "table-cell"}}),
        "style:table-cell-properties",
        {{"fo:padding", "0.04in"}, {"fo:border", "0.5pt solid #999999"}});
    auto numbers =
        add_node(add_node(styles, "text:list-style", {{"style:name", "List"}}),
                 "text:list-level-style-number", {{"text:level", "1"}, {"style:num-format", ""}});
    add_node(numbers, "style:list-level-properties", {{"text:space-before", "0.2in"}});
    auto body = add_node(add_node(root, "office:body"), "office:text");
    for (const auto& node : text.children()) body.append_copy(node);
    return saved(document);
  }

  std::string meta() const {
    pugi::xml_document document;
    auto about = add_node(begin_part(document, "office:document-meta"), "office:meta");
    add_node(about, "dc:title", {}, settings.title);
    if (!settings.author.empty()) add_node(about, "meta:initial-creator", {}, settings.author);
    if (!settings.language.empty()) add_node(about, "dc:language", {}, settings.language);
    if (!settings.date.empty())
      add_node(about, "meta:user-defined", {{"meta:name", "Date"}}, settings.date);
    for (const auto& [name, value] : settings.more)
      add_node(about, "meta:user-defined", {{"meta:name", name.c_str()}}, value);
    return saved(document);
  }

  std::string manifest() const {
    pugi::xml_document document;
    begin_xml(document);
    auto root = add_node(document, "manifest:manifest",
                         {{"xmlns:manifest", "urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"},
                          {"manifest:version", "1.3"}});
    const auto entry = [&](const std::string& path, const std::string& type) {
      add_node(root, "manifest:file-entry",
               {{"manifest:full-path", path}, {"manifest:media-type", type}});
    };
    entry("/", kKind);
    for (const char* part : {"content.xml", "styles.xml", "meta.xml"}) entry(part, "text/xml");
    for (size_t i = 0; i < pictures.size(); ++i) entry(picture_file(i), pictures[i]->media_type());
    return saved(document);
  }
};

Odt::Odt(const Sink& sink, const BookSettings& settings, const FlowSettings& flow)
    : state_(std::make_unique<State>(sink, settings, flow)) {
  // Said now rather than after the last page.
  PendingFile pending(sink);
}

Odt::~Odt() = default;

void Odt::add(const Page& page, const Illustrations& pictures) {
  state_->flow.add(page, pictures);
}

void Odt::finish() {
  State& s = *state_;
  s.flow.finish();
  PendingFile file(s.sink);
  Package document(kKind);
  document.add("content.xml", s.content());
  document.add("styles.xml", styles());
  document.add("meta.xml", s.meta());
  for (size_t i = 0; i < s.pictures.size(); ++i)
    document.add_as_it_is(s.picture_file(i), s.pictures[i]->bytes);
  document.add("META-INF/manifest.xml", s.manifest());
  file.write(document.bytes());
  file.keep();
}

}  // namespace burnisher::exporting
