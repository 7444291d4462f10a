#include "report/survey_report.h"

#include <fmt/core.h>

#include <cmath>
#include "base/json.h"

#include "report/barcodes_json.h"
#include "report/html.h"

namespace burnisher::report {
namespace {

using run::ScanSurvey;
using Json = nlohmann::ordered_json;

std::string joined(const std::vector<std::string>& parts) {
  std::string text;
  for (const std::string& part : parts) text += (text.empty() ? "" : "; ") + part;
  return text;
}

double rounded(double v, int digits) {
  const double factor = std::pow(10, digits);
  return std::round(v * factor) / factor;
}

Json json_of(const ScanSurvey& s) {
  Json page;
  page["file"] = s.file;
  page["page"] = s.page;
  page["width"] = s.width;
  page["height"] = s.height;
  page["depth"] = s.depth;
  page["dpi"] = rounded(s.dpi, 1);
  page["dpi_stated"] = rounded(s.dpi_stated, 1);
  page["dpi_reason"] = s.dpi_reason;
  page["orientation"] = s.orientation;
  page["orientation_confidence"] = rounded(s.orientation_confidence, 3);
  page["skew"] = rounded(s.skew, 3);
  page["skew_confidence"] = rounded(s.skew_confidence, 3);
  page["spread"] = s.spread;
  page["fold"] = rounded(s.fold, 1);
  page["blank"] = s.blank;
  page["ink_share"] = rounded(s.ink_share, 5);
  page["perspective"] = rounded(s.perspective, 1);
  page["curl"] = rounded(s.curl, 1);
  page["faint"] = s.faint;
  page["contrast"] = rounded(s.contrast, 0);
  page["dark_borders"] = s.dark_borders;
  page["inverse"] = s.inverse;
  page["noise"] = rounded(s.noise, 1);
  page["specks"] = s.specks;
  page["x_height"] = rounded(s.x_height, 1);
  page["stroke_width"] = rounded(s.stroke_width, 1);
  page["scripts"] = s.scripts;
  page["has_text"] = s.has_text;
  page["picture_share"] = rounded(s.picture_share, 3);
  page["barcodes"] = barcodes_json(s.barcodes);
  page["failed"] = s.failed;
  page["look"] = s.look;
  return page;
}

std::string cell_of(const Json& value) {
  if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
  if (value.is_array() && !value.empty() && value.front().is_object()) return json_text(value);
  if (value.is_array()) return joined(value.get<std::vector<std::string>>());
  std::string text = value.is_string() ? value.get<std::string>() : json_text(value);
  for (char& c : text) {
    if (c == '\t' || c == '\n' || c == '\r') c = ' ';
  }
  return text;
}

// Findings drawn over the thumbnail, in the scan's own pixels.
std::string drawing(const ScanSurvey& s) {
  const bool sideways = s.orientation % 180 != 0;
  const double w = sideways ? s.height : s.width, h = sideways ? s.width : s.height;
  std::string svg = fmt::format("<svg viewBox=\"0 0 {} {}\" aria-hidden=\"true\">", w, h);
  if (s.dark_borders) {
    svg += fmt::format(
        "<rect class=\"sheet\" x=\"{:.0f}\" y=\"{:.0f}\" width=\"{:.0f}\" "
        "height=\"{:.0f}\"/>",
        s.sheet.x0, s.sheet.y0, s.sheet.width(), s.sheet.height());
  }
  if (s.spread) {
    svg += fmt::format("<line class=\"fold\" x1=\"{0:.0f}\" y1=\"0\" x2=\"{0:.0f}\" y2=\"{1}\"/>",
                       s.fold, h);
  }
  if (!s.blank && std::fabs(s.skew) >= 0.05) {
    const double rise = std::tan(s.skew * 3.14159265 / 180) * w * 0.4;
    svg += fmt::format(
        "<line class=\"skew\" x1=\"{:.0f}\" y1=\"{:.0f}\" x2=\"{:.0f}\" "
        "y2=\"{:.0f}\"/>",
        0.1 * w, h / 2 + rise, 0.9 * w, h / 2 - rise);
  }
  return svg + "</svg>";
}

std::string findings(const ScanSurvey& s) {
  std::vector<std::string> said;
  if (s.failed) return "could not be read";
  said.push_back(fmt::format("{} × {}, {:.0f} dpi, {}", s.width, s.height, s.dpi, s.depth));
  if (s.blank) said.push_back("blank");
  for (const Barcode& code : s.barcodes) said.push_back(code.kind + " " + code.text);
  if (s.orientation != 0) said.push_back(fmt::format("to be turned by {}°", s.orientation));
  if (!s.blank && s.skew != 0) said.push_back(fmt::format("skew {:+.2f}°", s.skew));
  if (s.spread) said.push_back("two pages");
  if (s.perspective > 0)
    said.push_back(fmt::format("parallels run together by {:.1f}°", s.perspective));
  if (s.curl > 0) said.push_back(fmt::format("lines bend by {:.0f} px", s.curl));
  if (s.dark_borders) said.push_back("dark borders");
  if (s.inverse) said.push_back("white on black");
  if (s.has_text) said.push_back("real text");
  if (s.picture_share > 0.05)
    said.push_back(fmt::format("{:.0f} % picture", 100 * s.picture_share));
  if (s.scripts.size() > 1 || (s.scripts.size() == 1 && s.scripts[0] != "Latn"))
    said.push_back(joined(s.scripts));
  if (s.x_height > 0) said.push_back(fmt::format("x-height {:.0f} px", s.x_height));
  return joined(said);
}

const char* const kStyle =
    ".scans { display: grid; grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr)); gap: "
    "1.2rem; }\n"
    ".scan { background: #fff; border: 1px solid #d5d0c4; padding: .7rem; }\n"
    ".scan.look { border: 3px solid #a8480c; padding: calc(.7rem - 2px); }\n"
    ".thumb { position: relative; }\n.thumb img { width: 100%; height: auto; border: 1px solid "
    "#e4e0d6; }\n"
    ".thumb svg { position: absolute; inset: 0; width: 100%; height: 100%; }\n"
    ".sheet { fill: none; stroke: #5b3380; stroke-width: 1%; }\n"
    ".fold { stroke: #0d6ba6; stroke-width: 1%; stroke-dasharray: 3% 2%; }\n"
    ".skew { stroke: #a8480c; stroke-width: .7%; }\n"
    "h2 { font-size: .95rem; margin: 0 0 .5rem; overflow-wrap: anywhere; }\n"
    "p { margin: .5rem 0 0; font-size: .85rem; }\n.why { color: #8a3a08; font-weight: 600; }\n"
    ".legend span { display: inline-block; margin-right: 1.2rem; font-size: .85rem; }\n"
    ".legend i { display: inline-block; width: 1.6rem; height: .3rem; margin-right: .4rem; "
    "vertical-align: middle; }\n";

}  // namespace

std::string survey_tsv(const std::vector<ScanSurvey>& scans) {
  std::string text;
  const Json names = json_of(ScanSurvey{});
  for (const auto& [name, value] : names.items()) text += (text.empty() ? "" : "\t") + name;
  text += '\n';
  for (const ScanSurvey& s : scans) {
    std::string row;
    const Json page = json_of(s);
    bool first = true;
    for (const auto& [name, value] : page.items()) {
      if (!first) row += '\t';
      first = false;
      row += cell_of(value);
    }
    text += row + '\n';
  }
  return text;
}

std::string survey_json(const std::vector<ScanSurvey>& scans) {
  Json all;
  all["pages"] = Json::array();
  for (const ScanSurvey& s : scans) all["pages"].push_back(json_of(s));
  return json_text(all, 2) + "\n";
}

std::string survey_html(const std::vector<ScanSurvey>& scans) {
  size_t wanted = 0;
  std::string cards;
  for (const ScanSurvey& s : scans) {
    wanted += !s.look.empty();
    const std::string name = s.page > 1 ? fmt::format("{}, page {}", s.file, s.page) : s.file;
    cards += fmt::format("<article class=\"scan{}\">\n<h2>{}</h2>\n", s.look.empty() ? "" : " look",
                         escaped(name));
    if (!s.thumbnail.empty()) {
      const Picture thumbnail = s.thumbnail.clone();
      cards += fmt::format("<div class=\"thumb\">{}{}</div>\n", html_picture(thumbnail, name),
                           drawing(s));
    }
    cards += fmt::format("<p>{}</p>\n", escaped(findings(s)));
    for (const std::string& reason : s.look)
      cards += fmt::format("<p class=\"why\">{}</p>\n", escaped(reason));
    cards += "</article>\n";
  }
  const std::string body = fmt::format(
      "<h1>Survey: {} {}, {} to look at</h1>\n<p class=\"legend\"><span><i "
      "style=\"background:#5b3380\"></i>the sheet within dark borders</span><span><i "
      "style=\"background:#0d6ba6\"></i>fold between two pages</span><span><i "
      "style=\"background:#a8480c\"></i>how the lines stand</span><span>Framed: wants a person's "
      "eye</span></p>\n<div class=\"scans\">\n{}</div>\n",
      scans.size(), scans.size() == 1 ? "scan" : "scans", wanted, cards);
  return html_page("Survey", kStyle, body);
}

}  // namespace burnisher::report
