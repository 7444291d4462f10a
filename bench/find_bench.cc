// What searching finds on pages with known truth, and how fast it is:
//   find_bench curves TRUTH READ MODELS SEED COUNT [--fit | CHART.png]
// TRUTH: a folder of PAGE XML with what is printed; READ: a job that read those pages. COUNT words
// of the truth are sought, drawn by SEED. Prints a table of recall and precision of a search for
// the word as read, of edit distances 1 and 2, and of near matching by least probability. With
// --fit, what speaks for every candidate and whether it was one, and the logistic regression of it.
//   find_bench pages FOLDER TEXT WORDS
// Writes PAGE XML of made-up pages of TEXT, so many words of it in all, with readings, doubts and
// places as `run` writes them.
#include <fmt/core.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <set>
#include <sstream>

#include "base/edit_distance.h"
#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/random.h"
#include "base/unicode.h"
#include "correct/confusion_model.h"
#include "find/gather.h"
#include "find/search.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"
#include "report/chart.h"

using namespace burnisher;
namespace fs = std::filesystem;

namespace {

class Silent : public Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string& message) override { std::fprintf(stderr, "%s\n", message.c_str()); }
  void say(const std::string&) override {}
};

// The word without the signs round it, and what signs part it into.
std::vector<std::string> parts_of(const std::string& word) {
  const std::u32string list = utf32_of(word);
  const auto [first, end] = find::core_of(list);
  const auto cut = [&](size_t from, size_t to) { return utf8_of(list.substr(from, to - from)); };
  std::vector<std::string> parts = {cut(first, end)};
  for (size_t at = first; at < end; ++at) {
    size_t behind = at;
    while (behind < end && find::in_word(list[behind])) ++behind;
    if (behind > at && behind - at < end - first) parts.push_back(cut(at, behind));
    at = behind;
  }
  return parts;
}

bool is_word(const std::string& text) {
  const std::vector<char32_t> list = decode_utf8(text);
  return list.size() >= 4 && std::all_of(list.begin(), list.end(), is_letter);
}

// How often each word stands on each page: by page name.
using Counts = std::map<std::string, std::map<std::string, int>>;

Counts truth_in(const std::string& folder) {
  Counts counts;
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (entry.path().extension() != ".xml") continue;
    const Page page = read_page_xml_file(entry.path()).page;
    auto& words = counts[entry.path().stem()];
    for (const Block& block : page.blocks)
      for (const Line& line : block.lines) {
        std::istringstream parts(line.text());
        for (std::string part; parts >> part;)
          for (const std::string& one : parts_of(part)) ++words[one];
      }
  }
  return counts;
}

struct Candidate {
  std::string page;
  size_t sought = 0;
  double rank = 0;  // the higher, the likelier
  find::Evidence evidence;
  bool misread = false;
};

struct Point {
  double recall = 0, precision = 0;
};

// Of the candidates of at least this rank: those that stand on the page are right, as often as they
// stand there.
Point measured(std::vector<Candidate> candidates, double least, const Counts& truth,
               const std::vector<std::string>& sought, double all) {
  std::stable_sort(candidates.begin(), candidates.end(),
                   [](const auto& a, const auto& b) { return a.rank > b.rank; });
  std::map<std::pair<std::string, size_t>, int> left;
  double right = 0, found = 0;
  for (const Candidate& one : candidates) {
    if (one.rank < least) break;
    ++found;
    const auto key = std::make_pair(one.page, one.sought);
    if (left.count(key) == 0) {
      const auto page = truth.find(one.page);
      const auto word = page->second.find(sought[one.sought]);
      left[key] = word == page->second.end() ? 0 : word->second;
    }
    if (left[key]-- > 0) ++right;
  }
  return {right / all, found > 0 ? right / found : 1};
}

std::string name_of_page(const find::Index& index, int64_t page) {
  return fs::path(index.page(page).scan).stem();
}

// Words of the read pages within an edit distance.
std::vector<Candidate> by_distance(const find::Index& index, const Counts& truth,
                                   const std::vector<std::string>& sought, int most) {
  std::vector<Candidate> list;
  std::map<find::FormNumber, std::vector<std::pair<size_t, int>>> near;
  index.each_form([&](find::FormNumber number, std::string_view text) {
    for (size_t s = 0; s < sought.size(); ++s) {
      const auto word = decode_utf8(sought[s]);
      int least = most + 1;
      for (const std::string& part : parts_of(std::string(text))) {
        const auto form = decode_utf8(part);
        const auto a = static_cast<int>(form.size()), b = static_cast<int>(word.size());
        if (std::abs(a - b) <= most) least = std::min(least, edit_distance(form, word));
      }
      if (least <= most) near[number].emplace_back(s, least);
    }
  });
  for (const auto& document : index.documents())
    index.each_page(document.id, false, [&](const find::Index::PackedPage& page) {
      const std::string name = name_of_page(index, page.id);
      if (truth.count(name) == 0) return true;
      for (const find::IndexedWord& word : index.words(page.id).words) {
        const auto found = near.find(word.joined != 0 ? word.joined : word.form);
        if (found == near.end()) continue;
        for (const auto& [s, distance] : found->second)
          list.push_back({name, s, -static_cast<double>(distance), {}, distance != 0});
      }
      return true;
    });
  return list;
}

using Vector = Eigen::Matrix<double, find::kFeatures, 1>;
using Matrix = Eigen::Matrix<double, find::kFeatures, find::kFeatures>;

void fit(const std::vector<Candidate>& candidates, const Counts& truth,
         const std::vector<std::string>& sought) {
  // Labels as `measured` gives them, best candidates first.
  std::vector<Candidate> sorted = candidates;
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const auto& a, const auto& b) { return a.rank > b.rank; });
  std::map<std::pair<std::string, size_t>, int> left;
  std::vector<Vector> rows;
  std::vector<double> labels;
  for (const Candidate& one : sorted) {
    const auto key = std::make_pair(one.page, one.sought);
    if (left.count(key) == 0) {
      const auto& words = truth.at(one.page);
      const auto word = words.find(sought[one.sought]);
      left[key] = word == words.end() ? 0 : word->second;
    }
    const bool right = left[key]-- > 0;
    if (!one.misread) continue;
    const auto features = find::features_of(one.evidence);
    rows.push_back(Eigen::Map<const Vector>(features.data()));
    labels.push_back(right ? 1 : 0);
  }
  // Newton's method with a little weight decay.
  Vector weights = Vector::Zero();
  for (int round = 0; round < 50; ++round) {
    Vector gradient = -0.1 * weights;
    Matrix curvature = 0.1 * Matrix::Identity();
    for (size_t i = 0; i < rows.size(); ++i) {
      const double p = 1 / (1 + std::exp(-weights.dot(rows[i])));
      gradient += (labels[i] - p) * rows[i];
      curvature += p * (1 - p) * rows[i] * rows[i].transpose();
    }
    weights += curvature.ldlt().solve(gradient);
  }
  double right = 0;
  for (const double label : labels) right += label;
  fmt::print("{} candidates that were read otherwise, {} of them right\nweights:", rows.size(),
             right);
  for (const double weight : weights) fmt::print(" {:.3f}", weight);
  fmt::print("\n");
}

int curves(const std::vector<std::string>& a) {
  const bool with_fit = a.back() == "--fit";
  const Counts truth = truth_in(a[0]);
  std::vector<std::string> others;
  find::Index index("", find::Database::Use::kWrite);
  Silent silent;
  find::update(index, find::documents_at(a[1], others), silent);
  std::set<std::string> all_words;
  for (const auto& [page, words] : truth)
    for (const auto& [word, count] : words)
      if (is_word(word)) all_words.insert(word);
  std::vector<std::string> pool(all_words.begin(), all_words.end()), sought;
  Random random(static_cast<uint64_t>(number_in(a[3]).value_or(1)));
  const auto count = static_cast<size_t>(number_in(a[4]).value_or(200));
  while (sought.size() < count && !pool.empty()) {
    const auto at = static_cast<size_t>(random.index(pool.size()));
    sought.push_back(pool[at]);
    pool.erase(pool.begin() + static_cast<long>(at));
  }
  double all = 0;
  for (const auto& [page, words] : truth)
    for (const std::string& word : sought) {
      const auto found = words.find(word);
      if (found != words.end()) all += found->second;
    }
  find::SearchSettings settings;
  settings.near = true;
  settings.least_probability = with_fit ? 0 : 0.01;
  settings.confusions = correct::misreadings_of_letters(
      correct::read_confusion_model(a[2] + "/latin.confusions.json"));
  std::vector<Candidate> near;
  for (const find::Hit& hit : find::search(index, sought, settings)) {
    const std::string page = name_of_page(index, hit.parts.front().page);
    if (truth.count(page) > 0)
      near.push_back(
          {page, hit.sought, hit.probability + (hit.misread ? 0 : 1), hit.evidence, hit.misread});
  }
  if (with_fit) {
    fit(near, truth, sought);
    return 0;
  }
  fmt::print(
      "{} words, {:.0f} places on {} pages\n\n| search | recall | precision |\n|---|---|---|\n",
      sought.size(), all, truth.size());
  const std::vector<Candidate> distance = by_distance(index, truth, sought, 2);
  for (int most = 0; most <= 2; ++most) {
    const Point p = measured(distance, -most, truth, sought, all);
    fmt::print("| edit distance {} | {:.1f} % | {:.1f} % |\n", most, 100 * p.recall,
               100 * p.precision);
  }
  for (const double least : {0.9, 0.75, 0.5, 0.25, 0.1, 0.05, 0.02}) {
    const Point p = measured(near, least, truth, sought, all);
    fmt::print("| near, from {:.0f} % on | {:.1f} % | {:.1f} % |\n", 100 * least, 100 * p.recall,
               100 * p.precision);
  }
  if (a.size() < 6) return 0;
  report::Chart chart;
  chart.title = "Words sought on worn and typed pages";
  chart.x_label = "recall, %";
  chart.y_label = "precision, %";
  report::ChartSeries by_probability{"near, by probability", {}, false},
      by_edits{"edit distance 0, 1, 2", {}, true};
  for (double least = 0.95; least > 0.012; least *= 0.93) {
    const Point p = measured(near, least, truth, sought, all);
    by_probability.points.push_back({100 * p.recall, 100 * p.precision});
  }
  for (int most = 0; most <= 2; ++most) {
    const Point p = measured(distance, -most, truth, sought, all);
    by_edits.points.push_back({100 * p.recall, 100 * p.precision});
  }
  chart.series = {by_probability, by_edits};
  write_file(a[5], write_png(Picture(report::chart_picture(chart)), 0));
  return 0;
}

int pages(const std::vector<std::string>& a) {
  constexpr int kWordsOnPage = 330, kWordsOnLine = 10;
  const auto bytes = read_file(a[1]);
  std::istringstream text(std::string(bytes.begin(), bytes.end()));
  const int wanted = static_cast<int>(number_in(a[2]).value_or(0));
  fs::create_directories(a[0]);
  Random random(1);
  std::string token;
  for (int word = 0, number = 1; word < wanted; ++number) {
    Page page;
    page.file = fmt::format("page-{:05}.jpg", number);
    page.width = 1700;
    page.height = 2500;
    page.geometry = {PlaneMap(), page.width, page.height};
    Block block;
    block.outline = Box{100, 100, 1600, 2400}.corners();
    for (int i = 0; i < kWordsOnPage; i += kWordsOnLine) {
      Line line;
      double x = 120;
      const double y = 120 + 60.0 * (i / kWordsOnLine);
      for (int k = 0; k < kWordsOnLine; ++k, ++word) {
        if (!(text >> token)) {
          text.clear();
          text.seekg(0);
          text >> token;
        }
        Word one;
        one.text = token;
        one.confidence = one.network_confidence = random.uniform(0.8, 1);
        double glyph = x;
        for (const char32_t c : decode_utf8(token)) {
          one.glyphs.push_back({c, {glyph, y, glyph + 14, y + 30}, one.confidence});
          glyph += 15;
        }
        one.box = {x, y, glyph, y + 30};
        x = glyph + 12;
        if (random.chance(0.1)) {
          std::string other = token;
          other[static_cast<size_t>(random.index(other.size()))] =
              static_cast<char>('a' + random.index(26));
          one.readings.push_back({other, random.uniform(0.01, 0.4)});
          one.error_probability = random.uniform(0.05, 0.6);
          one.reasons = kUnsure;
          if (random.chance(0.2)) std::swap(one.text, one.readings[0].text);
        } else {
          one.error_probability = 0.004;
        }
        line.words.push_back(std::move(one));
      }
      line.box = {120, y, x, y + 30};
      line.baseline = {{120, y + 25}, {x, y + 25}};
      line.x_height = 15;
      line.confidence = 0.95;
      line.language = "en";
      block.lines.push_back(std::move(line));
    }
    page.blocks.push_back(std::move(block));
    write_file(fmt::format("{}/page-{:05}.xml", a[0], number), write_page_xml(page, page.file));
  }
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  const std::vector<std::string> all(argv + 1, argv + argc);
  try {
    if (all.size() >= 6 && all[0] == "curves") return curves({all.begin() + 1, all.end()});
    if (all.size() == 4 && all[0] == "pages") return pages({all.begin() + 1, all.end()});
    std::fprintf(stderr,
                 "usage: find_bench curves TRUTH READ MODELS SEED COUNT [--fit]\n       find_bench "
                 "pages FOLDER TEXT WORDS\n");
    return 2;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "find_bench: %s\n", error.what());
    return 1;
  }
}
