#include "teach/case_examples.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "base/printed_order.h"
#include "base/random.h"
#include "base/unicode.h"

namespace burnisher::teach {
namespace {

using recognise::StripFrame;
using train::Example;

constexpr uint8_t kInk = 110;              // strip sample, as glyphs are cut by
constexpr int kStrayInk = 5;               // pixels between two named glyphs that part them
constexpr double kRim = 0.35;              // x-heights of paper round a run
constexpr char32_t kFirstSymbol = 0xE000;  // of the private use area
// A text needs a symbol where a third of its pictures have too few frames for its characters.
constexpr double kTooNarrow = 0.34;
constexpr int kShortestLine = 8, kLongestLine = 34;  // glyphs of a composed line
constexpr double kRareGlyph = 0.3;  // of its places get any glyph, each kind as likely
// Confidence of a reading that counts as named; share of such readings that were named as read,
// below which none is believed.
constexpr double kSurelyRead = 0.95, kMostlyRight = 0.8;
constexpr double kMostRefuted = 0.3;  // of a text's sure readings: more, and none of it is believed
constexpr double kGapSpread = 0.04;   // x-heights, of the gaps in composed lines

std::string name_of(const CaseLine& line) {
  return fmt::format("{}, line {}", line.file, line.number);
}

// Text of a glyph, from left to right.
std::vector<char32_t> printed(const std::string& text) {
  return as_printed(decode_utf8(text));
}

// Of one line: its namings from left to right.
struct NamedLine {
  const CaseLine* line = nullptr;
  std::vector<const Naming*> glyphs;  // broken ones too
  const Naming* whole = nullptr;
};

std::vector<NamedLine> by_lines(const TypeCase& type_case, const std::vector<Naming>& namings,
                                std::vector<std::string>& lost) {
  std::map<const CaseLine*, NamedLine> lines;
  for (const Naming& naming : namings) {
    const CaseLine* line = line_of(naming, type_case);
    if (line == nullptr) {
      lost.push_back(fmt::format("{}, line {}: is not there any more; {} is not learnt",
                                 naming.file, naming.line, naming.text));
      continue;
    }
    NamedLine& named = lines[line];
    named.line = line;
    if (naming.what == Naming::What::kLine)
      named.whole = &naming;
    else
      named.glyphs.push_back(&naming);
  }
  std::vector<NamedLine> all;
  for (const CaseLine& line : type_case.lines) {
    const auto found = lines.find(&line);
    if (found == lines.end()) continue;
    std::stable_sort(found->second.glyphs.begin(), found->second.glyphs.end(),
                     [](const Naming* a, const Naming* b) { return a->from < b->from; });
    all.push_back(std::move(found->second));
  }
  return all;
}

int frames_needed(const std::vector<char32_t>& text) {
  int needed = 0;
  for (size_t i = 0; i < text.size(); ++i) needed += 1 + (i > 0 && text[i] == text[i - 1]);
  return needed;
}

recognise::Symbols symbols_for(const std::vector<NamedLine>& lines, const StripFrame& frame,
                               const recognise::Symbols& known) {
  std::map<std::vector<char32_t>, std::pair<int, int>> narrow;  // pictures; of them, too narrow
  for (const NamedLine& line : lines) {
    for (const Naming* n : line.glyphs) {
      if (n->what != Naming::What::kGlyph) continue;
      const std::vector<char32_t> text = printed(n->text);
      if (text.size() < 2) continue;
      const int frames =
          static_cast<int>((n->to - n->from) * frame.x_height) / recognise::kFrameWidth;
      auto& [all, few] = narrow[text];
      ++all;
      few += frames < frames_needed(text);
    }
  }
  recognise::Symbols symbols = known;
  char32_t next = kFirstSymbol;
  for (const auto& [text, counts] : narrow) {
    const bool has = std::any_of(symbols.begin(), symbols.end(),
                                 [&, &wanted = text](const auto& s) { return s.second == wanted; });
    if (has || counts.second < kTooNarrow * counts.first) continue;
    while (symbols.count(next) > 0) ++next;
    symbols[next] = text;
  }
  return symbols;
}

std::vector<char32_t> with_symbols(const std::vector<char32_t>& text,
                                   const recognise::Symbols& symbols) {
  for (const auto& [symbol, spelled] : symbols)
    if (spelled == text) return {symbol};
  return text;
}

// A strip as the page that it would be cut from, with its line where the frame says.
Example as_example(const std::string& name, const Gray& strip, const StripFrame& frame, double from,
                   double to, const std::vector<char32_t>& printed_text, bool right_to_left) {
  Example example;
  example.page = name;
  example.picture = Gray(strip.width(), strip.height());
  for (int y = 0; y < strip.height(); ++y)
    for (int x = 0; x < strip.width(); ++x)
      example.picture.row(y)[x] = static_cast<uint8_t>(255 - strip.row(y)[x]);
  example.place.baseline = {{from, frame.baseline}, {to, frame.baseline}};
  example.place.x_height = frame.x_height;
  example.text = logical_order(printed_text, right_to_left);
  return example;
}

bool ink_between(const CaseLine& line, const StripFrame& frame, double from, double to) {
  const int x0 = std::max(0, static_cast<int>(std::lround(column_of(from, frame))));
  const int x1 = std::min(line.strip.width(), static_cast<int>(std::lround(column_of(to, frame))));
  int count = 0;
  for (int y = 0; y < line.strip.height(); ++y)
    for (int x = x0; x < x1; ++x) count += line.strip.row(y)[x] >= kInk;
  return count > kStrayInk;
}

bool space_between(const CaseLine& line, double from, double to) {
  return std::any_of(line.spaces.begin(), line.spaces.end(), [&](double at) {
    // The end of one glyph and the beginning of the next may have been moved a little.
    return at > std::min(from, to) - 0.1 && at < std::max(from, to) + 0.1;
  });
}

// The columns [from, to) of a strip with paper round them.
Gray cut_run(const CaseLine& line, const StripFrame& frame, double from, double to, int rim) {
  const int x0 =
      std::clamp(static_cast<int>(std::lround(column_of(from, frame))), 0, line.strip.width());
  const int x1 =
      std::clamp(static_cast<int>(std::lround(column_of(to, frame))), x0, line.strip.width());
  Gray run(x1 - x0 + 2 * rim, line.strip.height(), recognise::kPaperLevel);
  for (int y = 0; y < run.height(); ++y)
    std::copy(line.strip.row(y) + x0, line.strip.row(y) + x1, run.row(y) + rim);
  return run;
}

void add_runs(const NamedLine& named, const StripFrame& frame, const recognise::Symbols& symbols,
              bool right_to_left, CaseExamples& all) {
  const CaseLine& line = *named.line;
  const int rim = static_cast<int>(kRim * frame.x_height);
  std::vector<const Naming*> run;
  const auto finish = [&] {
    if (run.empty()) return;
    std::vector<char32_t> text;
    for (size_t i = 0; i < run.size(); ++i) {
      if (i > 0 && space_between(line, run[i - 1]->to, run[i]->from)) text.push_back(U' ');
      const auto more = with_symbols(printed(run[i]->text), symbols);
      text.insert(text.end(), more.begin(), more.end());
    }
    const Gray strip = cut_run(line, frame, run.front()->from, run.back()->to, rim);
    all.runs.push_back(
        as_example(name_of(line), strip, frame, rim, strip.width() - rim, text, right_to_left));
    all.glyphs += run.size();
    run.clear();
  };
  for (const Naming* glyph : named.glyphs) {
    if (!run.empty() && ink_between(line, frame, run.back()->to, glyph->from)) finish();
    if (glyph->what == Naming::What::kBroken) {
      finish();
      continue;
    }
    run.push_back(glyph);
  }
  finish();
}

bool case_runs_right_to_left(const std::vector<Naming>& namings) {
  std::vector<char32_t> text;
  for (const Naming& naming : namings)
    for (const char32_t c : decode_utf8(naming.text)) text.push_back(c);
  return runs_right_to_left(text);
}

// What composed lines are made of.
struct Stock {
  struct Picture {
    const CaseLine* line;
    const Naming* naming;
  };
  std::map<std::string, std::vector<Picture>> by_text;
  std::vector<std::vector<const Naming*>> order;  // of the document's lines
  std::vector<const CaseLine*> lines;             // of them
  std::vector<double> gaps, spaces;               // between glyphs, x-heights
};

Stock stock_of(const std::vector<NamedLine>& lines, const std::set<std::string>& held_back) {
  Stock stock;
  for (const NamedLine& named : lines) {
    if (held_back.count(name_of(*named.line)) > 0) continue;
    std::vector<const Naming*> order;
    for (const Naming* n : named.glyphs) {
      if (n->what != Naming::What::kGlyph) continue;
      stock.by_text[n->text].push_back({named.line, n});
      if (!order.empty()) {
        const double gap = n->from - order.back()->to;
        const bool space = space_between(*named.line, order.back()->to, n->from);
        if (gap > -0.3 && gap < (space ? 2.5 : 0.6))
          (space ? stock.spaces : stock.gaps).push_back(gap);
      }
      order.push_back(n);
    }
    if (order.empty()) continue;
    stock.order.push_back(std::move(order));
    stock.lines.push_back(named.line);
  }
  if (stock.gaps.empty()) stock.gaps.push_back(0.15);
  if (stock.spaces.empty()) stock.spaces.push_back(0.7);
  return stock;
}

Example composed_line(const Stock& stock, const StripFrame& frame,
                      const recognise::Symbols& symbols, bool right_to_left, Random& random) {
  const auto l = static_cast<size_t>(random.index(stock.order.size()));
  const std::vector<const Naming*>& order = stock.order[l];
  const int wanted = kShortestLine + random.index(kLongestLine - kShortestLine + 1);
  const int first = static_cast<int>(order.size()) > wanted
                        ? random.index(order.size() - static_cast<size_t>(wanted) + 1)
                        : 0;
  struct Piece {
    Gray picture;
    double gap;  // before it, x-heights
  };
  std::vector<Piece> pieces;
  std::vector<char32_t> text;
  double width = 0;
  for (int i = first; i < static_cast<int>(order.size()) && i < first + wanted; ++i) {
    const Naming* model = order[static_cast<size_t>(i)];
    const std::string* kind = &model->text;
    if (random.chance(kRareGlyph)) {
      auto any = stock.by_text.begin();
      std::advance(any, random.index(stock.by_text.size()));
      kind = &any->first;
    }
    const auto& pictures = stock.by_text.at(*kind);
    const Stock::Picture& taken = pictures[static_cast<size_t>(random.index(pictures.size()))];
    Piece piece{cut_run(*taken.line, frame, taken.naming->from, taken.naming->to, 0), 0};
    if (!pieces.empty()) {
      const bool space =
          space_between(*stock.lines[l], order[static_cast<size_t>(i - 1)]->to, model->from);
      const auto& gaps = space ? stock.spaces : stock.gaps;
      piece.gap = gaps[static_cast<size_t>(random.index(gaps.size()))] +
                  (stock.gaps.size() > 1 ? kGapSpread * random.normal() : 0);
      if (space) text.push_back(U' ');
    }
    const auto more = with_symbols(printed(*kind), symbols);
    text.insert(text.end(), more.begin(), more.end());
    width += piece.picture.width() + std::max(0.0, piece.gap) * frame.x_height;
    pieces.push_back(std::move(piece));
  }
  const int rim = static_cast<int>(kRim * frame.x_height);
  Gray strip(static_cast<int>(width) + 2 * rim + 2, pieces.front().picture.height(),
             recognise::kPaperLevel);
  double x = rim;
  for (const Piece& piece : pieces) {
    x = std::max<double>(rim, x + piece.gap * frame.x_height);
    const int at = static_cast<int>(std::lround(x));
    for (int y = 0; y < strip.height(); ++y)
      for (int k = 0; k < piece.picture.width() && at + k < strip.width(); ++k)
        strip.row(y)[at + k] = std::max(strip.row(y)[at + k], piece.picture.row(y)[k]);
    x += piece.picture.width();
  }
  return as_example("composed", strip, frame, rim, x, text, right_to_left);
}

double overlap(const Naming& naming, const GlyphPicture& glyph) {
  const double both = std::min(naming.to, glyph.x1) - std::max(naming.from, glyph.x0);
  return both / std::min(naming.to - naming.from, glyph.x1 - glyph.x0);
}

// How often a surely read text was named as it was read, of how many times it was named, and how
// often it was read at all.
struct Agreement {
  int named = 0, agreed = 0, read = 0;
  // The others that read so are most likely something else, too.
  bool refuted() const { return named - agreed > kMostRefuted * read; }
};

}  // namespace

std::vector<Naming> with_sure_readings(const TypeCase& type_case,
                                       const std::vector<Naming>& namings) {
  std::vector<std::string> lost;
  const std::vector<NamedLine> lines = by_lines(type_case, namings, lost);
  std::map<std::string, Agreement> by_text;
  Agreement all;
  std::vector<std::pair<const CaseLine*, const GlyphPicture*>> unnamed;
  for (const NamedLine& named : lines) {
    if (named.whole != nullptr) continue;
    for (const GlyphPicture& glyph : named.line->glyphs) {
      if (glyph.confidence < kSurelyRead || glyph.read.empty()) continue;
      const Naming* same = nullptr;
      bool touched = false;
      for (const Naming* n : named.glyphs) {
        if (overlap(*n, glyph) < 0.2) continue;
        touched = true;
        const bool whole = std::abs(n->from - glyph.x0) < 0.1 && std::abs(n->to - glyph.x1) < 0.1;
        if (whole && n->what == Naming::What::kGlyph) same = n;
      }
      if (!touched) unnamed.emplace_back(named.line, &glyph);
      if (same == nullptr) continue;
      const bool agreed = printed(same->text) == decode_utf8(glyph.read);
      for (Agreement* one : {&by_text[glyph.read], &all}) {
        ++one->named;
        one->agreed += agreed;
      }
    }
  }
  std::vector<Naming> more = namings;
  if (all.agreed < kMostlyRight * all.named || all.named == 0) return more;
  for (const CaseLine& line : type_case.lines)
    for (const GlyphPicture& glyph : line.glyphs)
      if (glyph.confidence >= kSurelyRead) ++by_text[glyph.read].read;
  for (const auto& [line, glyph] : unnamed) {
    if (by_text[glyph->read].refuted()) continue;
    Naming naming;
    naming.file = line->file;
    naming.line = line->number;
    naming.start = line->start;
    naming.from = glyph->x0;
    naming.to = glyph->x1;
    const std::vector<char32_t> text = decode_utf8(glyph->read);
    naming.text = encode_utf8(logical_order(text, runs_right_to_left(text)));
    more.push_back(naming);
  }
  return more;
}

std::vector<Naming> with_typed_glyphs(const TypeCase& type_case,
                                      const std::vector<Naming>& namings) {
  std::vector<std::string> lost;
  std::vector<Naming> more = namings;
  for (const NamedLine& named : by_lines(type_case, namings, lost)) {
    if (named.whole == nullptr) continue;
    const CaseLine& line = *named.line;
    // Words from left to right, of glyphs and of characters.
    std::vector<std::vector<const GlyphPicture*>> seen(1);
    for (const GlyphPicture& glyph : line.glyphs) {
      if (!seen.back().empty() && space_between(line, seen.back().back()->x1, glyph.x0))
        seen.emplace_back();
      seen.back().push_back(&glyph);
    }
    std::vector<std::vector<char32_t>> typed(1);
    for (const char32_t c : printed(named.whole->text)) {
      if (c == U' ')
        typed.emplace_back();
      else
        typed.back().push_back(c);
    }
    if (seen.size() != typed.size()) continue;
    for (size_t w = 0; w < seen.size(); ++w) {
      if (seen[w].size() != typed[w].size()) continue;
      for (size_t i = 0; i < seen[w].size(); ++i) {
        Naming naming = *named.whole;
        naming.what = Naming::What::kGlyph;
        naming.from = seen[w][i]->x0;
        naming.to = seen[w][i]->x1;
        naming.text = encode_utf8(typed[w][i]);
        more.push_back(naming);
      }
    }
  }
  return more;
}

CaseExamples examples_of(const TypeCase& type_case, const std::vector<Naming>& namings,
                         const recognise::Symbols& known) {
  CaseExamples all;
  const std::vector<NamedLine> lines = by_lines(type_case, namings, all.lost);
  all.symbols = symbols_for(lines, type_case.frame, known);
  const bool right_to_left = case_runs_right_to_left(namings);
  for (const NamedLine& named : lines) {
    if (named.whole == nullptr) {
      add_runs(named, type_case.frame, all.symbols, right_to_left, all);
      continue;
    }
    if (named.whole->text.empty()) continue;  // typed as nothing: nothing to learn
    const CaseLine& line = *named.line;
    const std::vector<char32_t> text = decode_utf8(named.whole->text);
    all.lines.push_back(as_example(name_of(line), line.strip, type_case.frame,
                                   column_of(0, type_case.frame),
                                   line.strip.width() - column_of(0, type_case.frame),
                                   as_printed(text), runs_right_to_left(text)));
    all.lines.back().text = text;
  }
  return all;
}

std::map<char32_t, char32_t> read_before(const TypeCase& type_case,
                                         const std::vector<Naming>& namings,
                                         const recognise::Symbols& symbols) {
  std::vector<std::string> lost;
  std::map<char32_t, std::map<char32_t, int>> readings;
  for (const NamedLine& named : by_lines(type_case, namings, lost)) {
    for (const Naming* n : named.glyphs) {
      const std::vector<char32_t> text = with_symbols(printed(n->text), symbols);
      if (n->what != Naming::What::kGlyph || text.size() != 1) continue;
      for (const GlyphPicture& glyph : named.line->glyphs) {
        const std::vector<char32_t> read = decode_utf8(glyph.read);
        if (read.size() == 1 && overlap(*n, glyph) > 0.8) ++readings[text[0]][read[0]];
      }
    }
  }
  std::map<char32_t, char32_t> before;
  for (const auto& [character, counts] : readings) {
    int most = 0;
    for (const auto& [read, count] : counts) {
      if (count <= most) continue;
      most = count;
      before[character] = read;
    }
  }
  return before;
}

std::vector<Example> composed_lines(const TypeCase& type_case, const std::vector<Naming>& namings,
                                    const recognise::Symbols& symbols,
                                    const std::set<std::string>& held_back, int count,
                                    uint64_t seed) {
  std::vector<std::string> lost;
  const std::vector<NamedLine> lines = by_lines(type_case, namings, lost);
  const Stock stock = stock_of(lines, held_back);
  std::vector<Example> all;
  if (stock.order.empty()) return all;
  const bool right_to_left = case_runs_right_to_left(namings);
  Random random(seed);
  for (int i = 0; i < count; ++i)
    all.push_back(composed_line(stock, type_case.frame, symbols, right_to_left, random));
  return all;
}

}  // namespace burnisher::teach
