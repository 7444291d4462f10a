#include "correct/correct.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>
#include <sstream>

#include "base/parallel.h"
#include "base/unicode.h"
#include "correct/suggestions.h"

namespace burnisher::correct {
namespace {

// How much likelier, as natural logarithms, a safe repair must be than what stands there, and than
// the next best repair; a capital may be a name, which no lexicon has. Chosen on rendered lines.
constexpr double kSafeGain = 1.6, kSafeGainOfNames = 3.4, kSafeLead = 1.4;
constexpr size_t kShortestRepaired = 3;
constexpr size_t kMostWeighed = 8;  // suggestions that compete for a repair
constexpr size_t kShortestLeader = 4;
constexpr int kMostLonger = 1;        // characters
constexpr double kUnsureBelow = 0.9;  // confidence below which a suspect counts as unsure
constexpr double kLeastShareOfLanguage = 0.1;

bool looked_at(const Block& block) {
  return block.kind != BlockKind::kNoise && block.kind != BlockKind::kPageNumber &&
         block.kind != BlockKind::kDropCapital;
}

bool ends_with_hyphen(const std::string& word) {
  const std::vector<char32_t> text = decode_utf8(word);
  return text.size() > 2 && (text.back() == U'-' || text.back() == U'‐' || text.back() == U'­') &&
         is_letter(text[text.size() - 2]);
}

double certainty_of(const Line& line) {
  double sum = 0, letters = 0;
  for (const Word& word : line.words) {
    const auto length = static_cast<double>(word.text.size());
    sum += length * word.confidence;
    letters += length;
  }
  return letters > 0 ? sum / letters : 1;
}

bool ends_sentence(const std::string& word) {
  const std::vector<char32_t> text = decode_utf8(word);
  return !text.empty() &&
         std::u32string_view(U".!?:").find(text.back()) != std::u32string_view::npos;
}

// Words of a document in reading order, each with its surroundings.
class Reader {
 public:
  Reader(const std::vector<Page*>& pages, const CorrectSettings& settings)
      : pages_(pages), settings_(settings), main_(main_languages()) {}

  using Visit = std::function<void(size_t page, Line& line, size_t word, const Place& place)>;

  void each(size_t page, const Visit& visit) const {
    for (Block& block : pages_[page]->blocks) {
      if (!looked_at(block)) continue;
      for (size_t l = 0; l < block.lines.size(); ++l) {
        Line& line = block.lines[l];
        const double certainty = certainty_of(line);
        const std::vector<std::string> languages = languages_of(line);
        for (size_t w = 0; w < line.words.size(); ++w) {
          Place place;
          place.word = &line.words[w];
          place.line_certainty = certainty;
          place.languages = languages;
          place.sentence_start = w == 0 || ends_sentence(line.words[w - 1].text);
          find_other_half(block, l, w, place);
          visit(page, line, w, place);
        }
      }
    }
  }

  const std::vector<std::string>& languages() const { return main_; }

 private:
  std::vector<std::string> main_languages() const {
    if (!settings_.languages.empty()) return settings_.languages;
    std::map<std::string, double> letters;
    double all = 0;
    for (const Page* page : pages_) {
      for (const Block& block : page->blocks) {
        for (const Line& line : block.lines) {
          if (line.language.empty()) continue;
          letters[line.language] += line.box.width();
          all += line.box.width();
        }
      }
    }
    std::vector<std::pair<double, std::string>> list;
    for (const auto& [language, count] : letters) {
      if (count > kLeastShareOfLanguage * all) list.emplace_back(-count, language);
    }
    std::sort(list.begin(), list.end());
    std::vector<std::string> languages;
    for (const auto& [count, language] : list) languages.push_back(language);
    return languages;
  }

  std::vector<std::string> languages_of(const Line& line) const {
    std::vector<std::string> languages;
    if (!line.language.empty() && settings_.languages.empty()) languages.push_back(line.language);
    for (const std::string& language : main_) {
      if (std::find(languages.begin(), languages.end(), language) == languages.end())
        languages.push_back(language);
    }
    return languages;
  }

  static void find_other_half(const Block& block, size_t l, size_t w, Place& place) {
    const auto& words = block.lines[l].words;
    if (block.kind == BlockKind::kTable) return;
    if (w + 1 == words.size() && ends_with_hyphen(words[w].text) && l + 1 < block.lines.size() &&
        !block.lines[l + 1].words.empty()) {
      place.other_half = form_of(block.lines[l + 1].words.front().text).core;
      place.first_half = true;
    } else if (w == 0 && l > 0 && !block.lines[l - 1].words.empty() &&
               ends_with_hyphen(block.lines[l - 1].words.back().text)) {
      const Form form = form_of(block.lines[l - 1].words.back().text);
      place.other_half = form.core;
      place.first_half = false;
    }
  }

  const std::vector<Page*>& pages_;
  const CorrectSettings& settings_;
  std::vector<std::string> main_;
};

// A row of dots or rules: how many they are matters to nobody.
bool is_leader(const std::string& signs) {
  return decode_utf8(signs).size() >= kShortestLeader;
}

unsigned reasons_of(const Word& word, const Findings& f) {
  unsigned reasons = 0;
  if (word.confidence < kUnsureBelow) reasons |= kUnsure;
  if (f.form.kind == FormKind::kOdd && !f.known) reasons |= kOdd;
  if (f.checkable && !f.known) reasons |= kUnknown;
  return reasons == 0 ? static_cast<unsigned>(kUnsure) : reasons;
}

bool all_letters(const std::string& core) {
  const std::vector<char32_t> text = decode_utf8(core);
  return std::all_of(text.begin(), text.end(), [](char32_t c) {
    return is_letter(c) || c == U'\'' || c == U'’' || c == U'-' || c == U' ';
  });
}

// What the word should be, when that is certain enough.
const Suggestion* repair_for(const Place& place, const Findings& f,
                             const std::vector<Suggestion>& suggestions, const Knowledge& knowledge,
                             Repair repair) {
  if (repair == Repair::kOff || f.known || !f.checkable) return nullptr;
  if (suggestions.empty() || !suggestions.front().known) return nullptr;
  const Suggestion& best = suggestions.front();
  const double gain = cost_as_it_stands(f) - best.cost;
  if (repair == Repair::kAll) return gain > 0 ? &best : nullptr;
  const Form form = form_of(best.text);
  const std::vector<char32_t> core = decode_utf8(f.form.core);
  // Figures, codes and what the document knows are left alone; so is punctuation.
  if (!best.seen || core.size() < kShortestRepaired || !all_letters(f.form.core) ||
      !all_letters(form.core) || form.before != f.form.before || form.after != f.form.after ||
      knowledge.document.count(f.form.core) > 0)
    return nullptr;
  // A repair mends letters; it takes no ending off and puts none on.
  const auto length = static_cast<int>(decode_utf8(form.core).size());
  if (std::abs(length - static_cast<int>(core.size())) > kMostLonger) return nullptr;
  const bool name = is_upper(core.front()) && !place.sentence_start;
  if (gain < (name ? kSafeGainOfNames : kSafeGain)) return nullptr;
  const auto second = std::find_if(suggestions.begin() + 1, suggestions.end(),
                                   [](const Suggestion& s) { return s.known; });
  if (second != suggestions.end() && second->cost - best.cost < kSafeLead) return nullptr;
  return &best;
}

struct PageFindings {
  CorrectReport report;
  std::set<std::string> languages;
};

void correct_page(const Reader& reader, size_t index, Page& page, const Knowledge& knowledge,
                  const CorrectSettings& settings, PageFindings& out) {
  const double limit = settings.limit > 0 ? settings.limit : knowledge.habits.limit;
  struct Mending {
    Line* line;
    size_t word;
    std::string text;
    double gain;
  };
  std::vector<Mending> mendings;
  reader.each(index, [&](size_t, Line& line, size_t w, const Place& place) {
    Word& word = line.words[w];
    ++out.report.words;
    for (const std::string& language : place.languages) out.languages.insert(language);
    if (word.corrected == CorrectedBy::kRepair) return;
    word.doubt = 0;
    word.reasons = 0;
    if (word.corrected == CorrectedBy::kPerson) return;
    const Findings f = findings_of(place, knowledge);
    if (is_leader(f.form.after) || is_leader(f.form.before)) return;
    word.doubt = std::max(0.001, knowledge.habits.doubt(f.sight));
    if (!f.known && f.checkable && settings.repair != Repair::kOff) {
      const Effort effort = settings.repair == Repair::kSafe ? Effort::kReadings : Effort::kGuesses;
      const auto suggestions = suggestions_for(place, f, knowledge, kMostWeighed, effort);
      if (const Suggestion* mended =
              repair_for(place, f, suggestions, knowledge, settings.repair)) {
        mendings.push_back({&line, w, mended->text, cost_as_it_stands(f) - mended->cost});
        return;
      }
    }
    if (word.doubt < limit) return;
    word.reasons = reasons_of(word, f);
    ++out.report.suspects;
    out.report.unsure += (word.reasons & kUnsure) != 0;
    out.report.unknown += (word.reasons & kUnknown) != 0;
    out.report.odd += (word.reasons & kOdd) != 0;
  });
  // From the end, so that places in a line stay true when a word becomes two.
  for (auto m = mendings.rbegin(); m != mendings.rend(); ++m) {
    const Word before = m->line->words[m->word];
    replace_word(*m->line, m->word, m->text, CorrectedBy::kRepair);
    const double sure = 1 / (1 + std::exp(-m->gain));
    Word& after = m->line->words[m->word];
    after.confidence = sure;
    after.doubt = std::max(0.001, 1 - sure);
    out.report.changes.push_back({page.file, page.number, before.box, before.text, m->text,
                                  m->line->text(),
                                  "not in the lexicon; the recogniser saw this word there, too"});
  }
  std::reverse(out.report.changes.begin(), out.report.changes.end());
}

Knowledge knowledge_of(const Reader& reader, const Lexicon& lexicon, const ReadingHabits& habits,
                       const DocumentWords& document) {
  return {lexicon, document, habits, reader.languages()};
}

}  // namespace

CorrectReport correct(std::vector<Page*> pages, const Lexicon& lexicon, const ReadingHabits& habits,
                      const CorrectSettings& settings) {
  DocumentWords document;
  for (Page* page : pages) {
    if (settings.repair == Repair::kOff) take_back_repairs(*page);
    document.add(*page);
  }
  const Reader reader(pages, settings);
  const Knowledge knowledge = knowledge_of(reader, lexicon, habits, document);
  std::vector<PageFindings> found(pages.size());
  parallel_each(static_cast<int>(pages.size()), [&](int i) {
    const auto p = static_cast<size_t>(i);
    correct_page(reader, p, *pages[p], knowledge, settings, found[p]);
  });
  CorrectReport report;
  std::set<std::string> languages;
  for (const PageFindings& page : found) {
    report.words += page.report.words;
    report.suspects += page.report.suspects;
    report.unsure += page.report.unsure;
    report.unknown += page.report.unknown;
    report.odd += page.report.odd;
    report.changes.insert(report.changes.end(), page.report.changes.begin(),
                          page.report.changes.end());
    languages.insert(page.languages.begin(), page.languages.end());
  }
  for (const std::string& language : languages) {
    if (!lexicon.has(language)) report.without_dictionary.push_back(language);
  }
  return report;
}

std::vector<Suspect> suspects_of(const std::vector<Page*>& pages, const Lexicon& lexicon,
                                 const ReadingHabits& habits, const CorrectSettings& settings,
                                 size_t most_suggestions) {
  DocumentWords document;
  for (const Page* page : pages) document.add(*page);
  const Reader reader(pages, settings);
  const Knowledge knowledge = knowledge_of(reader, lexicon, habits, document);
  std::vector<Suspect> suspects;
  for (size_t p = 0; p < pages.size(); ++p) {
    std::map<const Word*, std::vector<std::string>> suggestions;
    reader.each(p, [&](size_t, Line& line, size_t w, const Place& place) {
      if (line.words[w].reasons == 0) return;
      auto& list = suggestions[&line.words[w]];
      for (const Suggestion& s : suggestions_for(place, findings_of(place, knowledge), knowledge,
                                                 most_suggestions, Effort::kDictionary))
        list.push_back(s.text);
    });
    for (size_t b = 0; b < pages[p]->blocks.size(); ++b) {
      const Block& block = pages[p]->blocks[b];
      for (size_t l = 0; l < block.lines.size(); ++l) {
        for (size_t w = 0; w < block.lines[l].words.size(); ++w) {
          const auto found = suggestions.find(&block.lines[l].words[w]);
          if (found != suggestions.end()) suspects.push_back({p, b, l, w, found->second});
        }
      }
    }
  }
  return suspects;
}

void take_back_repairs(Page& page) {
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) {
      for (size_t w = 0; w < line.words.size(); ++w) {
        Word& word = line.words[w];
        if (word.corrected != CorrectedBy::kRepair || word.before.empty()) continue;
        // The other words that came of it have nothing before them.
        while (w + 1 < line.words.size() && line.words[w + 1].before.empty() &&
               line.words[w + 1].corrected == CorrectedBy::kRepair) {
          word.box = united(word.box, line.words[w + 1].box);
          line.words.erase(line.words.begin() + static_cast<long>(w) + 1);
        }
        word.text = word.before;
        word.before.clear();
        word.corrected = CorrectedBy::kNobody;
      }
    }
  }
}

void replace_word(Line& line, size_t index, const std::string& text, CorrectedBy by) {
  const Word old = line.words[index];
  const std::string before = old.corrected == CorrectedBy::kNobody ? old.text : old.before;
  std::istringstream stream(text);
  std::vector<std::string> parts;
  size_t letters = 0;
  for (std::string part; stream >> part;) {
    parts.push_back(compose(part));
    letters += decode_utf8(parts.back()).size() + 1;
  }
  std::vector<Word> words;
  double at = 0;
  for (size_t i = 0; i < parts.size(); ++i) {
    const auto length = static_cast<double>(decode_utf8(parts[i]).size());
    const double whole = static_cast<double>(letters - 1), width = old.box.width();
    Word word;
    word.text = parts[i];
    word.box = {old.box.x0 + width * at / whole, old.box.y0,
                old.box.x0 + width * (at + length) / whole, old.box.y1};
    word.confidence = by == CorrectedBy::kPerson ? 1 : old.confidence;
    word.clarity = old.clarity;
    if (i == 0) word.readings = old.readings;
    word.corrected = by;
    // The first of several stands for what was read; the others for nothing.
    word.before = i == 0 ? before : "";
    if (parts[i] == old.text) word.glyphs = old.glyphs;
    words.push_back(word);
    at += length + 1;
  }
  const auto place = line.words.erase(line.words.begin() + static_cast<long>(index));
  line.words.insert(place, words.begin(), words.end());
}

}  // namespace burnisher::correct
