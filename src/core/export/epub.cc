#include "export/epub.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <memory>
#include <vector>

#include "base/error.h"
#include "base/files.h"
#include "base/hash.h"
#include "base/unicode.h"
#include "export/package.h"
#include "export/xml_nodes.h"
#include "page/table.h"

namespace burnisher::exporting {
namespace {

const char* const kStyle =
    "body { line-height: 1.45; }\np { margin: 0 0 0.6em 0; }\n"
    "table { border-collapse: collapse; margin: 0 0 1em 0; }\n"
    "td, th { border: 1px solid #999; padding: 0.15em 0.5em; vertical-align: top; }\n"
    "aside { font-size: 0.9em; }\n.head { font-size: 0.8em; color: #666; }\n";

void add_table(pugi::xml_node body, const Block& table) {
  if (table.cells.empty()) return;
  auto node = add_node(body, "table");
  pugi::xml_node row_node;
  int row = -1;
  for (const Cell& cell : table.cells) {
    if (cell.row != row) row_node = add_node(node, "tr");
    row = cell.row;
    auto place = add_node(row_node, cell.header ? "th" : "td", {}, text_of(table, cell));
    if (cell.columns > 1) place.append_attribute("colspan") = cell.columns;
    if (cell.rows > 1) place.append_attribute("rowspan") = cell.rows;
  }
}

// Begins an XHTML document; returns its body.
pugi::xml_node begin_page(pugi::xml_document& document, const std::string& title,
                          const std::string& language) {
  begin_xml(document);
  document.append_child(pugi::node_doctype).set_value("html");
  auto html = document.append_child("html");
  html.append_attribute("xmlns") = "http://www.w3.org/1999/xhtml";
  html.append_attribute("xmlns:epub") = "http://www.idpf.org/2007/ops";
  html.append_attribute("lang") = language.c_str();
  html.append_attribute("xml:lang") = language.c_str();
  if (language_runs_right_to_left(language)) html.append_attribute("dir") = "rtl";
  auto head = add_node(html, "head");
  add_node(head, "title", {}, title);
  add_node(head, "link", {{"rel", "stylesheet"}, {"type", "text/css"}, {"href", "style.css"}});
  return add_node(html, "body");
}

// A name that follows from what is in the book.
std::string identifier(const std::string& content) {
  const uint64_t first = hash_of(content), halves[2] = {first, hash_of(content, ~first)};
  const uint64_t a = (halves[0] & ~uint64_t{0xF000}) | 0x8000;  // RFC 9562, version 8
  const uint64_t b = (halves[1] & ~(uint64_t{3} << 62)) | uint64_t{2} << 62;
  return fmt::format("urn:uuid:{:08x}-{:04x}-{:04x}-{:04x}-{:012x}", a >> 32, a >> 16 & 0xFFFF,
                     a & 0xFFFF, b >> 48, b & 0xFFFFFFFFFFFF);
}

}  // namespace

struct Epub::State {
  Sink sink;
  BookSettings settings;
  struct Chapter {
    std::string title;
    std::unique_ptr<pugi::xml_document> text;  // its nodes; the page round them comes last
    pugi::xml_node list;                       // open at the end of the text; null: none

    explicit Chapter(const std::string& name)
        : title(name), text(std::make_unique<pugi::xml_document>()) {}
    pugi::xml_node body() { return *text; }
    bool empty() const { return !text->first_child(); }
  };
  struct Mark {
    std::string text, target;
    int level = 1;
  };
  std::vector<Chapter> chapters;
  std::vector<Mark> contents, pages;
  std::map<std::string, size_t> languages;
  Illustrations pictures;
  bool figure = false;  // the last picture waits for its caption
  int page = 0, headings = 0;
  Flow flow;

  State(const Sink& target, const BookSettings& s, const FlowSettings& f)
      : sink(target), settings(s), flow(f, [this](const FlowItem& item) { write(item); }) {}

  static std::string file_of(size_t chapter) {
    return fmt::format("chapter-{:03}.xhtml", chapter + 1);
  }

  Chapter& chapter() {
    if (chapters.empty()) chapters.emplace_back(settings.title);
    return chapters.back();
  }

  // Where a printed page begins: before what begins on it.
  void mark_pages(int upto) {
    while (page < upto) {
      const std::string number = std::to_string(++page), id = "page-" + number;
      add_node(chapter().body(), "div",
               {{"epub:type", "pagebreak"},
                {"role", "doc-pagebreak"},
                {"id", id},
                {"aria-label", number}});
      pages.push_back({number, file_of(chapters.size() - 1) + "#" + id});
    }
  }

  std::string picture_file(size_t index) const {
    return fmt::format("picture-{:03}{}", index + 1, pictures[index]->ending());
  }

  void close_figure(const std::string& caption) {
    if (!figure) return;
    figure = false;
    auto node = add_node(chapter().body(), "figure");
    add_node(node, "img",
             {{"src", picture_file(pictures.size() - 1)},
              {"alt", caption.empty() ? "Picture" : caption},
              {"style", fmt::format("width: {:.2f}in; max-width: 100%", pictures.back()->width)}});
    if (!caption.empty()) add_node(node, "figcaption", {}, caption);
  }

  void write(const FlowItem& item) {
    using Kind = FlowItem::Kind;
    if (figure && item.kind == Kind::kCaption) {
      close_figure(item.text);
      return;
    }
    close_figure("");
    if (item.kind == Kind::kHeading && item.level == 1 &&
        (chapters.empty() || !chapters.back().empty()))
      chapters.emplace_back(item.text);
    if (item.kind == Kind::kPageEnd && page >= item.page) return;
    // A list goes on over what is no part of the text, such as the end of a page it began on.
    if (item.kind != Kind::kListItem || page < item.page) chapter().list = pugi::xml_node();
    mark_pages(item.page);
    if (!item.language.empty()) languages[item.language] += item.text.size();
    write_text(item);
  }

  void write_text(const FlowItem& item) {
    Chapter& now = chapter();
    auto body = now.body();
    switch (item.kind) {
      case FlowItem::Kind::kHeading: {
        const std::string id = fmt::format("heading-{}", ++headings);
        add_node(body, fmt::format("h{}", item.level).c_str(), {{"id", id}}, item.text);
        contents.push_back({item.text, file_of(chapters.size() - 1) + "#" + id, item.level});
        break;
      }
      case FlowItem::Kind::kListItem:
        if (!now.list) now.list = add_node(body, "ul", {{"style", "list-style: none"}});
        add_node(now.list, "li", {},
                 (item.marker == "-" ? "\u2022" : item.marker) + " " + item.text);
        break;
      case FlowItem::Kind::kTable:
        add_table(body, item.block);
        break;
      case FlowItem::Kind::kNote:
        add_node(add_node(body, "aside", {{"epub:type", "footnote"}}), "p", {}, item.text);
        break;
      case FlowItem::Kind::kHead:
        add_node(body, "p", {{"class", "head"}}, item.text);
        break;
      case FlowItem::Kind::kCaption:
        add_node(add_node(body, "p"), "em", {}, item.text);
        break;
      case FlowItem::Kind::kParagraph:
        add_node(body, "p", {}, item.text);
        break;
      case FlowItem::Kind::kPicture:
        if (!item.picture) break;
        pictures.push_back(item.picture);
        figure = true;
        break;
      case FlowItem::Kind::kPageEnd:
        break;
    }
  }

  std::string language() const {
    if (!settings.language.empty()) return settings.language;
    std::string most = "und";
    size_t count = 0;
    for (const auto& [tag, letters] : languages) {
      if (letters > count) most = tag;
      count = std::max(count, letters);
    }
    return most;
  }

  void add_contents(pugi::xml_node body) const {
    auto nav = add_node(body, "nav", {{"epub:type", "toc"}});
    add_node(nav, "h1", {}, "Contents");
    // Lists within lists, however many levels a heading skips.
    struct Open {
      int level;
      pugi::xml_node list, item;
    };
    std::vector<Open> open = {{0, add_node(nav, "ol"), {}}};
    const auto add = [&](const Mark& mark) {
      while (open.size() > 1 && open.back().level > mark.level) open.pop_back();
      if (open.size() == 1 && !open.back().item) open.back().level = mark.level;
      if (mark.level > open.back().level && open.back().item)
        open.push_back({mark.level, add_node(open.back().item, "ol"), {}});
      open.back().level = mark.level;
      open.back().item = add_node(open.back().list, "li");
      add_node(open.back().item, "a", {{"href", mark.target}}, mark.text);
    };
    for (const Mark& mark : contents) add(mark);
    if (contents.empty()) add({settings.title, file_of(0), 1});
  }

  std::string nav() const {
    pugi::xml_document document;
    auto body = begin_page(document, settings.title, language());
    add_contents(body);
    if (!pages.empty()) {
      auto list =
          add_node(add_node(body, "nav", {{"epub:type", "page-list"}, {"hidden", "hidden"}}), "ol");
      for (const Mark& mark : pages)
        add_node(add_node(list, "li"), "a", {{"href", mark.target}}, mark.text);
    }
    return saved(document);
  }

  std::string page_of(const Chapter& chapter) const {
    pugi::xml_document document;
    auto body = begin_page(document, chapter.title, language());
    for (const auto& node : chapter.text->children()) body.append_copy(node);
    return saved(document);
  }

  std::string package() const {
    std::string all;
    for (const Chapter& chapter : chapters) all += saved(*chapter.text);
    pugi::xml_document document;
    begin_xml(document);
    auto root = add_node(document, "package",
                         {{"xmlns", "http://www.idpf.org/2007/opf"},
                          {"version", "3.0"},
                          {"unique-identifier", "book"}});
    auto metadata = add_node(root, "metadata", {{"xmlns:dc", "http://purl.org/dc/elements/1.1/"}});
    add_node(metadata, "dc:identifier", {{"id", "book"}}, identifier(settings.title + all));
    add_node(metadata, "dc:title", {}, settings.title);
    add_node(metadata, "dc:language", {}, language());
    if (!settings.author.empty()) add_node(metadata, "dc:creator", {}, settings.author);
    if (!settings.date.empty()) add_node(metadata, "dc:date", {}, settings.date);
    for (const auto& [name, value] : settings.more)
      add_node(metadata, ("dc:" + name).c_str(), {}, value);
    // The standard wants a time of change; one that does not change keeps the bytes the same.
    add_node(metadata, "meta", {{"property", "dcterms:modified"}}, "2000-01-01T00:00:00Z");
    auto manifest = add_node(root, "manifest"), spine = add_node(root, "spine");
    if (language_runs_right_to_left(language()))
      spine.append_attribute("page-progression-direction") = "rtl";
    const auto item = [&](const std::string& id, const std::string& file, const char* type) {
      return add_node(manifest, "item", {{"id", id}, {"href", file}, {"media-type", type}});
    };
    item("nav", "nav.xhtml", "application/xhtml+xml").append_attribute("properties") = "nav";
    item("style", "style.css", "text/css");
    for (size_t i = 0; i < chapters.size(); ++i) {
      const std::string id = fmt::format("c{}", i + 1);
      item(id, file_of(i), "application/xhtml+xml");
      add_node(spine, "itemref", {{"idref", id}});
    }
    for (size_t i = 0; i < pictures.size(); ++i)
      item(fmt::format("p{}", i + 1), picture_file(i), pictures[i]->media_type());
    return saved(document);
  }

  void save() {
    PendingFile file(sink);
    Package book("application/epub+zip");
    book.add("META-INF/container.xml",
             "<?xml version=\"1.0\"?>\n<container version=\"1.0\" "
             "xmlns=\"urn:oasis:names:tc:opendocument:xmlns:container\">\n<rootfiles><rootfile "
             "full-path=\"book/package.opf\" "
             "media-type=\"application/oebps-package+xml\"/></rootfiles>\n"
             "</container>\n");
    book.add("book/package.opf", package());
    book.add("book/nav.xhtml", nav());
    book.add("book/style.css", kStyle);
    for (size_t i = 0; i < chapters.size(); ++i)
      book.add("book/" + file_of(i), page_of(chapters[i]));
    for (size_t i = 0; i < pictures.size(); ++i)
      book.add_as_it_is("book/" + picture_file(i), pictures[i]->bytes);
    file.write(book.bytes());
    file.keep();
  }
};

Epub::Epub(const Sink& sink, const BookSettings& settings, const FlowSettings& flow)
    : state_(std::make_unique<State>(sink, settings, flow)) {
  // Said now rather than after the last page.
  PendingFile pending(sink);
}

Epub::~Epub() = default;

void Epub::add(const Page& page, const Illustrations& pictures) {
  state_->flow.add(page, pictures);
}

void Epub::finish() {
  State& s = *state_;
  s.flow.finish();
  s.close_figure("");
  if (s.chapters.empty()) add_node(s.chapter().body(), "p");
  s.save();
}

}  // namespace burnisher::exporting
