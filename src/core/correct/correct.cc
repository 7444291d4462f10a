#include "correct/correct.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/parallel.h"
#include "base/unicode.h"
#include "correct/suggestions.h"
#include "correct/surroundings.h"
#include "correct/word_change.h"
#include "page/leader.h"

namespace burnisher::correct {
namespace {

// How much likelier, as natural logarithms, a safe repair must be than what stands there, and than
// the next best repair; a capital may be a name, which no lexicon has. Chosen on rendered lines.
constexpr double kSafeGain = 1.6, kSafeGainOfNames = 3.4, kSafeLead = 1.4;
constexpr size_t kShortestRepaired = 3;  // letters; shorter words have too many neighbours
constexpr size_t kMostWeighed = 8;       // suggestions that compete for a repair
constexpr int kMostLonger = 1;           // characters
constexpr size_t kMostForms = 24;        // of a word with figures in it that are tried
constexpr double kGainOfLookAlikes = 3;  // natural logarithm: as of a repair that is rarely wrong
constexpr double kUnsureBelow = 0.9;     // confidence below which a suspect counts as unsure
constexpr double kLeastDoubt = 0.001;    // of a word that was looked at

unsigned reasons_of(const Word& word, const WordAnalysis& f) {
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
const Suggestion* repair_for(const Place& place, const WordAnalysis& f,
                             const std::vector<Suggestion>& suggestions,
                             const AnalysisContext& context, Repair repair) {
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
      context.document.count(f.form.core) > 0)
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

// An I before small letters, which may be an l.
bool begins_with_look_alike(const std::vector<char32_t>& core) {
  return core.size() > 1 && core[0] == U'I' && is_letter(core[1]) && !is_upper(core[1]);
}

// What no dictionary lists, of those that begin so: the pound of weight.
bool is_unit(const std::string& core) {
  return core == "lb" || core == "lbs";
}

// Letters that a figure, or a capital I, inside a word is misread for, capitals first.
std::u32string look_alikes_of(char32_t misread) {
  switch (misread) {
    case U'I':
      return U"Il";
    case U'0':
      return U"Oo";
    case U'1':
      return U"Ili";
    case U'5':
      return U"Ss";
    case U'8':
      return U"B";
    default:
      return {};
  }
}

// A mixture of letters and a few signs that are look-alikes of the letters of one known word, and
// of no other: that word. Without the punctuation round it; "": there is none.
std::string word_of_look_alikes(const Place& place, const WordAnalysis& f,
                                const AnalysisContext& context) {
  const std::vector<char32_t> core = decode_utf8(f.form.core);
  std::vector<std::vector<char32_t>> forms = {{}};
  size_t letters = 0;
  for (size_t i = 0; i < core.size(); ++i) {
    std::u32string options(1, core[i]);
    if (is_digit(core[i]) || (i == 0 && begins_with_look_alike(core)))
      options = look_alikes_of(core[i]);
    letters += is_letter(core[i]);
    std::vector<std::vector<char32_t>> longer;
    for (const auto& form : forms) {
      for (const char32_t c : options) {
        // Capitals stand at the start, or in words of nothing else.
        if (is_digit(core[i]) && is_upper(c) && i > 0 && !is_upper(form.back())) continue;
        longer.push_back(form);
        longer.back().push_back(c);
      }
    }
    if (longer.size() > kMostForms) return "";
    forms = std::move(longer);
  }
  if (letters < 2) return "";
  // A figure is as high as a capital: of a word with and without one, that with it.
  std::map<std::string, std::string> known_forms;  // by what they are in small letters
  for (const auto& form : forms) {
    std::vector<char32_t> small = form;
    small.front() = to_lower(small.front());
    if (known(encode_utf8(form), place, context) || is_unit(encode_utf8(form)))
      known_forms.emplace(encode_utf8(small), encode_utf8(form));
  }
  return known_forms.size() == 1 ? known_forms.begin()->second : "";
}

const char* reason_of(const Suggestion& mended) {
  return mended.seen ? "not in the lexicon; the recogniser saw this word there, too"
                     : "not in the lexicon; the likeliest word that is";
}

// A repair that was decided, to be made when the whole page was looked at.
struct Mending {
  Spot spot;
  std::string text;  // with the punctuation round it
  double gain;
  const char* reason;
};

void mend(const Mending& m, Page& page, CorrectReport& report) {
  Line& line = page.blocks[m.spot.block].lines[m.spot.line];
  const Word before = line.words[m.spot.word];
  replace_word(line, m.spot.word, m.text, CorrectedBy::kRepair);
  const double sure = 1 / (1 + std::exp(-m.gain));
  Word& after = line.words[m.spot.word];
  after.confidence = sure;
  after.error_probability = std::max(kLeastDoubt, 1 - sure);
  report.changes.push_back(
      {page.file, page.number, before.box, before.text, m.text, line.text(), m.reason});
}

// One page's part of the report; languages without a dictionary are filled in by the caller.
CorrectReport correct_page(const Surroundings& surroundings, Page& page,
                           const AnalysisContext& context, const CorrectSettings& settings) {
  const double limit = settings.limit > 0 ? settings.limit : context.confusion_model.limit;
  const Effort effort = settings.repair == Repair::kSafe ? Effort::kReadings : Effort::kGuesses;
  CorrectReport report;
  std::vector<Mending> mendings;
  std::set<std::string> languages;
  surroundings.each(page, [&](const Spot& spot, const Place& place) {
    Word& word = page.blocks[spot.block].lines[spot.line].words[spot.word];
    ++report.words;
    languages.insert(place.languages.begin(), place.languages.end());
    if (word.corrected == CorrectedBy::kRepair) return;
    word.error_probability = 0;
    word.reasons = 0;
    if (word.corrected == CorrectedBy::kPerson) return;
    const WordAnalysis f = analysis_of(place, context);
    if (is_leader(decode_utf8(f.form.after)) || is_leader(decode_utf8(f.form.before))) return;
    word.error_probability =
        std::max(kLeastDoubt, context.confusion_model.error_probability(f.features));
    if (settings.repair != Repair::kOff && f.checkable && !f.known) {
      const auto suggestions = suggestions_for(place, f, context, kMostWeighed, effort);
      if (const Suggestion* by = repair_for(place, f, suggestions, context, settings.repair)) {
        mendings.push_back({spot, by->text, cost_as_it_stands(f) - by->cost, reason_of(*by)});
        return;
      }
    }
    if (settings.repair != Repair::kOff && !f.known &&
        (f.form.kind == FormKind::kOdd || begins_with_look_alike(decode_utf8(f.form.core)))) {
      const std::string meant = word_of_look_alikes(place, f, context);
      if (!meant.empty()) {
        mendings.push_back({spot, f.form.before + meant + f.form.after, kGainOfLookAlikes,
                            "signs in a word that the lexicon has with letters like them"});
        return;
      }
    }
    if (word.error_probability < limit) return;
    word.reasons = reasons_of(word, f);
    ++report.suspects;
    report.unsure += (word.reasons & kUnsure) != 0;
    report.unknown += (word.reasons & kUnknown) != 0;
    report.odd += (word.reasons & kOdd) != 0;
  });
  // From the end, so that places in a line stay true when a word becomes two.
  for (auto m = mendings.rbegin(); m != mendings.rend(); ++m) mend(*m, page, report);
  std::reverse(report.changes.begin(), report.changes.end());
  for (const std::string& language : languages) {
    // There are no dictionaries of languages that keep no words apart.
    if (script_of_language(language) == "Hani") continue;
    if (!context.lexicon.has(language)) report.without_dictionary.push_back(language);
  }
  return report;
}

void add(const CorrectReport& part, CorrectReport& report) {
  report.words += part.words;
  report.suspects += part.suspects;
  report.unsure += part.unsure;
  report.unknown += part.unknown;
  report.odd += part.odd;
  report.changes.insert(report.changes.end(), part.changes.begin(), part.changes.end());
  for (const std::string& language : part.without_dictionary) {
    auto& all = report.without_dictionary;
    if (std::find(all.begin(), all.end(), language) == all.end()) all.push_back(language);
  }
}

}  // namespace

CorrectReport correct(const std::vector<Page*>& pages, const Lexicon& lexicon,
                      const ConfusionModel& confusion_model, const CorrectSettings& settings) {
  DocumentWords document;
  for (Page* page : pages) {
    if (settings.repair == Repair::kOff) take_back_repairs(*page);
    document.add(*page);
  }
  const Surroundings surroundings({pages.begin(), pages.end()}, settings.languages);
  const AnalysisContext context{lexicon, document, confusion_model};
  std::vector<CorrectReport> parts(pages.size());
  parallel_each(static_cast<int>(pages.size()), [&](int i) {
    const auto p = static_cast<size_t>(i);
    parts[p] = correct_page(surroundings, *pages[p], context, settings);
  });
  CorrectReport report;
  for (const CorrectReport& part : parts) add(part, report);
  return report;
}

std::vector<Suspect> suspects_of(const std::vector<const Page*>& pages, const Lexicon& lexicon,
                                 const ConfusionModel& confusion_model,
                                 const std::vector<std::string>& languages,
                                 size_t most_suggestions) {
  DocumentWords document;
  for (const Page* page : pages) document.add(*page);
  const Surroundings surroundings(pages, languages);
  const AnalysisContext context{lexicon, document, confusion_model};
  std::vector<Suspect> suspects;
  for (size_t p = 0; p < pages.size(); ++p) {
    surroundings.each(*pages[p], [&](const Spot& spot, const Place& place) {
      if (place.word->reasons == 0) return;
      Suspect suspect{p, spot, {}};
      for (const Suggestion& s : suggestions_for(place, analysis_of(place, context), context,
                                                 most_suggestions, Effort::kDictionary))
        suspect.suggestions.push_back(s.text);
      suspects.push_back(suspect);
    });
  }
  return suspects;
}

}  // namespace burnisher::correct
