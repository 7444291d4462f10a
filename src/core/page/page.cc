#include "page/page.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher {

bool Line::right_to_left() const {
  return runs_right_to_left(decode_utf8(text()), script);
}

bool Block::right_to_left() const {
  int right = 0, left = 0;
  for (const Line& line : lines)
    if (!line.words.empty()) ++(line.right_to_left() ? right : left);
  return right > left;
}

std::string Line::text() const {
  std::string joined;
  for (const Word& word : words) {
    if (!joined.empty()) joined += ' ';
    joined += word.text;
  }
  return joined;
}

bool Line::runs_up_or_down() const {
  if (baseline.size() < 2) return false;
  const Point run = baseline.back() - baseline.front();
  return std::fabs(run.y) > 2 * std::fabs(run.x);
}

bool Page::has_words() const {
  for (const Block& block : blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      if (!line.words.empty()) return true;
    }
  }
  return false;
}

namespace {

// Mean of one of a word's values over the page, weighted by the words' lengths.
double mean_over_words(const Page& page, double Word::*value) {
  double sum = 0, weight = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        const auto characters = decode_utf8(word.text);
        // Leaders and lone signs say nothing about how well the page reads.
        if (std::none_of(characters.begin(), characters.end(),
                         [](char32_t c) { return is_letter(c) || is_digit(c); }))
          continue;
        const double length = static_cast<double>(characters.size());
        sum += length * word.*value;
        weight += length;
      }
    }
  }
  return weight > 0 ? sum / weight : 0;
}

}  // namespace

double Page::mean_confidence() const {
  return mean_over_words(*this, &Word::confidence);
}

double Page::mean_network_confidence() const {
  return mean_over_words(*this, &Word::network_confidence);
}

const char* side_suffix(int part) {
  return part == 1 ? "-left" : part == 2 ? "-right" : "";
}

Box placed(const Box& box, const Page& page, Positions positions) {
  if (positions == Positions::kPage) return box;
  return bounds(placed(box.corners(), page, positions));
}

Polyline placed(const Polyline& points, const Page& page, Positions positions) {
  if (positions == Positions::kPage) return points;
  Polyline moved;
  for (const Point& p : points) moved.push_back(page.geometry.to_scan(p));
  return moved;
}

namespace {

constexpr double kLeastShare = 0.1;  // of the letters; less is a quotation or a wrong guess

void count_languages(const Block& block, std::map<std::string, size_t>& letters) {
  for (const Line& line : block.lines) letters[line.language] += line.text().size();
}

}  // namespace

std::string Block::language() const {
  std::map<std::string, size_t> letters;
  count_languages(*this, letters);
  const auto most =
      std::max_element(letters.begin(), letters.end(),
                       [](const auto& a, const auto& b) { return a.second < b.second; });
  return most == letters.end() ? "" : most->first;
}

std::vector<std::string> Page::languages() const {
  return languages_of({this});
}

std::vector<std::string> languages_of(const std::vector<const Page*>& pages) {
  std::map<std::string, size_t> letters;
  for (const Page* page : pages) {
    for (const Block& block : page->blocks) {
      if (block.kind != BlockKind::kNoise) count_languages(block, letters);
    }
  }
  std::vector<std::pair<size_t, std::string>> ranked;
  size_t all = 0;
  for (const auto& [tag, count] : letters) {
    all += count;
    if (!tag.empty()) ranked.emplace_back(count, tag);
  }
  std::sort(ranked.rbegin(), ranked.rend());
  std::vector<std::string> tags;
  for (const auto& [count, tag] : ranked) {
    if (static_cast<double>(count) >= kLeastShare * static_cast<double>(all)) tags.push_back(tag);
  }
  return tags;
}

namespace {

constexpr int kLettersOfLine = 40;  // as many as a line usually has

}  // namespace

std::string Page::main_script() const {
  std::map<std::string, int> lines;
  for (const Block& block : blocks) {
    for (const Line& line : block.lines) {
      if (line.words.empty()) continue;
      // Files of other programs don't say how a line was read.
      for (const char32_t c : decode_utf8(line.script.empty() ? line.text() : ""))
        if (is_letter(c)) ++lines[script_of(c)];
      if (!line.script.empty()) lines[line.script] += kLettersOfLine;
    }
  }
  std::string main = "Latn";
  int most = 0;
  for (const auto& [script, count] : lines) {
    if (count > most) main = script;
    most = std::max(most, count);
  }
  return main;
}

}  // namespace burnisher
