#include "export/odt.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>
#include <vector>

#include "base/files.h"
#include "base/markup.h"
#include "export/package.h"
#include "page/table.h"

namespace burnisher::exporting {
namespace {

const char* const kKind = "application/vnd.oasis.opendocument.text";
constexpr double kTextWidth = 6.3;  // inches between the margins of an A4 page

const char* const kNames =
    "xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" "
    "xmlns:style=\"urn:oasis:names:tc:opendocument:xmlns:style:1.0\" "
    "xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\" "
    "xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" "
    "xmlns:draw=\"urn:oasis:names:tc:opendocument:xmlns:drawing:1.0\" "
    "xmlns:fo=\"urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0\" "
    "xmlns:svg=\"urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0\" "
    "xmlns:xlink=\"http://www.w3.org/1999/xlink\" "
    "xmlns:dc=\"http://purl.org/dc/elements/1.1/\" "
    "xmlns:meta=\"urn:oasis:names:tc:opendocument:xmlns:meta:1.0\" office:version=\"1.3\"";

const char* const kHead = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n";

std::string paragraph_style(const std::string& name, const std::string& parent,
                            const std::string& paragraph, const std::string& text) {
  return fmt::format(
      "<style:style style:name=\"{}\" style:family=\"paragraph\"{}><style:paragraph-properties {}/>"
      "<style:text-properties {}/></style:style>\n",
      name, parent.empty() ? "" : " style:parent-style-name=\"" + parent + "\"", paragraph, text);
}

std::string styles() {
  std::string text =
      "<style:default-style style:family=\"paragraph\"><style:text-properties "
      "style:font-name=\"Liberation Serif\" fo:font-size=\"11pt\"/></style:default-style>\n";
  text += paragraph_style("Standard", "", "", "");
  text += paragraph_style("Text_20_body", "Standard",
                          "fo:margin-bottom=\"0.08in\" fo:line-height=\"115%\"", "");
  text += paragraph_style("Figure", "Standard", "fo:keep-with-next=\"always\"", "");
  text += paragraph_style("Caption", "Standard", "fo:margin-bottom=\"0.12in\"",
                          "fo:font-style=\"italic\"");
  text +=
      paragraph_style("Note", "Standard", "fo:margin-bottom=\"0.05in\"", "fo:font-size=\"9pt\"");
  text += paragraph_style("Head", "Standard", "fo:margin-bottom=\"0.08in\"",
                          "fo:font-size=\"9pt\" fo:color=\"#666666\"");
  text += paragraph_style("Table_20_Contents", "Standard", "", "");
  text += paragraph_style("Table_20_Heading", "Table_20_Contents", "", "fo:font-weight=\"bold\"");
  constexpr const char* kSizes[] = {"18pt", "15pt", "13pt", "12pt", "11pt", "11pt"};
  for (int level = 1; level <= 6; ++level) {
    text += fmt::format(
        "<style:style style:name=\"Heading_20_{0}\" style:display-name=\"Heading {0}\" "
        "style:family=\"paragraph\" style:parent-style-name=\"Standard\" "
        "style:next-style-name=\"Text_20_body\" style:default-outline-level=\"{0}\">"
        "<style:paragraph-properties fo:margin-top=\"0.17in\" fo:margin-bottom=\"0.08in\" "
        "fo:keep-with-next=\"always\"/><style:text-properties fo:font-size=\"{1}\" "
        "fo:font-weight=\"bold\"/></style:style>\n",
        level, kSizes[level - 1]);
  }
  return fmt::format(
      "{}<office:document-styles {}>\n<office:font-face-decls><style:font-face "
      "style:name=\"Liberation Serif\" svg:font-family=\"'Liberation Serif'\" "
      "style:font-family-generic=\"roman\"/></office:font-face-decls>\n<office:styles>\n{}"
      "</office:styles>\n<office:automatic-styles><style:page-layout style:name=\"Page\">"
      "<style:page-layout-properties fo:page-width=\"210mm\" fo:page-height=\"297mm\" "
      "fo:margin-top=\"25mm\" fo:margin-bottom=\"25mm\" fo:margin-left=\"25mm\" "
      "fo:margin-right=\"25mm\"/></style:page-layout></office:automatic-styles>\n"
      "<office:master-styles><style:master-page style:name=\"Standard\" "
      "style:page-layout-name=\"Page\"/></office:master-styles>\n</office:document-styles>\n",
      kHead, kNames, text);
}

std::string row_of(const Block& table, int row, int columns) {
  std::string cells;
  for (int column = 0; column < columns; ++column) {
    const auto at = std::find_if(table.cells.begin(), table.cells.end(), [&](const Cell& c) {
      return row >= c.row && row < c.row + c.rows && column >= c.column &&
             column < c.column + c.columns;
    });
    if (at == table.cells.end()) {
      cells += "<table:table-cell table:style-name=\"Cell\"/>";
    } else if (at->row != row || at->column != column) {
      cells += "<table:covered-table-cell/>";
    } else {
      std::string spans;
      if (at->columns > 1)
        spans += fmt::format(" table:number-columns-spanned=\"{}\"", at->columns);
      if (at->rows > 1) spans += fmt::format(" table:number-rows-spanned=\"{}\"", at->rows);
      cells += fmt::format(
          "<table:table-cell table:style-name=\"Cell\" office:value-type=\"string\"{}>"
          "<text:p text:style-name=\"Table_20_{}\">{}</text:p></table:table-cell>",
          spans, at->header ? "Heading" : "Contents", escaped(text_of(table, *at)));
    }
  }
  return "<table:table-row>" + cells + "</table:table-row>\n";
}

}  // namespace

struct Odt::State {
  std::string path;
  bool overwrite;
  BookSettings settings;
  std::string body;
  std::set<std::string> languages;  // that paragraphs name
  Illustrations pictures;
  int marked = 0, tables = 0;
  bool listed = false;  // an open list at the end of the body
  Flow flow;

  State(const std::string& p, bool o, const BookSettings& s, const FlowSettings& f)
      : path(p),
        overwrite(o),
        settings(s),
        flow(f, [this](const FlowItem& item) { write(item); }) {}

  // Bookmarks of the printed pages that begin here.
  std::string marks(const FlowItem& item) {
    std::string text;
    while (marked < item.page)
      text += fmt::format("<text:bookmark text:name=\"page {}\"/>", ++marked);
    return text;
  }

  std::string style_for(const std::string& parent, const std::string& language) {
    if (language.empty() || language == settings.language) return parent;
    languages.insert(language);
    return parent + "_" + language;
  }

  void paragraph(const FlowItem& item, const std::string& style) {
    body += fmt::format("<text:p text:style-name=\"{}\">{}{}</text:p>\n",
                        style_for(style, item.language), marks(item), escaped(item.text));
  }

  void close_list() {
    if (listed) body += "</text:list>\n";
    listed = false;
  }

  void table(const FlowItem& item) {
    const int rows = row_count(item.block), columns = column_count(item.block);
    if (rows == 0 || columns == 0) return;
    const auto in_head = [&](int row) {
      return std::any_of(item.block.cells.begin(), item.block.cells.end(),
                         [&](const Cell& c) { return c.header && c.row == row; });
    };
    body += fmt::format(
        "<table:table table:name=\"Table {}\" table:style-name=\"Table\"><table:table-column "
        "table:number-columns-repeated=\"{}\"/>\n",
        ++tables, columns);
    int row = 0;
    std::string head;
    for (; row < rows && in_head(row); ++row) head += row_of(item.block, row, columns);
    if (!head.empty()) body += "<table:table-header-rows>" + head + "</table:table-header-rows>\n";
    for (; row < rows; ++row) body += row_of(item.block, row, columns);
    body += "</table:table>\n<text:p text:style-name=\"Text_20_body\"/>\n";
  }

  void picture(const FlowItem& item) {
    if (!item.picture) return;
    pictures.push_back(item.picture);
    const double less = std::min(1.0, kTextWidth / std::max(0.1, item.picture->width));
    body += fmt::format(
        "<text:p text:style-name=\"Figure\">{0}<draw:frame draw:name=\"Picture {1}\" "
        "text:anchor-type=\"as-char\" svg:width=\"{2:.3f}in\" svg:height=\"{3:.3f}in\">"
        "<draw:image xlink:href=\"{4}\" xlink:type=\"simple\" xlink:show=\"embed\" "
        "xlink:actuate=\"onLoad\"/></draw:frame></text:p>\n",
        marks(item), pictures.size(), item.picture->width * less, item.picture->height * less,
        picture_file(pictures.size() - 1));
  }

  std::string picture_file(size_t index) const {
    return fmt::format("Pictures/{:03}{}", index + 1, pictures[index]->ending());
  }

  void write(const FlowItem& item) {
    using Kind = FlowItem::Kind;
    if (item.kind != Kind::kListItem) close_list();
    switch (item.kind) {
      case Kind::kHeading:
        body +=
            fmt::format("<text:h text:style-name=\"{}\" text:outline-level=\"{}\">{}{}</text:h>\n",
                        style_for(fmt::format("Heading_20_{}", item.level), item.language),
                        item.level, marks(item), escaped(item.text));
        break;
      case Kind::kListItem:
        if (!listed) body += "<text:list text:style-name=\"List\">\n";
        listed = true;
        body += fmt::format(
            "<text:list-item><text:p text:style-name=\"{}\">{}{} {}</text:p></text:list-item>\n",
            style_for("Text_20_body", item.language), marks(item),
            item.marker == "-" ? "\u2022" : escaped(item.marker), escaped(item.text));
        break;
      case Kind::kTable:
        table(item);
        break;
      case Kind::kPicture:
        picture(item);
        break;
      case Kind::kCaption:
        paragraph(item, "Caption");
        break;
      case Kind::kNote:
        paragraph(item, "Note");
        break;
      case Kind::kHead:
        paragraph(item, "Head");
        break;
      case Kind::kParagraph:
        paragraph(item, "Text_20_body");
        break;
      case Kind::kPageEnd:
        break;
    }
  }

  // Styles that only say which language a paragraph is in.
  std::string language_styles() const {
    std::vector<std::string> parents = {"Text_20_body", "Caption", "Note", "Head"};
    for (int level = 1; level <= 6; ++level) parents.push_back(fmt::format("Heading_20_{}", level));
    std::string text;
    for (const std::string& language : languages) {
      const size_t dash = language.find('-');
      const std::string country = dash == std::string::npos ? "none" : language.substr(dash + 1);
      for (const std::string& parent : parents) {
        text += paragraph_style(
            parent + "_" + language, parent, "",
            fmt::format("fo:language=\"{}\" fo:country=\"{}\"", language.substr(0, dash), country));
      }
    }
    return text;
  }

  std::string content() const {
    return fmt::format(
        "{}<office:document-content {}>\n<office:automatic-styles>\n{}"
        "<style:style style:name=\"Table\" style:family=\"table\"><style:table-properties "
        "style:width=\"{:.2f}in\" table:align=\"left\"/></style:style>\n"
        "<style:style style:name=\"Cell\" style:family=\"table-cell\">"
        "<style:table-cell-properties fo:padding=\"0.04in\" fo:border=\"0.5pt solid #999999\"/>"
        "</style:style>\n"
        "<text:list-style style:name=\"List\"><text:list-level-style-number text:level=\"1\" "
        "style:num-format=\"\"><style:list-level-properties text:space-before=\"0.2in\"/>"
        "</text:list-level-style-number></text:list-style>\n"
        "</office:automatic-styles>\n<office:body><office:text>\n{}</office:text></office:body>\n"
        "</office:document-content>\n",
        kHead, kNames, language_styles(), kTextWidth, body);
  }

  std::string meta() const {
    std::string about = "<dc:title>" + escaped(settings.title) + "</dc:title>\n";
    if (!settings.author.empty())
      about += "<meta:initial-creator>" + escaped(settings.author) + "</meta:initial-creator>\n";
    if (!settings.language.empty())
      about += "<dc:language>" + escaped(settings.language) + "</dc:language>\n";
    if (!settings.date.empty())
      about += "<meta:user-defined meta:name=\"Date\">" + escaped(settings.date) +
               "</meta:user-defined>\n";
    return fmt::format(
        "{}<office:document-meta {}>\n<office:meta>\n{}</office:meta>\n"
        "</office:document-meta>\n",
        kHead, kNames, about);
  }

  std::string manifest() const {
    std::string entries;
    const auto entry = [&](const std::string& path_in, const std::string& type) {
      entries += fmt::format(
          "<manifest:file-entry manifest:full-path=\"{}\" manifest:media-type=\"{}\"/>\n", path_in,
          type);
    };
    entry("/", kKind);
    for (const char* part : {"content.xml", "styles.xml", "meta.xml"}) entry(part, "text/xml");
    for (size_t i = 0; i < pictures.size(); ++i) entry(picture_file(i), pictures[i]->media_type());
    return fmt::format(
        "{}<manifest:manifest "
        "xmlns:manifest=\"urn:oasis:names:tc:opendocument:xmlns:manifest:1.0\" "
        "manifest:version=\"1.3\">\n{}</manifest:manifest>\n",
        kHead, entries);
  }
};

Odt::Odt(const std::string& path, bool overwrite, const BookSettings& settings,
         const FlowSettings& flow)
    : state_(std::make_unique<State>(path, overwrite, settings, flow)) {
  // Said now rather than after the last page.
  PendingFile(path, overwrite);
}

Odt::~Odt() = default;

void Odt::add(const Page& page, const Illustrations& pictures) {
  state_->flow.add(page, pictures);
}

void Odt::finish() {
  State& s = *state_;
  s.flow.finish();
  s.close_list();
  PendingFile file(s.path, s.overwrite);
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
