#include "pdf/navigation_objects.h"

#include <fmt/core.h>

#include "base/error.h"

namespace burnisher::pdf {
namespace {

QPDFObjectHandle name(const std::string& text) {
  return QPDFObjectHandle::newName(text);
}
QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

// `top`: points; below 0: all of the page.
QPDFObjectHandle destination(const Sheets& sheets, int sheet, double top) {
  auto target =
      QPDFObjectHandle::parse(top < 0 ? "[ /Fit ]" : fmt::format("[ /FitH {:.1f} ]", top));
  target.insertItem(0, sheets[static_cast<size_t>(sheet - 1)]);
  return target;
}

}  // namespace

void add_bookmarks(QPDF& pdf, const Sheets& sheets, const std::vector<Bookmark>& bookmarks) {
  struct Node {
    QPDFObjectHandle item, last;
    int level, count;
  };
  auto root = pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /Outlines >>"));
  std::vector<Node> open = {{root, QPDFObjectHandle::newNull(), 0, 0}};
  for (const Bookmark& bookmark : bookmarks) {
    if (bookmark.page > static_cast<int>(sheets.size())) {
      throw SettingsError(fmt::format("the bookmark '{}' leads to page {}, but there are {}",
                                      bookmark.title, bookmark.page, sheets.size()));
    }
    while (open.back().level >= bookmark.level) open.pop_back();
    Node& parent = open.back();
    auto item = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
    item.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(bookmark.title));
    item.replaceKey("/Parent", parent.item);
    item.replaceKey("/Dest", destination(sheets, bookmark.page, bookmark.top));
    if (parent.last.isDictionary()) {
      parent.last.replaceKey("/Next", item);
      item.replaceKey("/Prev", parent.last);
    } else {
      parent.item.replaceKey("/First", item);
    }
    parent.last = item;
    parent.item.replaceKey("/Last", item);
    ++parent.count;
    // Only the first level is open.
    parent.item.replaceKey("/Count", integer(parent.level == 0 ? parent.count : -parent.count));
    open.push_back({item, QPDFObjectHandle::newNull(), bookmark.level, 0});
  }
  if (root.hasKey("/First")) pdf.getRoot().replaceKey("/Outlines", root);
}

void add_labels(QPDF& pdf, const Sheets& sheets, const std::vector<LabelRange>& ranges) {
  if (ranges.empty()) return;
  auto list = QPDFObjectHandle::newArray();
  for (const LabelRange& range : ranges) {
    if (range.first > static_cast<int>(sheets.size())) break;
    auto label = QPDFObjectHandle::newDictionary();
    if (range.style != 0) label.replaceKey("/S", name(std::string("/") + range.style));
    if (!range.prefix.empty())
      label.replaceKey("/P", QPDFObjectHandle::newUnicodeString(range.prefix));
    if (range.start != 1) label.replaceKey("/St", integer(range.start));
    list.appendItem(integer(range.first - 1));
    list.appendItem(label);
  }
  auto tree = QPDFObjectHandle::newDictionary();
  tree.replaceKey("/Nums", list);
  pdf.getRoot().replaceKey("/PageLabels", tree);
}

void add_links(QPDF& pdf, Sheets& sheets, const std::vector<ContentsPage>& contents,
               const std::vector<LabelRange>& ranges, Structure& structure) {
  for (const ContentsPage& page : contents) {
    auto sheet = sheets[static_cast<size_t>(page.sheet)];
    auto annotations = QPDFObjectHandle::newArray();
    for (const ContentsLine& line : page.lines) {
      const int target = page_labelled(ranges, static_cast<int>(sheets.size()), line.label);
      if (target == 0) continue;
      Polygon corners;
      for (const Point& p : line.box.corners()) corners.push_back(page.frame.to_sheet(p));
      const Box box = bounds(corners);
      const double points = page.frame.points;
      auto link = pdf.makeIndirectObject(QPDFObjectHandle::parse(
          fmt::format("<< /Type /Annot /Subtype /Link /F 4 /Border [0 0 0] /Rect [{:.1f} {:.1f} "
                      "{:.1f} {:.1f}] "
                      ">>",
                      box.x0 * points, (page.frame.height - box.y1) * points, box.x1 * points,
                      (page.frame.height - box.y0) * points)));
      link.replaceKey("/Dest", destination(sheets, target, -1));
      link.replaceKey("/Contents", QPDFObjectHandle::newUnicodeString("page " + line.label));
      structure.add_link(link, sheet);
      annotations.appendItem(link);
    }
    if (annotations.getArrayNItems() > 0) sheet.replaceKey("/Annots", annotations);
  }
}

void set_opening(QPDF& pdf, const Sheets& sheets, double top, Opening opening) {
  auto root = pdf.getRoot();
  if (opening == Opening::kPage || sheets.empty()) return;
  const bool bookmarks = opening == Opening::kBookmarks;
  root.replaceKey("/PageMode", name(bookmarks ? "/UseOutlines" : "/UseThumbs"));
  root.replaceKey("/OpenAction", destination(sheets, 1, top));
}

}  // namespace burnisher::pdf
