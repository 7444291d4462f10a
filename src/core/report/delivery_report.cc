#include "report/delivery_report.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <set>

#include "base/files.h"
#include "report/html.h"

namespace burnisher::report {
namespace {

const char* const kStyle =
    "table { border-collapse: collapse; } td, th { text-align: left; vertical-align: top; "
    "padding: .3rem .9rem .3rem 0; border-bottom: 1px solid #ddd; }\n"
    "td.number { text-align: right; font-variant-numeric: tabular-nums; }\n"
    ".facts { display: flex; gap: 2.2rem; margin: 1rem 0; }\n"
    ".facts b { display: block; font-size: 1.5rem; font-weight: 600; }\n"
    "ul { margin: 0; padding-left: 1.1rem; } .look { color: #8a3b00; }\n"
    "svg { background: #fff; border: 1px solid #ddd; max-width: 100%; }\n"
    "td img { border: 1px solid #ccc; height: 5rem; width: auto; display: block; }\n"
    ".files td { padding-right: 1.6rem; }\n";

constexpr double kChartWidth = 1000, kChartHeight = 120;  // CSS pixels
constexpr double kFloor = 0.5;  // bars begin here: what reads worse is hardly text
constexpr double kWidest = 40;  // of a bar
constexpr double kSure = 0.9;   // bars below are drawn as less sure

std::string where(const run::PageReport& page) {
  const std::string file = std::filesystem::path(page.file).filename();
  return (page.number > 1 ? fmt::format("{}, page {}", file, page.number) : file) +
         (page.part == 1   ? ", left"
          : page.part == 2 ? ", right"
                           : "");
}

std::string list_of(const std::vector<std::string>& items, const char* kind) {
  if (items.empty()) return "";
  std::string list = fmt::format("<ul class=\"{}\">", kind);
  for (const std::string& item : items) list += "<li>" + escaped(item) + "</li>";
  return list + "</ul>";
}

// 0: there is no such file any more.
size_t size_of(const std::string& file) {
  std::error_code status;
  const auto size = std::filesystem::file_size(file, status);
  return status ? 0 : static_cast<size_t>(size);
}

// What became of a page, beside what its notes say.
std::vector<std::string> done_to(const run::PageReport& page) {
  std::vector<std::string> done = page.notes;
  if (page.skew != 0) done.push_back(fmt::format("straightened by {:.1f}°", std::fabs(page.skew)));
  if (page.perspective > 0) done.push_back("seen straight from above");
  if (page.curl >= 1) done.push_back(fmt::format("bent lines made straight, {:.0f} px", page.curl));
  for (const correct::Change& change : page.changes)
    done.push_back(fmt::format("{} mended to {}", change.before, change.after));
  return done;
}

// Every file with its size; the scans first, as one.
std::string table_of_files(const run::RunReport& report) {
  std::set<std::string> scans;
  for (const run::PageReport& page : report.pages) scans.insert(page.file);
  const size_t bytes = run::source_bytes_of(report.pages);
  std::string rows = "<table class=\"files\">\n<tr><th>file</th><th>size</th><th></th></tr>\n";
  const auto row = [&](const std::string& file, size_t size, const std::string& remark) {
    rows += fmt::format("<tr><td>{}</td><td class=\"number\">{}</td><td>{}</td></tr>\n",
                        escaped(file), bytes_text(size), escaped(remark));
  };
  if (bytes > 0)
    row(scans.size() == 1 ? *scans.begin() : fmt::format("{} scans", scans.size()), bytes,
        "as they came in");
  for (const std::string& file : report.written) {
    std::string remark;
    for (const auto& [path, text] : report.remarks) {
      if (path == file) remark += (remark.empty() ? "" : "; ") + text;
    }
    row(file, size_of(file), remark);
  }
  return rows + "</table>\n";
}

// A bar for each page, as high as its words were sure.
std::string chart_of(const std::vector<run::PageReport>& pages) {
  const double step =
      std::min(kWidest, kChartWidth / static_cast<double>(std::max<size_t>(1, pages.size())));
  std::string bars;
  for (size_t i = 0; i < pages.size(); ++i) {
    const run::PageReport& page = pages[i];
    const double sure = std::clamp((page.confidence - kFloor) / (1 - kFloor), 0.02, 1.0);
    const double height = page.blank ? 0 : kChartHeight * sure;
    bars += fmt::format(
        "<a href=\"#page-{}\"><rect x=\"{:.1f}\" y=\"{:.1f}\" width=\"{:.1f}\" height=\"{:.1f}\" "
        "fill=\"{}\"><title>{}: {}</title></rect></a>\n",
        i + 1, static_cast<double>(i) * step, kChartHeight - height,
        std::max(0.5, step - std::min(3.0, step / 4)), height,
        page.failed || !page.look.empty() ? "#c2571a"
        : page.confidence < kSure         ? "#d9b04c"
                                          : "#4a7ba6",
        escaped(where(page)),
        page.failed            ? "failed"
        : page.blank           ? "blank"
        : !page.unread.empty() ? "unread"
                               : fmt::format("{:.0f} % sure", 100 * page.confidence));
  }
  return fmt::format(
      "<svg viewBox=\"0 0 {0:.0f} {1:.0f}\" width=\"{0:.0f}\" height=\"{1:.0f}\" role=\"img\" "
      "aria-label=\"How sure each page was read\">\n{2}</svg>\n<p>How sure each page was read, "
      "from 50 % at the foot to 100 %. Orange pages want a look.</p>\n",
      step * static_cast<double>(pages.size()), kChartHeight, bars);
}

std::string set_aside_of(const run::PageReport& page) {
  if (page.set_aside == 0) return "";
  std::string told = fmt::format("<div class=\"aside\">{} {} set aside as no text", page.set_aside,
                                 page.set_aside == 1 ? "mark" : "marks");
  for (const auto& picture : page.aside)
    told += " " + html_picture(Picture(picture->clone()), "set aside on " + where(page));
  return told + "</div>";
}

std::string row_of(const run::PageReport& page, size_t number) {
  std::vector<std::string> look = page.look;
  look.insert(look.end(), page.held.begin(), page.held.end());
  const std::string sure = page.failed            ? "failed"
                           : page.blank           ? "blank"
                           : !page.unread.empty() ? "unread"
                                                  : fmt::format("{:.0f} %", 100 * page.confidence);
  return fmt::format(
      "<tr id=\"page-{}\"><td class=\"number\">{}</td><td>{}</td><td>{}</td><td "
      "class=\"number\">{}</td><td class=\"number\">{}</td><td class=\"number\">{}</td><td>{}</td>"
      "<td>{}</td></tr>\n",
      number, number,
      page.thumbnail ? html_picture(Picture(page.thumbnail->clone()), where(page)) : "",
      escaped(where(page)), sure, page.words, page.suspects,
      list_of(done_to(page), "done") + set_aside_of(page), list_of(look, "look"));
}

}  // namespace

std::string delivery_report(const run::RunReport& report) {
  int words = 0, suspects = 0, look = 0, blank = 0;
  std::string rows;
  for (size_t i = 0; i < report.pages.size(); ++i) {
    const run::PageReport& page = report.pages[i];
    words += page.words;
    suspects += page.suspects;
    look += page.failed || !page.look.empty() || !page.held.empty();
    blank += page.blank;
    rows += row_of(page, i + 1);
  }
  const auto fact = [](long value, const char* what) {
    return fmt::format("<div><b>{}</b>{}</div>\n", value, what);
  };
  std::string body = "<h1>What was delivered</h1>\n<div class=\"facts\">\n" +
                     fact(static_cast<long>(report.pages.size()), "pages") + fact(words, "words") +
                     fact(suspects, "suspect words") + fact(look, "pages to look at") +
                     fact(blank, "blank pages") + "</div>\n" + chart_of(report.pages);
  if (!report.fields.empty()) {
    body += "<h2>Fields</h2>\n<table>\n";
    for (const auto& [name, value] : report.fields)
      body += "<tr><td>" + escaped(name) + "</td><td>" + escaped(value) + "</td></tr>\n";
    body += "</table>\n";
  }
  body += "<h2>Files</h2>\n" + table_of_files(report);
  if (!report.waiting.empty())
    body += "<h2>Waiting for a person</h2>\n" + list_of(report.waiting, "look");
  std::vector<std::string> problems;
  for (const Problem& problem : report.problems) problems.push_back(problem.what);
  if (!problems.empty()) body += "<h2>Problems</h2>\n" + list_of(problems, "look");
  body +=
      "<h2>Pages</h2>\n<table>\n<tr><th></th><th></th><th>page</th><th>sure</th><th>words</th>"
      "<th>suspects</th><th>what was done</th><th>to look at</th></tr>\n" +
      rows + "</table>\n";
  return html_page("What was delivered", kStyle, body);
}

}  // namespace burnisher::report
