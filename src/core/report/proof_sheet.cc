#include "report/proof_sheet.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include "base/json.h"

#include "base/base64.h"
#include "correct/decisions.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/turn.h"
#include "report/html.h"
#include "report/proof_page.h"

namespace burnisher::report {
namespace {

// Pixels; JPEG qualities of leaves and of words' strips.
constexpr int kLeafWidth = 850, kLeafQuality = 45, kStripQuality = 70;
constexpr double kMargin = 0.5;       // heights of the line above and below it
constexpr double kLongestReach = 14;  // line heights to either side of the word

std::string file_name(const Page& page) {
  return std::filesystem::path(page.file).filename();
}

nlohmann::json box_json(const Box& box, double scale = 1) {
  return {std::lround(scale * box.x0), std::lround(scale * box.y0),
          std::lround(scale * box.width()), std::lround(scale * box.height())};
}

std::string jpeg_source(const Gray& picture, int quality) {
  return "data:image/jpeg;base64," + base64(write_jpeg(picture, quality));
}

// How much smaller the page is shown.
int leaf_factor(int width) {
  return std::max(1, static_cast<int>(std::lround(static_cast<double>(width) / kLeafWidth)));
}

// Every word as a row, for the page view (see proof_page.cc).
nlohmann::json words_json(const Page& page, const std::map<const Word*, size_t>& suspects) {
  nlohmann::json words = nlohmann::json::array();
  int number = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        nlohmann::json row = {word.text};
        for (const auto& value : box_json(placed(word.box, page, Positions::kScan)))
          row.push_back(value);
        for (const auto& value : box_json(word.box, 1.0 / leaf_factor(page.width)))
          row.push_back(value);
        const auto suspect = suspects.find(&word);
        row.push_back(number);
        row.push_back(suspect == suspects.end() ? -1 : static_cast<int>(suspect->second));
        words.push_back(std::move(row));
      }
      ++number;
    }
  }
  return words;
}

struct LineText {
  std::string before, after;
};

LineText round_word(const Line& line, const Word& word) {
  LineText text;
  bool met = false;
  for (const Word& w : line.words) {
    if (&w == &word) {
      met = true;
      continue;
    }
    if (met)
      text.after += " " + w.text;
    else
      text.before += w.text + " ";
  }
  return text;
}

nlohmann::json item_json(const ProofItem& item, const Page& page, const Gray& picture,
                         nlohmann::json& strips) {
  const Box scan = placed(item.word->box, page, Positions::kScan);
  const LineText text = round_word(*item.line, *item.word);
  nlohmann::json json = {
      {"id", correct::id_of(page, scan, item.word->text)},
      {"file", file_name(page)},
      {"number", page.number},
      {"box", box_json(scan)},
      {"hash", correct::perceptual_hash(picture, item.word->box)},
      {"read", item.word->text},
      {"lineBefore", text.before},
      {"lineAfter", text.after},
      {"reason", reasons_in_words(item.word->reasons)},
      {"error_probability", std::round(1000 * item.word->error_probability) / 1000},
      {"suggestions", item.suggestions},
      {"leaf", item.page},
      {"inLeaf", box_json(item.word->box, 1.0 / leaf_factor(page.width))},
      {"strip", nullptr}};
  if (picture.empty()) return json;
  const LineCut cut = line_cut(picture, *item.line, *item.word);
  json["strip"] = strips.size();
  json["inStrip"] = box_json(cut.word);
  strips.push_back(
      {{"src", jpeg_source(cut.picture, kStripQuality)}, {"width", cut.picture.width()}});
  return json;
}

}  // namespace

std::string reasons_in_words(unsigned reasons) {
  std::string text;
  const auto add = [&](unsigned reason, const char* words) {
    if (reasons & reason) text += (text.empty() ? "" : ", ") + std::string(words);
  };
  add(kUnsure, "not clearly seen");
  add(kUnknown, "not in the lexicon");
  add(kOdd, "an odd mixture");
  return text;
}

LineCut line_cut(const Gray& page, const Line& line, const Word& word) {
  const double height = std::max(8.0, word.box.height());
  const int x0 = std::clamp(
      static_cast<int>(std::max(line.box.x0 - height, word.box.x0 - kLongestReach * height)), 0,
      page.width() - 1);
  const int x1 = std::clamp(
      static_cast<int>(std::min(line.box.x1 + height, word.box.x1 + kLongestReach * height)) + 1,
      x0 + 1, page.width());
  const int y0 =
      std::clamp(static_cast<int>(word.box.y0 - (kMargin + 0.5) * height), 0, page.height() - 1);
  const int y1 = std::clamp(static_cast<int>(word.box.y1 + (kMargin + 0.5) * height) + 1, y0 + 1,
                            page.height());
  return {cut_out(page, x0, y0, x1, y1),
          {word.box.x0 - x0, word.box.y0 - y0, word.box.x1 - x0, word.box.y1 - y0}};
}

std::string proof_html(const ProofSheet& sheet, bool most_doubtful_first) {
  nlohmann::json pages = nlohmann::json::array(), items = nlohmann::json::array(),
                 strips = nlohmann::json::array();
  std::string identity;
  auto item = sheet.items.begin();
  for (size_t p = 0; p < sheet.pages.size(); ++p) {
    const Page& page = *sheet.pages[p];
    const Gray picture = sheet.picture(p);
    std::map<const Word*, size_t> suspects;
    for (auto one = item; one != sheet.items.end() && one->page == p; ++one)
      suspects[one->word] = static_cast<size_t>(one - sheet.items.begin());
    pages.push_back(
        {{"name", fmt::format("page {} of {}", page.number, file_name(page))},
         {"file", file_name(page)},
         {"number", page.number},
         {"height", page.height / leaf_factor(page.width)},
         {"words", words_json(page, suspects)},
         {"src", picture.empty()
                     ? std::string()
                     : jpeg_source(reduced(picture, leaf_factor(picture.width())), kLeafQuality)}});
    identity += page.file + "|";
    for (; item != sheet.items.end() && item->page == p; ++item) {
      items.push_back(item_json(*item, page, picture, strips));
      identity += items.back()["id"].get<std::string>();
    }
  }
  const nlohmann::json data = {{"title", sheet.title},
                               {"id", fmt::format("{:016x}", std::hash<std::string>()(identity))},
                               {"order", most_doubtful_first ? "doubt" : "reading"},
                               {"pages", pages},
                               {"items", items},
                               {"strips", strips}};
  return html_page(sheet.title, kProofStyle,
                   std::string(kProofBody) + "<script>\nconst sheet = " +
                       within_script(json_text(data)) + ";\n" + kProofScript + "</script>\n");
}

}  // namespace burnisher::report
