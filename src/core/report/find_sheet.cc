#include "report/find_sheet.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/base64.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/turn.h"
#include "report/html.h"

namespace burnisher::report {
namespace {

using find::HitLine;

constexpr double kAround = 0.45;  // of the line's height, above and below it
constexpr int kWidest = 1100;     // pixels of a line's picture
constexpr int kQuality = 60;      // JPEG
constexpr double kChartWidth = 1000, kChartHeight = 64, kFoot = 14;  // CSS pixels
constexpr int kMostBars = 250;                                       // more pages share bars
constexpr double kWidestBar = 28;

const char* const kStyle =
    "main { max-width: 74rem; }\n"
    ".facts { color: #555; margin: -.4rem 0 1.2rem; }\n"
    ".facts b { color: #222; font-weight: 600; }\n"
    "h2 { font-size: 1.08rem; margin: 2rem 0 .3rem; } h2 small { font-weight: 400; color: #666; }\n"
    "svg { background: #fff; border: 1px solid #ddd; max-width: 100%; height: auto; display: "
    "block; "
    "margin-bottom: .6rem; }\n"
    "svg rect { fill: #3d6b8c; } svg a:hover rect { fill: #b35a00; } svg text { font-size: 10px; "
    "fill: #666; }\n"
    "article { display: grid; grid-template-columns: 8.5rem 1fr; gap: 0 1rem; padding: .6rem "
    ".4rem; "
    "border-bottom: 1px solid #ddd; }\n"
    "article:focus { outline: 2px solid #3d6b8c; background: #fff; }\n"
    ".where { font-variant-numeric: tabular-nums; } .where small { display: block; color: #666; }\n"
    ".strip { position: relative; display: inline-block; background: #fff; border: 1px solid #ccc; "
    "margin-bottom: .25rem; }\n"
    ".strip img { max-height: 4.6rem; width: auto; }\n"
    ".strip i { position: absolute; background: #ffe873; mix-blend-mode: multiply; border-radius: "
    "2px; }\n"
    "article a { color: #1f5a86; } mark { background: #ffe07a; } .line { margin: 0; } .doubt { "
    "color: #8a3b00; }\n"
    "table { border-collapse: collapse; margin: .4rem 0 1rem; } td, th { text-align: left; "
    "padding: "
    ".15rem 1.2rem .15rem 0; } td.number { text-align: right; }\n"
    "kbd { border: 1px solid #bbb; border-radius: 3px; padding: 0 .3em; background: #fff; }\n"
    "@media print { article { break-inside: avoid; } .keys { display: none; } }\n";

// n and p, as a reader turns pages; the place is where the browser is, so that Back works too.
const char* const kScript =
    "<script>\nconst all = [...document.querySelectorAll('article')];\nlet at = -1;\n"
    "document.addEventListener('keydown', e => {\n"
    "  if (e.ctrlKey || e.metaKey || e.altKey) return;\n"
    "  if (e.key == 'n') at = Math.min(all.length - 1, at + 1);\n"
    "  else if (e.key == 'p') at = Math.max(0, at - 1);\n"
    "  else return;\n"
    "  all[at].focus(); all[at].scrollIntoView({block: 'center'});\n});\n"
    "all.forEach((one, i) => one.addEventListener('focus', () => { at = i; }));\n</script>\n";

std::string count_of(size_t count, const char* one, const char* many) {
  return fmt::format("{} {}", count, count == 1 ? one : many);
}

std::string page_text(const find::IndexedPage& page) {
  std::string text = fmt::format("page {}", page.position);
  if (!page.printed.empty())
    text += fmt::format(" <small>printed {}</small>", escaped(page.printed));
  return text;
}

// The line on its page's picture, with what was found marked.
std::string strip_of(const HitLine& line, const Gray& picture) {
  const double margin = kAround * line.line_on_page.height();
  const int x0 = std::max(0, static_cast<int>(line.line_on_page.x0 - 2 * margin));
  const int y0 = std::max(0, static_cast<int>(line.line_on_page.y0 - margin));
  const int x1 = std::min(picture.width(), static_cast<int>(line.line_on_page.x1 + 2 * margin));
  const int y1 = std::min(picture.height(), static_cast<int>(line.line_on_page.y1 + margin));
  if (x1 - x0 < 4 || y1 - y0 < 4) return "";
  Gray cut = cut_out(picture, x0, y0, x1, y1);
  const double width = cut.width(), height = cut.height();
  if (cut.width() > kWidest) cut = reduced(cut, (cut.width() + kWidest - 1) / kWidest);
  const Box& hit = line.on_page;
  return fmt::format(
      "<div class=\"strip\"><img alt=\"\" width=\"{}\" height=\"{}\" loading=\"lazy\" "
      "src=\"data:image/jpeg;base64,{}\"><i "
      "style=\"left:{:.2f}%;top:{:.2f}%;width:{:.2f}%;height:{:.2f}%\"></i></div>",
      cut.width(), cut.height(), base64(write_jpeg(cut, kQuality)), 100 * (hit.x0 - x0) / width,
      100 * (hit.y0 - y0) / height, 100 * hit.width() / width, 100 * hit.height() / height);
}

// Bars: how many hits the pages of a document have. Each leads to the first of its hits.
std::string chart_of(const FindSheet& sheet, size_t document, size_t first, size_t end) {
  const int pages = std::max(1, sheet.documents[document].pages);
  const int share = (pages + kMostBars - 1) / kMostBars, bars = (pages + share - 1) / share;
  std::vector<size_t> counts(static_cast<size_t>(bars), 0), begins(static_cast<size_t>(bars), 0);
  for (size_t i = end; i-- > first;) {
    const auto bar = static_cast<size_t>(
        std::clamp((sheet.places[i].lines.front().page.position - 1) / share, 0, bars - 1));
    ++counts[bar];
    begins[bar] = i;
  }
  const double most = static_cast<double>(*std::max_element(counts.begin(), counts.end()));
  const double step = std::min(kWidestBar, kChartWidth / bars), width = step * bars;
  std::string svg = fmt::format(
      "<svg viewBox=\"0 0 {:.0f} {:.0f}\" width=\"{:.0f}\" role=\"img\" aria-label=\"hits over "
      "pages\">",
      width, kChartHeight + kFoot, width);
  for (int bar = 0; bar < bars; ++bar) {
    const auto b = static_cast<size_t>(bar);
    if (counts[b] == 0) continue;
    const double height = std::max(3.0, (kChartHeight - 6) * static_cast<double>(counts[b]) / most);
    const int from = bar * share + 1, to = std::min(pages, from + share - 1);
    const std::string which =
        share == 1 ? fmt::format("page {}", from) : fmt::format("pages {} to {}", from, to);
    svg += fmt::format(
        "<a href=\"#hit-{}\"><title>{}: {}</title><rect x=\"{:.2f}\" y=\"{:.2f}\" width=\"{:.2f}\" "
        "height=\"{:.2f}\"/></a>",
        begins[b] + 1, which, count_of(counts[b], "hit", "hits"), bar * step + 0.1 * step,
        kChartHeight - height, 0.8 * step, height);
  }
  return svg + fmt::format(
                   "<text x=\"2\" y=\"{0:.0f}\">1</text><text x=\"{1:.1f}\" y=\"{0:.0f}\" "
                   "text-anchor=\"end\">{2}</text></svg>\n",
                   kChartHeight + kFoot - 3, width - 2, pages > 1 ? std::to_string(pages) : "");
}

std::string text_of(const HitLine& line) {
  return fmt::format("<p class=\"line\"{}>{} <mark>{}</mark> {}</p>",
                     line.right_to_left ? " dir=\"rtl\"" : " dir=\"auto\"", escaped(line.before),
                     escaped(line.found), escaped(line.after));
}

std::string doubt_of(const FindSheet& sheet, const FoundPlace& place) {
  const std::string what =
      sheet.sought.size() > 1 || place.misread ? escaped(sheet.sought[place.sought]) : "";
  if (place.misread)
    return fmt::format("<small class=\"doubt\">{:.0f} % that it is {}</small>",
                       100 * place.probability, what);
  return fmt::format("<small>{}{}{:.0f} % sure</small>", what, what.empty() ? "" : ", ",
                     100 * place.probability);
}

std::string counts_table(const FindSheet& sheet) {
  if (sheet.sought.size() < 2) return "";
  std::vector<size_t> counts(sheet.sought.size(), 0);
  for (const FoundPlace& place : sheet.places) ++counts[place.sought];
  std::string table = "<table><tr><th>sought</th><th>hits</th></tr>\n";
  for (size_t i = 0; i < counts.size(); ++i)
    table += fmt::format("<tr><td>{}</td><td class=\"number\">{}</td></tr>\n",
                         escaped(sheet.sought[i]), counts[i]);
  return table + "</table>\n";
}

std::string heading_of(const FoundDocument& document, size_t hits) {
  std::string fields;
  for (const auto& [name, value] : document.fields)
    if (name != "title") fields += fmt::format(" · {}: {}", escaped(name), escaped(value));
  return fmt::format("<h2>{} <small>{} on {}{}</small></h2>\n", escaped(document.name),
                     count_of(hits, "hit", "hits"),
                     count_of(static_cast<size_t>(document.pages), "page", "pages"), fields);
}

}  // namespace

std::string find_html(const FindSheet& sheet) {
  std::string body = fmt::format("<main><h1>{}</h1>\n", escaped(sheet.title));
  body += fmt::format(
      "<p class=\"facts\"><b>{}</b> in {}. <span class=\"keys\"><kbd>n</kbd> next hit, "
      "<kbd>p</kbd> the one before.</span></p>\n",
      count_of(sheet.places.size(), "hit", "hits"),
      count_of(sheet.documents.size(), "document", "documents"));
  body += counts_table(sheet);
  int64_t open = 0;
  Gray picture;
  for (size_t i = 0; i < sheet.places.size();) {
    size_t end = i;
    const size_t document = sheet.places[i].document;
    while (end < sheet.places.size() && sheet.places[end].document == document) ++end;
    body += heading_of(sheet.documents[document], end - i) + chart_of(sheet, document, i, end);
    for (; i < end; ++i) {
      const FoundPlace& place = sheet.places[i];
      const find::IndexedPage& page = place.lines.front().page;
      std::string where = page_text(page);
      if (!page.pdf.empty())
        where = fmt::format("<a href=\"{}{}\">{}</a>", escaped(sheet.address(page.pdf)),
                            page.pdf_page > 0 ? fmt::format("#page={}", page.pdf_page) : "", where);
      body +=
          fmt::format("<article id=\"hit-{}\" tabindex=\"0\"><div class=\"where\">{}{}</div><div>",
                      i + 1, where, doubt_of(sheet, place));
      for (const HitLine& line : place.lines) {
        if (line.page.id != open) {
          picture = sheet.picture(line.page);
          open = line.page.id;
        }
        if (!picture.empty()) body += strip_of(line, picture);
        body += text_of(line);
      }
      body += "</div></article>\n";
    }
  }
  return html_page(sheet.title, kStyle, body + "</main>\n" + kScript);
}

}  // namespace burnisher::report
