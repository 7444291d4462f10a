#include "correct/suggestions.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/edit_distance.h"
#include "base/unicode.h"

namespace burnisher::correct {
namespace {

// Costs in natural logarithms, chosen on rendered lines (docs/correcting.md).
constexpr double kUnknown = 4.5;     // that the word as it stands is no known word
constexpr double kStillUnknown = 9;  // that another reading is none either
constexpr double kOddMixture = 7;    // -ln of its likelihood: letters and figures in one word
constexpr double kParted = 5.5;      // a space that was missed
constexpr double kProposal = 4, kProposalStep = 3;  // from the dictionary, and for each change
// -ln; dearer ones than e^-9 and e^-12 are noise of the counts.
constexpr double kMostOfOneChange = 9, kMostOfTwo = 12;
constexpr size_t kFirstChanges = 40;  // partly mended forms that are changed once more
constexpr double kMostOfOwn = 3;      // -ln by which a suggestion may be dearer than the reading
constexpr double kLeastShare = 1e-4;  // of what was seen: rarer readings are no suggestions

using Text = std::u32string;

class Candidates {
 public:
  Candidates(const Place& place, const AnalysisContext& context)
      : place_(place), knowledge_(context) {}

  void offer(const std::string& text, double cost, bool seen) {
    if (text.empty() || text == place_.word->text) return;
    const auto found = found_.find(text);
    if (found != found_.end()) {
      found->second.cost = std::min(found->second.cost, cost);
      found->second.seen = found->second.seen || seen;
      return;
    }
    const bool right = known(text, place_, knowledge_);
    double total = cost;
    if (!right) total += kStillUnknown;
    found_[text] = {text, total, seen, right};
  }
  bool is_known(const std::string& core) const { return known(core, place_, knowledge_); }

  std::vector<Suggestion> best(size_t most) const {
    std::vector<Suggestion> list;
    for (const auto& [text, suggestion] : found_) list.push_back(suggestion);
    std::stable_sort(list.begin(), list.end(),
                     [](const Suggestion& a, const Suggestion& b) { return a.cost < b.cost; });
    if (list.size() > most) list.resize(most);
    return list;
  }
  size_t known_count() const {
    return static_cast<size_t>(
        std::count_if(found_.begin(), found_.end(), [](const auto& f) { return f.second.known; }));
  }

 private:
  const Place& place_;
  const AnalysisContext& knowledge_;
  std::map<std::string, Suggestion> found_;
};

struct Changed {
  Text text;
  double cost;
};

// The text with one confusion undone, in every place and way.
std::vector<Changed> undone(const Changed& from, const std::vector<Confusion>& confusions,
                            double most) {
  std::vector<Changed> list;
  for (const Confusion& m : confusions) {
    if (from.cost + m.cost > most) continue;
    if (m.read.empty()) {
      for (size_t i = 0; i <= from.text.size(); ++i) {
        Text text = from.text;
        list.push_back({text.insert(i, m.truth), from.cost + m.cost});
      }
      continue;
    }
    for (size_t at = from.text.find(m.read); at != Text::npos;
         at = from.text.find(m.read, at + 1)) {
      Text text = from.text;
      list.push_back({text.replace(at, m.read.size(), m.truth), from.cost + m.cost});
    }
  }
  return list;
}

void offer_undone(const Form& form, double own_cost, const AnalysisContext& context,
                  Candidates& candidates) {
  const Changed start{utf32_of(form.core), 0};
  const std::vector<Confusion> confusions = misreadings_of_letters(context.confusion_model);
  std::vector<Changed> once = undone(start, confusions, kMostOfOneChange);
  std::sort(once.begin(), once.end(),
            [](const Changed& a, const Changed& b) { return a.cost < b.cost; });
  const auto offer = [&](const Changed& c) {
    const std::string core = utf8_of(c.text);
    if (core != form.core && candidates.is_known(core) && is_spelled(form_of(core).kind))
      candidates.offer(form.before + core + form.after, own_cost + c.cost, false);
  };
  for (const Changed& c : once) offer(c);
  if (candidates.known_count() > 0 || start.text.size() < 4) return;
  if (once.size() > kFirstChanges) once.resize(kFirstChanges);
  for (const Changed& first : once) {
    for (const Changed& second : undone(first, confusions, kMostOfTwo)) offer(second);
  }
}

void offer_parted(const Form& form, double own_cost, Candidates& candidates) {
  const Text text = utf32_of(form.core);
  for (size_t i = 1; i + 1 <= text.size(); ++i) {
    const std::string left = utf8_of(text.substr(0, i)), right = utf8_of(text.substr(i));
    // A letter alone is a word only in few cases, which the lexicon is too generous about.
    if ((i == 1 || i + 1 == text.size()) && left != "a" && left != "I" && right != "a") continue;
    if (candidates.is_known(left) && candidates.is_known(right))
      candidates.offer(form.before + left + " " + right + form.after, own_cost + kParted, false);
  }
}

void offer_proposals(const Form& form, double own_cost, const Place& place,
                     const AnalysisContext& context, Candidates& candidates) {
  const std::vector<char32_t> core = decode_utf8(form.core);
  for (const std::string& language : place.languages) {
    if (!context.lexicon.has(language)) continue;
    for (const std::string& proposal : context.lexicon.proposals(form.core, language)) {
      const int steps = edit_distance(core, decode_utf8(proposal));
      if (steps <= 3)
        candidates.offer(form.before + proposal + form.after,
                         own_cost + kProposal + kProposalStep * steps, false);
    }
    return;
  }
}

}  // namespace

double cost_as_it_stands(const WordAnalysis& f) {
  const double cost = -std::log(std::max(f.own_share, kLeastShare));
  if (f.known) return cost;
  return cost + (f.form.kind == FormKind::kOdd ? kOddMixture : kUnknown);
}

std::vector<Suggestion> suggestions_for(const Place& place, const WordAnalysis& findings,
                                        const AnalysisContext& context, size_t most,
                                        Effort effort) {
  Candidates candidates(place, context);
  const Word& word = *place.word;
  for (const OtherReading& reading : word.readings)
    candidates.offer(reading.text, -std::log(std::max(reading.share, kLeastShare)), true);
  // How little speaks for the word as it stands makes no other guess worse.
  const double own = std::min(kMostOfOwn, -std::log(std::max(findings.own_share, kLeastShare)));
  const bool letters = findings.checkable || findings.form.kind == FormKind::kOdd;
  if (letters && !findings.known && effort != Effort::kReadings) {
    offer_undone(findings.form, own, context, candidates);
    if (findings.form.kind != FormKind::kOdd) offer_parted(findings.form, own, candidates);
    if (effort == Effort::kDictionary && candidates.known_count() < 3)
      offer_proposals(findings.form, own, place, context, candidates);
  }
  return candidates.best(most);
}

}  // namespace burnisher::correct
