#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "cli/commands.h"
#include "page/block_kind.h"
#include "report/score_report.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct ScoreOptions {
  std::string result, truth, earlier, tsv, html, images;
  int confusions = 15;
  bool json = false, overwrite = false;
};

struct Pair {
  std::string name;
  fs::path result, truth;
};

// One pair of files, or those of two folders that share a name but for the ending.
std::vector<Pair> pairs_of(const std::string& results, const ScoreOptions& o, Console& console) {
  if (!fs::is_directory(o.truth)) return {{fs::path(o.truth).stem(), results, o.truth}};
  std::vector<Pair> pairs;
  for (const auto& entry : fs::directory_iterator(o.truth)) {
    const fs::path truth = entry.path();
    if (truth.extension() != ".txt" && truth.extension() != ".xml") continue;
    Pair pair{truth.stem(), {}, truth};
    for (const char* ending : {".xml", ".txt"}) {
      const fs::path result = fs::path(results) / (pair.name + ending);
      if (pair.result.empty() && fs::exists(result)) pair.result = result;
    }
    if (pair.result.empty())
      console.warn(truth.string() + ": has no result in " + results + "; counted as not read");
    pairs.push_back(pair);
  }
  std::sort(pairs.begin(), pairs.end(),
            [](const Pair& a, const Pair& b) { return a.name < b.name; });
  return pairs;
}

std::string shown(char32_t c) {
  if (c == 0) return "nothing";
  return c == U' ' ? "space" : encode_utf8(c);
}

std::vector<std::pair<score::Confusion, int>> commonest(const score::Comparison& c, int count) {
  std::vector<std::pair<score::Confusion, int>> list(c.confusions.begin(), c.confusions.end());
  std::stable_sort(list.begin(), list.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  if (static_cast<int>(list.size()) > count) list.resize(static_cast<size_t>(count));
  return list;
}

std::string row_of(const std::string& name, const score::Comparison& c) {
  return fmt::format("{}\t{}\t{}\t{:.2f}\t{}\t{:.2f}\t{:.2f}\n", name, c.characters,
                     c.character_errors, 100 * c.cer(), c.words, 100 * c.wer(),
                     100 * c.order_free());
}

nlohmann::json json_of(const std::string& name, const score::Comparison& c) {
  nlohmann::json classes, confusions = nlohmann::json::array();
  for (const auto& [klass, e] : c.classes)
    classes[score::name_of(klass)] = {{"characters", e.characters}, {"errors", e.errors}};
  for (const auto& [pair, count] : commonest(c, 1000)) {
    confusions.push_back({{"truth", pair.truth ? encode_utf8(pair.truth) : ""},
                          {"read", pair.read ? encode_utf8(pair.read) : ""},
                          {"count", count}});
  }
  return {{"name", name},
          {"characters", c.characters},
          {"errors", c.character_errors},
          {"cer", c.cer()},
          {"wer", c.wer()},
          {"order_free_f1", c.order_free()},
          {"lines_missing", c.lines_missing},
          {"lines_extra", c.lines_extra},
          {"classes", classes},
          {"confusions", confusions}};
}

template <typename Key, typename Name>
void print_shares(const char* title, const std::map<Key, score::Comparison::ClassErrors>& of,
                  const Name& name) {
  fmt::print("\n{:24} {:>8} {:>8} {:>8}\n", title, "there", "wrong", "%");
  for (const auto& [key, e] : of) {
    fmt::print("{:24} {:8} {:8} {:8.2f}\n", name(key), e.characters, e.errors,
               100.0 * e.errors / std::max(1, e.characters));
  }
}

void print_confusions(const score::Comparison& all, int confusions) {
  if (all.confusions.empty()) return;
  fmt::print("\nread as something else, most often first:\n");
  for (const auto& [pair, count] : commonest(all, confusions))
    fmt::print("{:6}  {} read as {}\n", count, shown(pair.truth), shown(pair.read));
}

void print_certainty(const score::Certainty& certainty) {
  if (certainty.words() == 0) return;
  fmt::print("\n{:24} {:>8} {:>8} {:>8}\n", "confidence of words", "words", "mean %", "right %");
  for (size_t i = 0; i < certainty.steps.size(); ++i) {
    const auto& s = certainty.steps[i];
    if (s.words == 0) continue;
    fmt::print("{:.1f} to {:.1f}{:15} {:8} {:8.1f} {:8.1f}\n", 0.1 * static_cast<double>(i),
               0.1 * static_cast<double>(i + 1), "", s.words, 100 * s.confidence / s.words,
               100.0 * s.right / s.words);
  }
  fmt::print("expected calibration error {:.3f}\n", certainty.error());
}

// Every page of two results beside each other; the pages that changed most come first.
int compare_results(const ScoreOptions& o, Context& context) {
  struct Row {
    std::string name;
    score::Comparison before, now;
    int gained() const { return before.character_errors - now.character_errors; }
  };
  std::vector<Row> rows;
  Row all{"all", {}, {}};
  const std::vector<Pair> now = pairs_of(o.result, o, context.console);
  const std::vector<Pair> before = pairs_of(o.earlier, o, context.console);
  for (size_t i = 0; i < now.size(); ++i) {
    const std::string truth = score::read_document(now[i].truth).text;
    const auto scored = [&](const Pair& pair) {
      return score::compare(pair.result.empty() ? "" : score::read_document(pair.result).text,
                            truth);
    };
    rows.push_back({now[i].name, scored(before[i]), scored(now[i])});
    all.before.add(rows.back().before);
    all.now.add(rows.back().now);
  }
  std::stable_sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) {
    return std::abs(a.gained()) > std::abs(b.gained());
  });
  fmt::print("{:24} {:>8} {:>10} {:>10} {:>8} {:>8}\n", "page", "there", "earlier %", "now %",
             "mended", "broken");
  for (const Row* row : [&] {
         std::vector<const Row*> list;
         for (const Row& r : rows) list.push_back(&r);
         if (rows.size() > 1) list.push_back(&all);
         return list;
       }()) {
    fmt::print("{:24} {:8} {:10.2f} {:10.2f} {:8} {:8}\n", row->name, row->now.characters,
               100 * row->before.cer(), 100 * row->now.cer(), std::max(0, row->gained()),
               std::max(0, -row->gained()));
  }
  return kAllDone;
}

void print_page(const std::string& name, const score::Comparison& c) {
  fmt::print("{:24} {:8} {:8} {:8.2f} {:8.2f} {:8.2f}\n", name, c.characters, c.character_errors,
             100 * c.cer(), 100 * c.wer(), 100 * c.order_free());
}

void print_report(const report::ScoreReport& r, int confusions) {
  fmt::print("{:24} {:>8} {:>8} {:>8} {:>8} {:>8}\n", "page", "there", "wrong", "CER %", "WER %",
             "words %");
  for (const report::ScoredPage& page : r.pages) print_page(page.name, page.comparison);
  if (r.pages.size() > 1) print_page("all", r.all);
  fmt::print("\nlines missing {}, lines that nothing corresponds to {}\n", r.all.lines_missing,
             r.all.lines_extra);
  print_shares("class", r.all.classes, [](auto klass) { return score::name_of(klass); });
  if (!r.kinds.empty())
    print_shares("kind of block", r.kinds, [](BlockKind kind) { return name_of(kind); });
  print_confusions(r.all, confusions);
  print_certainty(r.certainty);
}

void print_json(const report::ScoreReport& r) {
  nlohmann::json pages = nlohmann::json::array(), kinds = nlohmann::json::object();
  for (const report::ScoredPage& page : r.pages)
    pages.push_back(json_of(page.name, page.comparison));
  for (const auto& [kind, e] : r.kinds)
    kinds[name_of(kind)] = {{"characters", e.characters}, {"errors", e.errors}};
  nlohmann::json report = {{"pages", pages}, {"all", json_of("all", r.all)}, {"kinds", kinds}};
  if (r.certainty.words() > 0) report["expected_calibration_error"] = r.certainty.error();
  fmt::print("{}\n", json_text(report, 2));
}

std::string table_of(const report::ScoreReport& r) {
  std::string table = "name\tcharacters\terrors\tcer_percent\twords\twer_percent\torder_free_f1\n";
  for (const report::ScoredPage& page : r.pages) table += row_of(page.name, page.comparison);
  return table + row_of("all", r.all);
}

// Pictures are for the page of errors only.
std::string pictures_of(const Pair& pair, const ScoreOptions& o) {
  if (o.html.empty() || !o.images.empty()) return o.html.empty() ? "" : o.images;
  const fs::path beside = pair.result.parent_path();
  return beside.empty() ? "." : beside.string();
}

int score_all(const ScoreOptions& o, Context& context) {
  for (const std::string& path : {o.tsv, o.html}) {
    if (!path.empty()) check_target(path, o.overwrite);
  }
  if (!o.earlier.empty()) return compare_results(o, context);
  const std::vector<Pair> pairs = pairs_of(o.result, o, context.console);
  if (pairs.empty()) throw InputError(o.truth + ": no .txt or .xml file in it");
  report::ScoreReport r;
  for (const Pair& pair : pairs) {
    const score::Document truth = score::read_document(pair.truth);
    const score::Document result =
        pair.result.empty() ? score::Document{} : score::read_document(pair.result);
    r.pages.push_back({pair.name, score::compare(result.text, truth.text)});
    r.all.add(r.pages.back().comparison);
    std::vector<std::pair<std::string, double>> words;
    for (const score::PlacedWord& word : result.words)
      words.emplace_back(word.text, word.confidence);
    r.certainty.add(score::certainty_of(words, truth.text));
    const score::Faults faults = score::faults_in(result, truth);
    for (const std::string& problem :
         report::add_faults(result, faults, pictures_of(pair, o), pair.name, r))
      context.console.warn(problem + "; its words are shown without pictures (see --images)");
  }
  if (o.json)
    print_json(r);
  else
    print_report(r, o.confusions);
  if (!o.tsv.empty()) write_file(o.tsv, table_of(r), o.overwrite);
  if (!o.html.empty()) write_file(o.html, report::score_html(r, o.confusions), o.overwrite);
  return kAllDone;
}

}  // namespace

void add_score(CommandLine& line, Context& context) {
  Command command =
      line.root().command("score", "a result against the truth: errors and what they are");
  auto o = std::make_shared<ScoreOptions>();
  command.option("result", o->result, "text, PAGE XML or ALTO, or a folder of such files")
      .required()
      .existing_path();
  command.option("truth", o->truth, "the same of the truth; in folders, names tell the pairs")
      .required()
      .existing_path();
  command.option("--compare", o->earlier, "an earlier result: what has changed since, page by page")
      .type_name("RESULT")
      .existing_path();
  command.option("--confusions", o->confusions, "how many pairs of characters to list")
      .between(0, 10000)
      .default_shown();
  command.option("--tsv", o->tsv, "write the table of pages here").type_name("FILE");
  command
      .option("--html", o->html,
              "write a page of the errors here, with pictures of words in PAGE XML and ALTO")
      .type_name("FILE");
  command
      .option("--images", o->images,
              "with --html: folder of the pictures that the result's places belong to "
              "(default: where the result lies)")
      .type_name("DIR")
      .existing_folder();
  command.flag("--json", o->json, "print everything as JSON on stdout");
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher score done/ truth/\n"
      "  burnisher score read/ truth/ --images pages/ --html errors.html\n"
      "  burnisher score round-2/ truth/ --compare round-1/\n"
      "CER: share of wrong characters. WER: of wrong words. words: how many words agree\n"
      "whatever their order; high there with a high CER, and the reading order is at fault.");
  command.action([o, &context] { return score_all(*o, context); });
}

}  // namespace burnisher::cli
