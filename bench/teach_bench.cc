// A document in one face with all that is known about it, and a person who names its glyphs, for
// measuring what teaching is worth (scripts/bench-teach):
//
//   teach_bench pages FACE SCRIPT TEXT FOLDER FIRST COUNT   COUNT pages in FACE from the lines of
//       TEXT (used up from line FIRST on): FOLDER/p-001.png, .txt (its text), .glyphs.tsv (where
//       each character is)
//   teach_bench name JOB FOLDER PILES OUT MODEL [REACH]   names the first PILES piles of the type
//   case of
//       JOB, as one who knows the truth would, into the table OUT; prints how pure the piles are
//   teach_bench curve FIGURES OUT                   draws them, a PNG
//   teach_bench lines JOB FOLDER LINES OUT MODEL    types LINES whole lines instead
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <map>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "compose/degrade.h"
#include "compose/typefaces.h"
#include "compose/typeset.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "recognise/languages.h"
#include "report/chart.h"
#include "teach/namings.h"
#include "teach/piles.h"

namespace burnisher {
namespace {

namespace fs = std::filesystem;

constexpr int kWidth = 1700, kHeight = 2300, kLines = 30, kLeft = 180, kTop = 230;
constexpr double kPitch = 64, kXHeight = 24;  // pixels, at 300 dpi
constexpr double kWhole = 0.7;                // of a character's ink: the picture shows it whole

std::vector<std::string> lines_of(const std::string& path) {
  std::ifstream in(path);
  std::vector<std::string> lines;
  for (std::string line; std::getline(in, line);) lines.push_back(line);
  return lines;
}

std::string page_name(int page) {
  char name[16];
  std::snprintf(name, sizeof name, "p-%03d", page);
  return name;
}

// Words of the text until the line is full.
std::vector<char32_t> next_line(const compose::TypefacePair& face, const compose::TypeStyle& style,
                                std::istringstream& words, Random& random) {
  std::vector<char32_t> line;
  for (std::string word; words >> word;) {
    std::vector<char32_t> longer = line;
    if (!longer.empty()) longer.push_back(U' ');
    for (const char32_t c : decode_utf8(word)) longer.push_back(c);
    const compose::SetLine set =
        compose::set_line(face, longer, runs_right_to_left(longer), style, random);
    if (set.width > kWidth - 2 * kLeft) {
      words.seekg(-static_cast<long>(word.size()) - 1, std::ios::cur);
      break;
    }
    line = std::move(longer);
  }
  return line;
}

void make_pages(const std::string& file, const std::string& script, const std::string& text,
                const std::string& folder, int first, int count) {
  FT_Library library = nullptr;
  FT_Init_FreeType(&library);
  {
    compose::TypefaceEntry entry;
    entry.file = file;
    entry.scripts = script;
    const compose::Typeface face(library, entry);
    fs::create_directories(folder);
    std::string all;
    const std::vector<std::string> source = lines_of(text);
    for (size_t i = static_cast<size_t>(first); i < source.size() && all.size() < 400000; ++i)
      all += source[i] + " ";
    std::istringstream words(all);
    for (int page = 1; page <= count; ++page) {
      Random random(static_cast<uint64_t>(first + page));
      compose::TypeStyle style;
      style.x_height = kXHeight;
      style.wander = 0.004;
      style.ink_spread = 0.2;
      FloatImage ink(kWidth, kHeight);
      std::string truth, glyphs = "line\tbaseline\tleft\tright\tcharacter\n";
      for (int l = 0; l < kLines; ++l) {
        const std::vector<char32_t> line = next_line({&face, nullptr}, style, words, random);
        const compose::SetLine set =
            compose::set_line({&face, nullptr}, line, runs_right_to_left(line), style, random);
        const double baseline = kTop + l * kPitch;
        compose::print_line(set, style, kLeft, baseline, ink);
        truth += encode_utf8(line) + "\n";
        // Characters from left to right; each reaches half-way to its neighbours.
        std::vector<std::pair<double, char32_t>> placed;
        for (size_t i = 0; i < line.size(); ++i)
          placed.emplace_back(set.characters[i].centre, line[i]);
        std::stable_sort(placed.begin(), placed.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
        for (size_t i = 0; i < placed.size(); ++i) {
          const double left = i > 0 ? (placed[i - 1].first + placed[i].first) / 2 : 0;
          const double right =
              i + 1 < placed.size() ? (placed[i].first + placed[i + 1].first) / 2 : set.width;
          char row[160];
          std::snprintf(row, sizeof row, "%d\t%.1f\t%.1f\t%.1f\t%s\n", l + 1, baseline,
                        kLeft + left, kLeft + right, encode_utf8(placed[i].second).c_str());
          glyphs += row;
        }
      }
      compose::ScanDamage damage = compose::draw_damage(compose::ScanLevel::kClean, random);
      damage.threshold = compose::Threshold::kNone;
      damage.inverse = false;
      compose::press(ink, kXHeight, damage, random);
      const Gray scan = compose::scan(ink, nullptr, kXHeight, damage, random);
      const std::string stem = folder + "/" + page_name(page);
      write_file(stem + ".png", write_png(Picture(scan.clone()), 300));
      write_file(stem + ".txt", truth);
      write_file(stem + ".glyphs.tsv", glyphs);
    }
  }
  FT_Done_FreeType(library);
}

struct TrueCharacter {
  int line;
  double baseline, left, right;
  std::string character;
};

// By the name of the scan.
std::map<std::string, std::vector<TrueCharacter>> truth_in(const std::string& folder) {
  std::map<std::string, std::vector<TrueCharacter>> all;
  for (const auto& entry : fs::directory_iterator(folder)) {
    const std::string name = entry.path().filename();
    const size_t ending = name.find(".glyphs.tsv");
    if (ending == std::string::npos) continue;
    const std::vector<std::string> rows = lines_of(entry.path().string());
    for (size_t i = 1; i < rows.size(); ++i) {
      std::istringstream row(rows[i]);
      TrueCharacter one;
      row >> one.line >> one.baseline >> one.left >> one.right;
      row.get();
      std::getline(row, one.character);
      all[name.substr(0, ending)].push_back(one);
    }
  }
  return all;
}

struct Document {
  std::vector<PageFile> files;
  teach::TypeCase type_case;
  std::map<std::string, PlaneMap> to_scan;  // by page file
};

Document read_document(const std::string& job, const std::string& model) {
  Document document;
  std::vector<Problem> problems;
  std::vector<teach::CasePage> pages;
  for (const std::string& path : page_files({job}, problems))
    document.files.push_back(read_page_file(path));
  for (const PageFile& file : document.files) {
    pages.push_back({fs::path(file.path).stem().string(), &file.pages.front()});
    document.to_scan[pages.back().file] = file.pages.front().geometry.to_scan;
  }
  const recognise::Bundle bundle = recognise::read_bundle(model);
  const recognise::Languages languages(bundle.spelling);
  const recognise::Reader reader(bundle, languages, recognise::precision_of_processor());
  document.type_case = teach::type_case_of(
      pages, [&](size_t i) { return to_gray(page_picture(document.files[i], "")); }, reader, true,
      [](size_t) {});
  return document;
}

// What a glyph picture says; "": it is no whole character, or not to be told.
std::string truth_of(const Document& document, const teach::CaseLine& line, double x0, double x1,
                     const std::vector<TrueCharacter>& characters) {
  const PlaneMap& map = document.to_scan.at(line.file);
  const Point a = map(line.start + Point{x0 * line.height, 0}),
              b = map(line.start + Point{x1 * line.height, 0});
  std::vector<char32_t> said;
  double from = 1e9, to = -1e9;
  for (const TrueCharacter& c : characters) {
    if (std::abs(c.baseline - a.y) > kPitch / 3 || c.character == " ") continue;
    const double middle = (c.left + c.right) / 2;
    if (middle < a.x || middle >= b.x) continue;
    for (const char32_t one : decode_utf8(c.character)) said.push_back(one);
    from = std::min(from, c.left);
    to = std::max(to, c.right);
  }
  if (said.empty()) return "";
  // A part of a character has much less than all the ink of its place.
  double ink = 0, own = 0;
  const double inner = 0.1 * (to - from);
  for (const teach::GlyphPicture& other : line.glyphs) {
    const double x = map(line.start + Point{other.x0 * line.height, 0}).x;
    const double end = map(line.start + Point{other.x1 * line.height, 0}).x;
    const double here = std::min(end, to - inner) - std::max(x, from + inner);
    if (here <= 0) continue;
    ink += here;
    own += std::max(0.0, std::min({end, to - inner, b.x}) - std::max({x, from + inner, a.x}));
  }
  if (own < kWhole * ink) return "";
  return encode_utf8(logical_order(said, runs_right_to_left(said)));
}

std::string scan_of(const std::string& page_file) {
  return page_file.substr(0, page_file.rfind('-'));
}

teach::Naming naming_of(const teach::CaseLine& line) {
  teach::Naming naming;
  naming.file = line.file;
  naming.line = line.number;
  naming.start = line.start;
  return naming;
}

// Where most pictures of a pile are parts of one and the same character, all are joined with their
// neighbours, and named.
bool join_all(const Document& document, const teach::Pile& pile,
              std::map<std::string, std::vector<TrueCharacter>>& truth,
              std::vector<teach::Naming>& namings) {
  for (const int step : {1, -1}) {
    std::map<std::string, std::vector<teach::Naming>> joined;
    for (const teach::GlyphAt& at : pile.glyphs) {
      const teach::CaseLine& line = document.type_case.lines[at.line];
      const size_t other = at.glyph + static_cast<size_t>(step);
      if (other >= line.glyphs.size()) continue;
      teach::Naming naming = naming_of(line);
      naming.from = std::min(line.glyphs[at.glyph].x0, line.glyphs[other].x0);
      naming.to = std::max(line.glyphs[at.glyph].x1, line.glyphs[other].x1);
      naming.text = truth_of(document, line, naming.from, naming.to, truth[scan_of(line.file)]);
      if (decode_utf8(naming.text).size() == 1) joined[naming.text].push_back(naming);
    }
    for (const auto& [text, found] : joined) {
      if (2 * found.size() <= pile.glyphs.size()) continue;
      namings.insert(namings.end(), found.begin(), found.end());
      return true;
    }
  }
  return false;
}

void name_piles(const std::string& job, const std::string& folder, size_t most,
                const std::string& out, const std::string& model, double reach) {
  const Document document = read_document(job, model);
  auto truth = truth_in(folder);
  teach::PileSettings settings;
  if (reach > 0) settings.reach = reach;
  const std::vector<teach::Pile> piles = teach::piles_of(document.type_case, settings);
  std::vector<teach::Naming> namings;
  size_t all = 0, pure = 0, whole = 0, shown = 0;
  for (size_t p = 0; p < piles.size(); ++p) {
    std::map<std::string, size_t> kinds;
    std::vector<std::string> texts;
    for (const teach::GlyphAt& at : piles[p].glyphs) {
      const teach::CaseLine& line = document.type_case.lines[at.line];
      const teach::GlyphPicture& glyph = line.glyphs[at.glyph];
      texts.push_back(truth_of(document, line, glyph.x0, glyph.x1, truth[scan_of(line.file)]));
      ++kinds[texts.back()];
      whole += !texts.back().empty();
    }
    std::string name;
    for (const auto& [text, count] : kinds)
      if (name.empty() || count > kinds[name]) name = text;
    all += texts.size();
    pure += kinds[name];
    if (p >= most) continue;
    if (name.empty() && join_all(document, piles[p], truth, namings)) {
      shown += texts.size();
      continue;
    }
    shown += texts.size();
    for (size_t i = 0; i < texts.size(); ++i) {
      // Others are taken out of the pile, and what is no character is broken.
      if (!texts[i].empty() && texts[i] != name) continue;
      const teach::GlyphAt& at = piles[p].glyphs[i];
      const teach::CaseLine& line = document.type_case.lines[at.line];
      teach::Naming naming = naming_of(line);
      naming.from = line.glyphs[at.glyph].x0;
      naming.to = line.glyphs[at.glyph].x1;
      naming.what = texts[i].empty() ? teach::Naming::What::kBroken : teach::Naming::What::kGlyph;
      naming.text = texts[i];
      namings.push_back(naming);
    }
  }
  write_file(out, teach::write_namings(namings));
  std::printf(
      "%zu lines, %zu glyphs, %.1f %% of them whole characters; %zu piles, %.1f %% of the "
      "glyphs as most of their pile; %zu named on %zu piles of %zu glyphs\n",
      document.type_case.lines.size(), all,
      100.0 * static_cast<double>(whole) / static_cast<double>(all), piles.size(),
      100.0 * static_cast<double>(pure) / static_cast<double>(all), namings.size(),
      std::min(most, piles.size()), shown);
}

void type_lines(const std::string& job, const std::string& folder, size_t most,
                const std::string& out, const std::string& model) {
  const Document document = read_document(job, model);
  std::vector<teach::Naming> namings;
  for (const teach::CaseLine& line : document.type_case.lines) {
    if (namings.size() == most) break;
    const std::string scan = scan_of(line.file);
    const double y = document.to_scan.at(line.file)(line.start).y;
    const int number = static_cast<int>(std::lround((y - kTop) / kPitch));
    const std::vector<std::string> truth = lines_of(folder + "/" + scan + ".txt");
    if (number < 0 || number >= static_cast<int>(truth.size())) continue;
    teach::Naming naming = naming_of(line);
    naming.what = teach::Naming::What::kLine;
    naming.text = truth[static_cast<size_t>(number)];
    namings.push_back(naming);
  }
  write_file(out, teach::write_namings(namings));
  std::printf("%zu lines typed\n", namings.size());
}

// FIGURES: rows of document, way, minutes and CER (%), tabs between.
void draw_curve(const std::string& figures, const std::string& out) {
  report::Chart chart;
  chart.title = "What naming glyphs and typing lines are worth";
  chart.x_label = "minutes of a person";
  chart.y_label = "character errors, %";
  chart.logarithmic = true;
  for (const std::string& line : lines_of(figures)) {
    std::istringstream row(line);
    std::string document, way, minutes, errors;
    std::getline(row, document, '\t');
    std::getline(row, way, '\t');
    std::getline(row, minutes, '\t');
    std::getline(row, errors, '\t');
    const auto x = number_in(minutes), y = number_in(errors);
    if (!x || !y) continue;
    const std::string name = document + ", " + way;
    auto found = std::find_if(chart.series.begin(), chart.series.end(),
                              [&](const auto& series) { return series.name == name; });
    if (found == chart.series.end()) {
      chart.series.push_back({name, {}, true});
      found = chart.series.end() - 1;
    }
    found->points.push_back({*x, *y});
  }
  write_file(out, write_png(Picture(report::chart_picture(chart)), 0));
}

}  // namespace
}  // namespace burnisher

int main(int argc, char** argv) {
  using namespace burnisher;
  const std::string what = argc > 1 ? argv[1] : "";
  const auto number = [&](int i) { return static_cast<int>(number_in(argv[i]).value_or(0)); };
  try {
    if (what == "pages" && argc == 8)
      make_pages(argv[2], argv[3], argv[4], argv[5], number(6), number(7));
    else if (what == "name" && (argc == 7 || argc == 8))
      name_piles(argv[2], argv[3], static_cast<size_t>(number(4)), argv[5], argv[6],
                 argc == 8 ? number_in(argv[7]).value_or(0) : 0);
    else if (what == "lines" && argc == 7)
      type_lines(argv[2], argv[3], static_cast<size_t>(number(4)), argv[5], argv[6]);
    else if (what == "curve" && argc == 4)
      draw_curve(argv[2], argv[3]);
    else {
      std::fprintf(stderr,
                   "usage: teach_bench pages FACE SCRIPT TEXT FOLDER FIRST COUNT\n"
                   "       teach_bench name|lines JOB FOLDER HOW-MANY OUT MODEL [REACH]\n"
                   "       teach_bench curve FIGURES OUT\n");
      return 2;
    }
  } catch (const Error& error) {
    std::fprintf(stderr, "teach_bench: %s\n", error.what());
    return 1;
  }
  return 0;
}
