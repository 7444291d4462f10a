#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <map>
#include "base/json.h"

#include "base/unicode.h"
#include "cli/find_results.h"
#include "correct/changes.h"

namespace burnisher::cli {
namespace {

using find::HitLine;
using nlohmann::ordered_json;

// Characters as they take room in a column.
size_t width_of_text(const std::string& text) {
  return decode_utf8(text).size();
}

std::string padded(const std::string& text, size_t width, bool at_left) {
  const std::string blanks(width - std::min(width, width_of_text(text)), ' ');
  return at_left ? blanks + text : text + blanks;
}

std::string page_text(const find::IndexedPage& page) {
  return page.printed.empty() || page.printed == std::to_string(page.position)
             ? std::to_string(page.position)
             : fmt::format("{} ({})", page.position, page.printed);
}

struct Row {
  std::string place, before, found, after, doubt;
};

std::string spaced(const std::string& before, const std::string& found, const std::string& after,
                   bool colour) {
  const char *open = colour ? "\033[1;7m" : "[", *close = colour ? "\033[0m" : "]";
  return (before.empty() ? "" : before + " ") + open + found + close +
         (after.empty() ? "" : " " + after);
}

template <typename Visit>
void each_hit(const std::vector<Searched>& searched, const Visit& visit) {
  for (const Searched& one : searched) {
    find::HitViews views(*one.index);
    for (const find::Hit& hit : one.hits) visit(one, views, hit);
  }
}

ordered_json box_json(const Box& b) {
  return {static_cast<int>(b.x0), static_cast<int>(b.y0), static_cast<int>(b.width()),
          static_cast<int>(b.height())};
}

}  // namespace

std::vector<find::TextDocument> documents_told(const std::string& path, Console& console) {
  std::vector<std::string> others;
  std::vector<find::TextDocument> documents = find::documents_at(path, others);
  if (!others.empty())
    console.say(fmt::format("{}: {} .xml or .html {} no read pages", path, others.size(),
                            others.size() == 1 ? "file has" : "files have"));
  return documents;
}

size_t hit_count(const std::vector<Searched>& searched) {
  size_t count = 0;
  for (const Searched& one : searched) count += one.hits.size();
  return count;
}

size_t pages_with_hits(const std::vector<Searched>& searched) {
  size_t count = 0;
  for (const Searched& one : searched) {
    std::vector<int64_t> pages;
    for (const find::Hit& hit : one.hits) pages.push_back(hit.parts.front().page);
    std::sort(pages.begin(), pages.end());
    count += static_cast<size_t>(std::unique(pages.begin(), pages.end()) - pages.begin());
  }
  return count;
}

void print_lines(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                 int context, bool with_probability) {
  const bool colour = isatty(STDOUT_FILENO) != 0 && std::getenv("NO_COLOR") == nullptr;
  std::vector<Row> rows;
  each_hit(searched, [&](const Searched& one, find::HitViews& views, const find::Hit& hit) {
    const std::vector<HitLine> lines =
        context > 0 ? std::vector<HitLine>{views.in_context(hit, context)} : views.lines(hit);
    Row row{one.documents[hit.document].name + "  " + page_text(lines.front().page), "", "", "",
            ""};
    if (with_probability)
      row.doubt = fmt::format("{:3.0f} %{}", 100 * hit.probability,
                              !hit.misread        ? ""
                              : sought.size() > 1 ? "  " + sought[hit.sought]
                                                  : "  misread?");
    row.before = lines.front().before;
    row.found = find::found_text(lines);
    row.after = lines.back().after;
    rows.push_back(std::move(row));
  });
  size_t place = 0, before = 0, doubt = 0;
  for (const Row& row : rows) {
    place = std::max(place, width_of_text(row.place));
    before = std::max(before, width_of_text(row.before));
    doubt = std::max(doubt, width_of_text(row.doubt));
  }
  for (const Row& row : rows) {
    std::string text = padded(row.place, place, false) + "  ";
    if (doubt > 0) text += padded(row.doubt, doubt, false) + "  ";
    // Key words in context stand below one another.
    text += spaced(context > 0 ? padded(row.before, before, true) : row.before, row.found,
                   row.after, colour);
    std::fputs((text + "\n").c_str(), stdout);
  }
}

void print_tsv(const std::vector<Searched>& searched, const std::vector<std::string>& sought) {
  std::fputs(
      "sought\tfound\tprobability\tmisread\tdocument\tpage\tprinted\tx\ty\twidth\theight\tscan\t"
      "scan_page\tscan_x\tscan_y\tscan_width\tscan_height\tpdf\tpdf_page\tfile\tbefore\tafter\n",
      stdout);
  each_hit(searched, [&](const Searched& one, find::HitViews& views, const find::Hit& hit) {
    const std::vector<HitLine> lines = views.lines(hit);
    const HitLine& first = lines.front();
    const find::IndexedPage& page = first.page;
    const auto field = correct::table_field;
    const auto box = [](const Box& b) {
      return fmt::format("{:.0f}\t{:.0f}\t{:.0f}\t{:.0f}", b.x0, b.y0, b.width(), b.height());
    };
    std::fputs(fmt::format("{}\t{}\t{:.3f}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\n",
                           field(sought[hit.sought]), field(find::found_text(lines)),
                           hit.probability, hit.misread ? "yes" : "no",
                           field(one.documents[hit.document].name), page.position, page.printed,
                           box(first.on_page), field(page.scan), page.scan_page, box(first.on_scan),
                           field(page.pdf), page.pdf_page > 0 ? std::to_string(page.pdf_page) : "",
                           field(page.file), field(first.before), field(lines.back().after))
                   .c_str(),
               stdout);
  });
}

void print_json(const std::vector<Searched>& searched, const std::vector<std::string>& sought) {
  ordered_json hits = ordered_json::array();
  each_hit(searched, [&](const Searched& one, find::HitViews& views, const find::Hit& hit) {
    const std::vector<HitLine> lines = views.lines(hit);
    const find::IndexedPage& page = lines.front().page;
    ordered_json json = {{"sought", sought[hit.sought]},
                         {"found", find::found_text(lines)},
                         {"probability", std::round(1000 * hit.probability) / 1000},
                         {"misread", hit.misread},
                         {"document", one.documents[hit.document].name},
                         {"page", page.position},
                         {"printed", page.printed},
                         {"file", page.file},
                         {"scan", page.scan},
                         {"scan_page", page.scan_page},
                         {"pdf", page.pdf},
                         {"pdf_page", page.pdf_page}};
    json["lines"] = ordered_json::array();
    for (const HitLine& line : lines)
      json["lines"].push_back({{"page", line.page.position},
                               {"before", line.before},
                               {"found", line.found},
                               {"after", line.after},
                               {"box", box_json(line.on_page)},
                               {"scan_box", box_json(line.on_scan)}});
    hits.push_back(std::move(json));
  });
  const ordered_json all = {{"sought", sought}, {"hits", hits}};
  std::fputs((json_text(all, 1) + "\n").c_str(), stdout);
}

void print_concordance(const std::vector<Searched>& searched,
                       const std::vector<std::string>& sought) {
  std::vector<std::string> pages;
  std::vector<std::map<size_t, int>> counts(sought.size());  // by word and page
  std::vector<int> totals(sought.size(), 0);
  std::map<std::pair<const Searched*, int64_t>, size_t> met;
  each_hit(searched, [&](const Searched& one, find::HitViews&, const find::Hit& hit) {
    const find::HitPart& part = hit.parts.front();
    const auto [found, fresh] = met.try_emplace({&one, part.page}, pages.size());
    if (fresh)
      pages.push_back(fmt::format("{} {}", one.documents[hit.document].name, part.position));
    ++counts[hit.sought][found->second];
    ++totals[hit.sought];
  });
  std::string text = "word\thits";
  for (const std::string& page : pages) text += "\t" + correct::table_field(page);
  for (size_t s = 0; s < sought.size(); ++s) {
    text += fmt::format("\n{}\t{}", correct::table_field(sought[s]), totals[s]);
    for (size_t p = 0; p < pages.size(); ++p) {
      const auto found = counts[s].find(p);
      text += found == counts[s].end() ? "\t" : fmt::format("\t{}", found->second);
    }
  }
  std::fputs((text + "\n").c_str(), stdout);
}

}  // namespace burnisher::cli
