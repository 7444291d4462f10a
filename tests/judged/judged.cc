#include "judged.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <sstream>

#include "base/edit_distance.h"
#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/unicode.h"
#include "clean/binarise.h"
#include "compose/families.h"
#include "intake/scan_file.h"
#include "page/block_kind.h"
#include "pagefile/page_xml.h"
#include "raster/jpeg.h"
#include "recognise/bundle.h"
#include "recognise/network.h"
#include "run/stages.h"
#include "score/layout_score.h"
#include "testing/painted_layout.h"

namespace burnisher::judged {
namespace {

namespace fs = std::filesystem;

constexpr int kOfEach = 3;  // pages of a family
constexpr int kGeometryPages = 3;
constexpr size_t kMostBytes = 64000;  // of a picture: all together stay below 5 MB
constexpr int kMostWords = 150;       // of a page
constexpr uint64_t kSeed = 0x6a7564676564ull, kGeometrySeed = 0x67656f6dull;

struct TextFile {
  const char* file;
  const char* script;
  bool right_to_left;
};
constexpr TextFile kTexts[] = {{"en", "Latn", false}, {"de", "Latn", false}, {"ru", "Cyrl", false},
                               {"el", "Grek", false}, {"ar", "Arab", true},  {"he", "Hebr", true}};

std::vector<compose::TypefaceEntry> faces() {
  const std::string liberation = "/usr/share/fonts/truetype/liberation/Liberation",
                    dejavu = "/usr/share/fonts/truetype/dejavu/DejaVu";
  const std::string european = "Latn,Cyrl,Grek";
  return {{liberation + "Serif-Regular.ttf", 0, "serif", false, "Serif", european},
          {liberation + "Serif-Italic.ttf", 0, "serif", false, "Serif", european},
          {liberation + "Sans-Regular.ttf", 0, "sans", false, "Sans", european},
          {liberation + "SansNarrow-Regular.ttf", 0, "sans", false, "Narrow", "Latn"},
          {liberation + "Mono-Regular.ttf", 0, "typewriter", false, "Mono", european},
          {dejavu + "Serif.ttf", 0, "serif", false, "DejaVu Serif", european},
          {dejavu + "SansMono.ttf", 0, "mono", false, "DejaVu Mono", european},
          {dejavu + "Sans.ttf", 0, "sans", false, "DejaVu Sans", european + ",Arab,Hebr"}};
}

std::string text_of_file(const std::string& path) {
  const std::vector<uint8_t> bytes = read_file(path);
  return {bytes.begin(), bytes.end()};
}

// Words of a text one after the other, from any of them on.
compose::PageText text_of(const std::string& folder, const TextFile& file) {
  std::istringstream in(text_of_file(folder + "/texts/" + file.file + ".txt"));
  std::vector<std::vector<char32_t>> words;
  for (std::string word; in >> word;) words.push_back(decode_utf8(word));
  if (words.empty()) throw InputError(folder + "/texts/" + file.file + ".txt: is empty");
  const auto supply = [words](int longest, Random& random) {
    compose::Text text;
    for (size_t at = static_cast<size_t>(random.index(static_cast<int>(words.size())));;
         at = (at + 1) % words.size()) {
      if (static_cast<int>(text.size() + words[at].size()) + 1 > longest) return text;
      if (!text.empty()) text.push_back(U' ');
      text.insert(text.end(), words[at].begin(), words[at].end());
    }
  };
  return {supply, file.script, file.right_to_left};
}

compose::PageMaker maker(const std::string& folder, const std::vector<TextFile>& texts,
                         bool straight) {
  compose::PageMakerSettings settings;
  settings.faces = faces();
  for (const TextFile& file : texts) settings.texts.push_back(text_of(folder, file));
  settings.straight = straight;
  settings.legible = true;
  settings.crops = 0;
  settings.least_x_height = straight ? 11 : 9;
  settings.most_x_height = straight ? 15 : 12;
  return compose::PageMaker(settings);
}

std::string script_of_most(const std::vector<char32_t>& text) {
  std::map<std::string, int> letters;
  for (const char32_t c : text)
    if (is_letter(c)) ++letters[script_of(c)];
  const auto most =
      std::max_element(letters.begin(), letters.end(),
                       [](const auto& a, const auto& b) { return a.second < b.second; });
  return most == letters.end() ? "Latn" : most->first;
}

bool holds_text(const Block& block) {
  return block.kind != BlockKind::kPicture && block.kind != BlockKind::kSeparator &&
         block.kind != BlockKind::kNoise;
}

std::vector<char32_t> text_in(const Page& page) {
  std::string text;
  for (const Block& block : page.blocks) {
    if (!holds_text(block)) continue;
    for (const Line& line : block.lines) text += (text.empty() ? "" : " ") + line.text();
  }
  return decode_utf8(text);
}

int words_on(const Page& page) {
  int words = 0;
  for (const Block& block : page.blocks)
    for (const Line& line : block.lines) words += static_cast<int>(line.words.size());
  return words;
}

// Words of the truth that stand in the result with the same text and in the same place.
std::pair<int, int> boxes_found(const Page& truth, const Page& result) {
  int found = 0, all = 0;
  for (const Block& block : truth.blocks) {
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        ++all;
        bool hit = false;
        for (const Block& other : result.blocks) {
          if (!holds_text(other)) continue;
          for (const Line& of : other.lines) {
            for (const Word& w : of.words) {
              if (w.text != word.text) continue;
              const Point middle = w.box.centre();
              const double room = 0.3 * word.box.height();
              hit = hit || (middle.x > word.box.x0 - room && middle.x < word.box.x1 + room &&
                            middle.y > word.box.y0 - room && middle.y < word.box.y1 + room);
            }
          }
        }
        found += hit;
      }
    }
  }
  return {found, all};
}

std::string told(const std::string& name, const Page& page) {
  std::string text = "== " + name + "\n";
  for (const Block& block : page.blocks) {
    if (block.lines.empty()) continue;
    text += fmt::format("[{}]\n", name_of(block.kind));
    for (const Line& line : block.lines) text += line.text() + "\n";
  }
  return text;
}

struct Characters {
  double wrong = 0, all = 0;
};

}  // namespace

std::string kind_of_processor() {
  return recognise::precision_of_processor() == recognise::Precision::kInt8 ? "bytes" : "floats";
}

Judgement judge(const std::string& folder, const std::string& models) {
  const recognise::Recogniser recogniser(recognise::bundles_in(models));
  const layout::PageNetwork network(layout::read_page_model(models + "/pages.safetensors"));
  std::vector<fs::path> pictures;
  for (const auto& entry : fs::directory_iterator(folder))
    if (entry.path().extension() == ".jpg") pictures.push_back(entry.path());
  std::sort(pictures.begin(), pictures.end());
  if (pictures.empty()) throw InputError(folder + ": no pages to judge by");
  Judgement judgement;
  score::LayoutScore layout;
  std::map<std::string, Characters> characters;
  int blank = 0, blank_found = 0, words = 0, words_found = 0;
  for (const fs::path& picture : pictures) {
    const std::string name = picture.stem().string();
    const auto truth = read_page_xml_file((picture.parent_path() / (name + ".xml")).string());
    const Scan scan = ScanFile(picture.string(), {}).read(1);
    run::StageSettings settings;
    run::CleanedScan read = run::clean_and_segment(scan, network, &recogniser, settings);
    Page result;
    bool is_blank = true;
    for (clean::CleanResult& part : read.pages) {
      run::recognise_stage(recogniser, settings, part);
      is_blank = is_blank && part.blank;
      if (part.blank) continue;
      for (Block& block : score::in_scan_frame(part.page).blocks)
        result.blocks.push_back(std::move(block));
    }
    judgement.as_read += told(name, result);
    const std::vector<char32_t> right = text_in(truth.page);
    if (right.empty()) {
      ++blank;
      blank_found += is_blank;
      continue;
    }
    layout.add(score::score_layout(truth.page, result));
    const std::vector<char32_t> found = text_in(result);
    Characters& of = characters[script_of_most(right)];
    of.wrong += std::min<double>(edit_distance(found, right), static_cast<double>(right.size()));
    of.all += static_cast<double>(right.size());
    judgement.pages.emplace_back(name, 1 - static_cast<double>(edit_distance(found, right)) /
                                               static_cast<double>(right.size()));
    const auto [hit, all] = boxes_found(truth.page, result);
    words += all;
    words_found += hit;
  }
  judgement.measures = {{"lines", layout.line_f1()},
                        {"kinds", layout.kind_share()},
                        {"order", layout.order_share()},
                        {"cells", layout.cell_f1()},
                        {"boxes", words > 0 ? static_cast<double>(words_found) / words : 1},
                        {"blank pages", blank > 0 ? static_cast<double>(blank_found) / blank : 1}};
  for (const auto& [script, of] : characters)
    judgement.measures.emplace_back("characters " + script, 1 - of.wrong / of.all);
  return judgement;
}

Measures judge_geometry(const std::string& folder) {
  compose::PageMaker pages = maker(folder, {kTexts[0], kTexts[1]}, true);
  score::LayoutScore score;
  for (const compose::Family& family : compose::families()) {
    for (uint64_t i = 0; i < kGeometryPages; ++i) {
      const compose::ComposedPage composed = pages.make(kGeometrySeed + i, family.name);
      const Bitonal ink = clean::binarise(composed.scan, {}, composed.truth.dpi);
      score.add(score::score_layout(composed.truth, testing::laid_out_by_truth(composed, ink)));
    }
  }
  return {{"lines, painted maps", score.line_f1()},
          {"kinds, painted maps", score.kind_share()},
          {"order, painted maps", score.order_share()},
          {"cells, painted maps", score.cell_f1()}};
}

void compose_pages(const std::string& folder) {
  compose::PageMaker latin = maker(folder, {kTexts[0], kTexts[1]}, false);
  size_t family_number = 0;
  for (const compose::Family& family : compose::families()) {
    int kept = 0;
    for (uint64_t i = 0; i < kOfEach; ++i) {
      // Every third family has one page in another script.
      const bool other = i == kOfEach - 1 && family_number % 3 == 1;
      compose::PageMaker strange = other ? maker(folder, {kTexts[2 + family_number / 3 % 4]}, false)
                                         : maker(folder, {kTexts[0], kTexts[1]}, false);
      compose::PageMaker& pages = other ? strange : latin;
      // The first seed from there on whose page is small enough.
      uint64_t seed = kSeed + 1000 * family_number + 100 * i;
      compose::ComposedPage page = pages.make(seed, family.name);
      for (int tries = 0; tries < 40 && words_on(page.truth) > kMostWords; ++tries)
        page = pages.make(++seed, family.name);
      // Families of large pages have one.
      if (words_on(page.truth) > kMostWords && (i + 1 < kOfEach || kept > 0)) continue;
      ++kept;
      const std::string name = fmt::format("{}-{}", family.name, i + 1);
      std::vector<uint8_t> bytes;
      for (int quality = 75; bytes.empty() || (bytes.size() > kMostBytes && quality > 15);
           quality -= 5)
        bytes = write_jpeg(page.scan, quality);
      write_file(folder + "/" + name + ".jpg", bytes);
      page.truth.file = name + ".jpg";
      write_file(folder + "/" + name + ".xml", write_page_xml(page.truth, name + ".jpg"));
    }
    ++family_number;
  }
}

Measures read_floors(const std::string& path) {
  Measures floors;
  std::istringstream in(text_of_file(path));
  for (std::string row; std::getline(in, row);) {
    if (row.empty() || row[0] == '#') continue;
    const size_t tab = row.find('\t');
    const auto value = tab == std::string::npos ? std::nullopt : number_in(row.substr(tab + 1));
    if (!value) throw FormatError(path + ": expected a name, a tab and a share: " + row);
    floors.emplace_back(row.substr(0, tab), *value);
  }
  return floors;
}

}  // namespace burnisher::judged
