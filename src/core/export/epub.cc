#include "export/epub.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <vector>

#include "base/error.h"
#include "base/files.h"
#include "base/hash.h"
#include "base/markup.h"
#include "export/package.h"
#include "page/table.h"

namespace burnisher::exporting {
namespace {

const char* const kStyle =
    "body { line-height: 1.45; }\np { margin: 0 0 0.6em 0; }\n"
    "table { border-collapse: collapse; margin: 0 0 1em 0; }\n"
    "td, th { border: 1px solid #999; padding: 0.15em 0.5em; vertical-align: top; }\n"
    "aside { font-size: 0.9em; }\n.head { font-size: 0.8em; color: #666; }\n";

std::string table_of(const Block& table) {
  std::string rows;
  int row = -1;
  for (const Cell& cell : table.cells) {
    if (cell.row != row) rows += fmt::format("{}<tr>", row < 0 ? "" : "</tr>\n");
    row = cell.row;
    const char* name = cell.header ? "th" : "td";
    rows += fmt::format("<{}{}{}>{}</{}>", name,
                        cell.columns > 1 ? fmt::format(" colspan=\"{}\"", cell.columns) : "",
                        cell.rows > 1 ? fmt::format(" rowspan=\"{}\"", cell.rows) : "",
                        escaped(text_of(table, cell)), name);
  }
  return row < 0 ? "" : "<table>\n" + rows + "</tr>\n</table>\n";
}

std::string html(const std::string& title, const std::string& language, const std::string& body) {
  return fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!DOCTYPE html>\n"
      "<html xmlns=\"http://www.w3.org/1999/xhtml\" xmlns:epub=\"http://www.idpf.org/2007/ops\" "
      "lang=\"{0}\" xml:lang=\"{0}\">\n<head>\n<title>{1}</title>\n"
      "<link rel=\"stylesheet\" type=\"text/css\" "
      "href=\"style.css\"/>\n</head>\n<body>\n{2}</body>\n"
      "</html>\n",
      language, escaped(title), body);
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
  std::string path;
  bool overwrite;
  BookSettings settings;
  struct Chapter {
    std::string title, body;
    bool listed = false;  // an open list at the end of the body
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

  State(const std::string& p, bool o, const BookSettings& s, const FlowSettings& f)
      : path(p),
        overwrite(o),
        settings(s),
        flow(f, [this](const FlowItem& item) { write(item); }) {}

  static std::string file_of(size_t chapter) {
    return fmt::format("chapter-{:03}.xhtml", chapter + 1);
  }

  Chapter& chapter() {
    if (chapters.empty()) chapters.push_back({settings.title, "", false});
    return chapters.back();
  }

  void close_list() {
    if (chapter().listed) chapter().body += "</ul>\n";
    chapter().listed = false;
  }

  // Where a printed page begins: before what begins on it.
  void mark_pages(int upto) {
    while (page < upto) {
      const std::string id = fmt::format("page-{}", ++page);
      chapter().body += fmt::format(
          "<div epub:type=\"pagebreak\" role=\"doc-pagebreak\" id=\"{}\" "
          "aria-label=\"{}\"></div>\n",
          id, page);
      pages.push_back({std::to_string(page), file_of(chapters.size() - 1) + "#" + id});
    }
  }

  std::string picture_file(size_t index) const {
    return fmt::format("picture-{:03}{}", index + 1, pictures[index]->ending());
  }

  void close_figure(const std::string& caption) {
    if (!figure) return;
    figure = false;
    const std::string text = escaped(caption);
    chapter().body += fmt::format(
        "<figure><img src=\"{}\" alt=\"{}\" style=\"width: {:.2f}in; max-width: 100%\"/>{}"
        "</figure>\n",
        picture_file(pictures.size() - 1), text.empty() ? "Picture" : text, pictures.back()->width,
        text.empty() ? "" : "<figcaption>" + text + "</figcaption>");
  }

  void write(const FlowItem& item) {
    if (figure && item.kind == FlowItem::Kind::kCaption) {
      close_figure(item.text);
      return;
    }
    close_figure("");
    if (item.kind == FlowItem::Kind::kPageEnd) {
      if (page < item.page) {
        close_list();
        mark_pages(item.page);
      }
      return;
    }
    const bool listed = item.kind == FlowItem::Kind::kListItem;
    if (!chapters.empty() && !listed) close_list();
    if (item.kind == FlowItem::Kind::kHeading && item.level == 1 &&
        (chapters.empty() || !chapters.back().body.empty()))
      chapters.push_back({item.text, "", false});
    Chapter& now = chapter();
    if (page < item.page) close_list();
    mark_pages(item.page);
    if (!item.language.empty()) languages[item.language] += item.text.size();
    const std::string text = escaped(item.text);
    switch (item.kind) {
      case FlowItem::Kind::kHeading: {
        const std::string id = fmt::format("heading-{}", ++headings);
        now.body += fmt::format("<h{0} id=\"{1}\">{2}</h{0}>\n", item.level, id, text);
        contents.push_back({item.text, file_of(chapters.size() - 1) + "#" + id, item.level});
        break;
      }
      case FlowItem::Kind::kListItem:
        if (!now.listed) now.body += "<ul style=\"list-style: none\">\n";
        now.listed = true;
        now.body += fmt::format("<li>{} {}</li>\n",
                                item.marker == "-" ? "\u2022" : escaped(item.marker), text);
        break;
      case FlowItem::Kind::kTable:
        now.body += table_of(item.block);
        break;
      case FlowItem::Kind::kNote:
        now.body += "<aside epub:type=\"footnote\"><p>" + text + "</p></aside>\n";
        break;
      case FlowItem::Kind::kHead:
        now.body += "<p class=\"head\">" + text + "</p>\n";
        break;
      case FlowItem::Kind::kCaption:
        now.body += "<p><em>" + text + "</em></p>\n";
        break;
      case FlowItem::Kind::kParagraph:
        now.body += "<p>" + text + "</p>\n";
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

  std::string nav() const {
    std::string body = "<nav epub:type=\"toc\"><h1>Contents</h1>\n<ol>\n";
    if (contents.empty())
      body += fmt::format("<li><a href=\"{}\">{}</a></li>\n", file_of(0), escaped(settings.title));
    // Lists within lists, however many levels a heading skips.
    std::vector<int> open;
    for (const Mark& mark : contents) {
      while (open.size() > 1 && open.back() > mark.level) {
        body += "</li>\n</ol>";
        open.pop_back();
      }
      if (open.empty() || mark.level > open.back()) {
        if (!open.empty()) body += "\n<ol>\n";
        open.push_back(mark.level);
      } else {
        open.back() = mark.level;
        body += "</li>\n";
      }
      body += fmt::format("<li><a href=\"{}\">{}</a>", mark.target, escaped(mark.text));
    }
    for (size_t i = 1; i < open.size(); ++i) body += "</li>\n</ol>";
    body += open.empty() ? "</ol></nav>\n" : "</li>\n</ol></nav>\n";
    if (!pages.empty()) {
      body += "<nav epub:type=\"page-list\" hidden=\"hidden\"><ol>\n";
      for (const Mark& mark : pages)
        body += fmt::format("<li><a href=\"{}\">{}</a></li>\n", mark.target, mark.text);
      body += "</ol></nav>\n";
    }
    return html(settings.title, language(), body);
  }

  std::string package() const {
    std::string all, items, spine;
    for (size_t i = 0; i < chapters.size(); ++i) {
      all += chapters[i].body;
      items +=
          fmt::format("<item id=\"c{0}\" href=\"{1}\" media-type=\"application/xhtml+xml\"/>\n",
                      i + 1, file_of(i));
      spine += fmt::format("<itemref idref=\"c{}\"/>\n", i + 1);
    }
    for (size_t i = 0; i < pictures.size(); ++i)
      items += fmt::format("<item id=\"p{}\" href=\"{}\" media-type=\"{}\"/>\n", i + 1,
                           picture_file(i), pictures[i]->media_type());
    std::string about = fmt::format(
        "<dc:identifier id=\"book\">{}</dc:identifier>\n<dc:title>{}</dc:title>\n"
        "<dc:language>{}</dc:language>\n",
        identifier(settings.title + all), escaped(settings.title), language());
    if (!settings.author.empty())
      about += "<dc:creator>" + escaped(settings.author) + "</dc:creator>\n";
    if (!settings.date.empty()) about += "<dc:date>" + settings.date + "</dc:date>\n";
    // The standard wants a time of change; one that does not change keeps the bytes the same.
    return fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
        "<package xmlns=\"http://www.idpf.org/2007/opf\" version=\"3.0\" "
        "unique-identifier=\"book\">\n"
        "<metadata xmlns:dc=\"http://purl.org/dc/elements/1.1/\">\n{}"
        "<meta property=\"dcterms:modified\">2000-01-01T00:00:00Z</meta>\n</metadata>\n<manifest>\n"
        "<item id=\"nav\" href=\"nav.xhtml\" media-type=\"application/xhtml+xml\" "
        "properties=\"nav\"/>\n"
        "<item id=\"style\" href=\"style.css\" media-type=\"text/css\"/>\n{}</manifest>\n"
        "<spine>\n{}</spine>\n</package>\n",
        about, items, spine);
  }

  void save() {
    PendingFile file(path, overwrite);
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
      book.add("book/" + file_of(i), html(chapters[i].title, language(), chapters[i].body));
    for (size_t i = 0; i < pictures.size(); ++i)
      book.add_as_it_is("book/" + picture_file(i), pictures[i]->bytes);
    file.write(book.bytes());
    file.keep();
  }
};

Epub::Epub(const std::string& path, bool overwrite, const BookSettings& settings,
           const FlowSettings& flow)
    : state_(std::make_unique<State>(path, overwrite, settings, flow)) {
  // Said now rather than after the last page.
  PendingFile(path, overwrite);
}

Epub::~Epub() = default;

void Epub::add(const Page& page, const Illustrations& pictures) {
  state_->flow.add(page, pictures);
}

void Epub::finish() {
  State& s = *state_;
  s.flow.finish();
  s.close_figure("");
  if (!s.chapters.empty()) s.close_list();
  if (s.chapters.empty()) s.chapters.push_back({s.settings.title, "<p></p>\n", false});
  s.save();
}

}  // namespace burnisher::exporting
