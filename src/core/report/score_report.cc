#include "report/score_report.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <optional>

#include "base/error.h"
#include "base/unicode.h"
#include "page/block_kind.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "raster/turn.h"
#include "report/html.h"

namespace burnisher::report {
namespace {

constexpr size_t kMostExamples = 4;  // of one confusion
constexpr size_t kMostPages = 200;   // in the table, the worst first
constexpr double kMargin = 0.35;     // heights of the word round its picture

const char* const kStyle =
    "table { border-collapse: collapse; margin: 0.5rem 0 1.5rem; }\n"
    "td, th { padding: 0.2rem 1.1rem 0.2rem 0; text-align: right; vertical-align: middle; }\n"
    "td:first-child, th:first-child, td.word, th.word { text-align: left; }\n"
    "th { border-bottom: 1px solid #999; font-weight: 600; }\n"
    "tr.all td { border-top: 1px solid #999; font-weight: 600; }\n"
    "td.word { font-family: 'DejaVu Serif', serif; }\n"
    "td.pictures figure { display: inline-block; margin: 0.2rem 0.8rem 0.2rem 0; }\n"
    "td.pictures img { max-height: 2.6rem; width: auto; border: 1px solid #ccc; }\n"
    "figcaption { font-size: 0.75em; color: #666; text-align: left; }\n"
    "td.bar { min-width: 12rem; text-align: left; }\n"
    "td.bar span { display: block; height: 0.6rem; background: #2f6f8f; }\n";

std::string shown(char32_t c) {
  if (c == 0) return "<i>nothing</i>";
  return c == U' ' ? "<i>space</i>" : escaped(encode_utf8(c));
}

double percent(int part, int whole) {
  return whole > 0 ? 100.0 * part / whole : 0;
}

std::string page_row(const ScoredPage& page, const char* row_class) {
  const score::Comparison& c = page.comparison;
  return fmt::format(
      "<tr{}><td>{}</td><td>{}</td><td>{}</td><td>{:.2f}</td><td>{:.2f}</td><td>{:.2f}</td>"
      "<td>{}</td><td>{}</td></tr>\n",
      row_class, escaped(page.name), c.characters, c.character_errors, 100 * c.cer(), 100 * c.wer(),
      100 * c.order_free(), c.lines_missing, c.lines_extra);
}

std::string page_table(const ScoreReport& report) {
  std::vector<const ScoredPage*> pages;
  for (const ScoredPage& page : report.pages) pages.push_back(&page);
  std::stable_sort(pages.begin(), pages.end(), [](const ScoredPage* a, const ScoredPage* b) {
    return a->comparison.cer() > b->comparison.cer();
  });
  std::string rows;
  for (size_t i = 0; i < std::min(kMostPages, pages.size()); ++i) rows += page_row(*pages[i], "");
  rows += page_row({"all", report.all}, " class=\"all\"");
  return "<table><tr><th>page</th><th>characters</th><th>wrong</th><th>CER %</th><th>WER %</th>"
         "<th>words %</th><th>lines missing</th><th>lines extra</th></tr>\n" +
         rows + "</table>\n";
}

std::string share_row(const char* name, const score::Comparison::ClassErrors& e, int most) {
  return fmt::format(
      "<tr><td>{}</td><td>{}</td><td>{}</td><td>{:.2f}</td><td class=\"bar\"><span "
      "style=\"width: {:.0f}%\"></span></td></tr>\n",
      name, e.characters, e.errors, percent(e.errors, e.characters), percent(e.errors, most));
}

template <typename Key, typename Name>
std::string share_table(const char* title, const std::map<Key, score::Comparison::ClassErrors>& of,
                        const Name& name) {
  int most = 0;
  for (const auto& [key, errors] : of) most = std::max(most, errors.errors);
  std::string rows;
  for (const auto& [key, errors] : of) rows += share_row(name(key), errors, most);
  return fmt::format(
      "<table><tr><th>{}</th><th>there</th><th>wrong</th><th>%</th><th class=\"word\">share of "
      "the errors</th></tr>\n{}</table>\n",
      title, rows);
}

std::string confusion_table(const ScoreReport& report, int count) {
  std::vector<std::pair<score::Confusion, int>> list(report.all.confusions.begin(),
                                                     report.all.confusions.end());
  if (list.empty()) return "<p>None.</p>\n";
  std::stable_sort(list.begin(), list.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  list.resize(std::min(list.size(), static_cast<size_t>(count)));
  std::string rows;
  for (const auto& [pair, times] : list) {
    std::string pictures;
    const auto found = report.examples.find(pair);
    if (found != report.examples.end()) {
      for (const WordPicture& example : found->second)
        pictures += "<figure>" + html_picture(example.picture.clone(), example.read) +
                    "<figcaption>" + escaped(example.read + " · " + example.page) +
                    "</figcaption></figure>";
    }
    rows += fmt::format(
        "<tr><td>{}</td><td class=\"word\">{}</td><td class=\"word\">{}</td><td class=\"word "
        "pictures\">{}</td></tr>\n",
        times, shown(pair.truth), shown(pair.read), pictures);
  }
  return "<table><tr><th>times</th><th class=\"word\">there stands</th><th class=\"word\">read "
         "as</th><th class=\"word\">in words such as</th></tr>\n" +
         rows + "</table>\n";
}

std::string certainty_table(const score::Certainty& certainty) {
  std::string rows;
  for (size_t i = 0; i < certainty.steps.size(); ++i) {
    const auto& s = certainty.steps[i];
    if (s.words == 0) continue;
    rows +=
        fmt::format("<tr><td>{:.1f} to {:.1f}</td><td>{}</td><td>{:.1f}</td><td>{:.1f}</td></tr>\n",
                    0.1 * static_cast<double>(i), 0.1 * static_cast<double>(i + 1), s.words,
                    100 * s.confidence / s.words, 100.0 * s.right / s.words);
  }
  return fmt::format(
      "<table><tr><th>confidence</th><th>words</th><th>mean %</th><th>right %</th></tr>\n{}"
      "</table>\n<p>Expected calibration error {:.3f}.</p>\n",
      rows, certainty.error());
}

// The page picture in gray; nothing when it can't be used.
std::optional<Gray> picture_of(const score::PagePicture& page, const std::string& folder,
                               std::vector<std::string>& problems) {
  namespace fs = std::filesystem;
  if (page.name.empty() || folder.empty()) return std::nullopt;
  try {
    return to_gray(page_picture((fs::path(folder) / fs::path(page.name).filename()).string(),
                                page.number, page.width, page.height));
  } catch (const Error& cause) {
    problems.push_back(cause.what());
  }
  return std::nullopt;
}

Gray word_picture(const Gray& page, const Box& box) {
  const double margin = kMargin * box.height();
  const int x0 = std::clamp(static_cast<int>(box.x0 - margin), 0, page.width() - 1);
  const int y0 = std::clamp(static_cast<int>(box.y0 - margin), 0, page.height() - 1);
  const int x1 = std::clamp(static_cast<int>(box.x1 + margin) + 1, x0 + 1, page.width());
  const int y1 = std::clamp(static_cast<int>(box.y1 + margin) + 1, y0 + 1, page.height());
  return cut_out(page, x0, y0, x1, y1);
}

}  // namespace

std::vector<std::string> add_faults(const score::Document& read, const score::Faults& faults,
                                    const std::string& folder, const std::string& name,
                                    ScoreReport& report) {
  for (const auto& [kind, errors] : faults.kinds) {
    report.kinds[kind].characters += errors.characters;
    report.kinds[kind].errors += errors.errors;
  }
  std::vector<std::string> problems;
  std::map<size_t, std::optional<Gray>> pictures;  // those of this page that were needed
  for (const auto& [pair, words] : faults.words) {
    auto& examples = report.examples[pair];
    for (const size_t w : words) {
      if (examples.size() >= kMostExamples) break;
      const score::PlacedWord& word = read.words[w];
      auto place = pictures.find(word.page);
      if (place == pictures.end())
        place =
            pictures.emplace(word.page, picture_of(read.pages[word.page], folder, problems)).first;
      if (place->second)
        examples.push_back({word_picture(*place->second, word.box), word.text, name});
    }
  }
  return problems;
}

std::string score_html(const ScoreReport& report, int confusions) {
  std::string body = fmt::format(
      "<h1>Result against truth</h1>\n<p>{} wrong of {} characters: CER {:.2f} %, WER {:.2f} %. "
      "Whatever their order, {:.2f} % of the words agree.</p>\n{}",
      report.all.character_errors, report.all.characters, 100 * report.all.cer(),
      100 * report.all.wer(), 100 * report.all.order_free(), page_table(report));
  body += "<h1>Where the errors are</h1>\n" +
          share_table("characters", report.all.classes,
                      [](score::CharacterClass klass) { return score::name_of(klass); });
  if (!report.kinds.empty())
    body += share_table("blocks", report.kinds, [](BlockKind kind) { return name_of(kind); });
  body += "<h1>Read as something else</h1>\n" + confusion_table(report, confusions);
  if (report.certainty.words() > 0)
    body += "<h1>Confidence of words</h1>\n" + certainty_table(report.certainty);
  return html_page("Result against truth", kStyle, body);
}

}  // namespace burnisher::report
