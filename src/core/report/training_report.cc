#include "report/training_report.h"

#include <fmt/core.h>

#include <algorithm>

#include "base/base64.h"
#include "base/unicode.h"
#include "raster/png.h"
#include "report/chart.h"
#include "report/html.h"
#include "score/compare.h"

namespace burnisher::report {
namespace {

constexpr size_t kMostConfusions = 25, kWorstLines = 20;  // rows shown

const char* const kStyle =
    "table { border-collapse: collapse; margin: 0.5rem 0 1.5rem; }\n"
    "td, th { padding: 0.2rem 0.9rem 0.2rem 0; text-align: right; }\n"
    "th { border-bottom: 1px solid #999; font-weight: 600; }\n"
    "tr.best td { font-weight: 600; color: #0b6e4f; }\n"
    "td.word { text-align: left; font-family: 'DejaVu Serif', serif; }\n"
    "figure { margin: 0 0 1.4rem; padding: 0.6rem; background: #fff; border: 1px solid #ddd; }\n"
    "figcaption { font-family: 'DejaVu Serif', serif; }\n"
    "figcaption span { display: inline-block; min-width: 4.5rem; color: #777; "
    "font-family: 'DejaVu Sans', sans-serif; font-size: 0.85em; }\n";

struct ScoredLine {
  const train::KeptBackLine* line;
  score::Comparison comparison;
};

std::string shown(char32_t c) {
  if (c == 0) return "nothing";
  return c == U' ' ? "space" : escaped(encode_utf8(c));
}

std::string rounds_table(const train::RoundsReport& report) {
  int best = 0;
  for (const train::Round& r : report.rounds) {
    if (r.best) best = r.number;
  }
  std::string rows;
  for (const train::Round& r : report.rounds) {
    rows += fmt::format(
        "<tr{}><td>{}</td><td>{:.1f}</td><td>{}</td><td>{:.2f}</td><td>{:.2f}</td></tr>\n",
        r.number == best ? " class=\"best\"" : "",
        r.number == 0 ? "before" : std::to_string(r.number), r.minutes,
        r.number == 0 ? "" : fmt::format("{:.3f}", r.loss), 100 * r.cer, 100 * r.wer);
  }
  return "<table><tr><th>round</th><th>minutes</th><th>loss</th><th>CER %</th><th>WER "
         "%</th></tr>\n" +
         rows + "</table>\n";
}

std::string confusion_table(const score::Comparison& all) {
  std::vector<std::pair<score::Confusion, int>> list(all.confusions.begin(), all.confusions.end());
  std::stable_sort(list.begin(), list.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  if (list.size() > kMostConfusions) list.resize(kMostConfusions);
  std::string rows;
  for (const auto& [pair, count] : list)
    rows +=
        fmt::format("<tr><td>{}</td><td class=\"word\">{}</td><td class=\"word\">{}</td></tr>\n",
                    count, shown(pair.truth), shown(pair.read));
  if (rows.empty()) return "<p>None: every kept-back letter is read right.</p>\n";
  return "<table><tr><th>times</th><th>there stands</th><th>read as</th></tr>\n" + rows +
         "</table>\n";
}

std::string line_figure(const ScoredLine& scored) {
  const train::Example& example = *scored.line->example;
  const Gray& picture = example.picture;
  return fmt::format(
      "<figure>{}<figcaption><span>there</span>{}<br><span>read</span>{}<br><span>{:.0f} %</span>"
      "{}</figcaption></figure>\n",
      html_picture(picture.clone(), "line"), escaped(encode_utf8(example.text)),
      escaped(scored.line->read), 100 * scored.comparison.cer(), escaped(example.page));
}

}  // namespace

std::vector<uint8_t> training_curve(const std::vector<train::TrainRow>& log) {
  Chart chart{"Faces and texts never trained on",
              "training lines seen (thousands)",
              "characters wrong, %",
              true,
              {{"clean", {}}, {"medium", {}}, {"heavy", {}}}};
  for (const train::TrainRow& row : log) {
    const double thousands = static_cast<double>(row.lines) / 1000;
    const double rates[] = {row.cer_clean, row.cer_medium, row.cer_heavy};
    for (size_t i = 0; i < 3; ++i) chart.series[i].points.push_back({thousands, 100 * rates[i]});
  }
  return write_png(Picture(chart_picture(chart)), 0);
}

std::vector<uint8_t> pages_curve(const std::vector<train::PageTrainRow>& log) {
  Chart chart{
      "Composed pages never trained on", "training pages seen", "F1 of cells, %", false, {}, true};
  for (size_t k = 0; k < layout::kShareMaps; ++k) {
    ChartSeries series{layout::kPageMapNames[k], {}};
    for (const train::PageTrainRow& row : log)
      series.points.push_back({static_cast<double>(row.pages), 100 * row.quality.f1[k]});
    chart.series.push_back(std::move(series));
  }
  return write_png(Picture(chart_picture(chart)), 0);
}

std::vector<uint8_t> rounds_curve(const train::RoundsReport& report) {
  Chart chart{"Pages kept back",
              "round (0: before)",
              "wrong, %",
              false,
              {{"characters", {}, true}, {"words", {}, true}}};
  for (const train::Round& round : report.rounds) {
    chart.series[0].points.push_back({static_cast<double>(round.number), 100 * round.cer});
    chart.series[1].points.push_back({static_cast<double>(round.number), 100 * round.wer});
  }
  return write_png(Picture(chart_picture(chart)), 0);
}

std::string training_html(const train::RoundsReport& report) {
  score::Comparison all;
  std::vector<ScoredLine> lines;
  for (const train::KeptBackLine& line : report.lines) {
    lines.push_back({&line, score::compare(line.read, encode_utf8(line.example->text))});
    all.add(lines.back().comparison);
  }
  std::stable_sort(lines.begin(), lines.end(), [](const ScoredLine& a, const ScoredLine& b) {
    return a.comparison.character_errors > b.comparison.character_errors;
  });
  std::string body = fmt::format(
      "<h1>Training in rounds</h1>\n<p>{} lines learnt from, {} kept back to measure with. The "
      "best "
      "model makes {} errors in {} kept-back characters (CER {:.2f} %).</p>\n",
      report.learnt_lines, report.lines.size(), all.character_errors, all.characters,
      100 * all.cer());
  if (!report.added.empty())
    body += "<p>Characters new to the model: " + escaped(report.added) + "</p>\n";
  body += "<img alt=\"error by round\" src=\"data:image/png;base64," +
          base64(rounds_curve(report)) + "\">\n";
  body += rounds_table(report) + "<h1>Letters still mixed up</h1>\n" + confusion_table(all) +
          "<h1>Lines still read worst</h1>\n";
  for (size_t i = 0; i < std::min(lines.size(), kWorstLines); ++i) {
    if (lines[i].comparison.character_errors > 0) body += line_figure(lines[i]);
  }
  return html_page("Training in rounds", kStyle, body);
}

}  // namespace burnisher::report
