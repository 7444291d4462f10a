#include "find/search.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <sstream>

#include "base/error.h"
#include "base/parallel.h"
#include "base/unicode.h"
#include "find/expression.h"

namespace burnisher::find {
namespace {

constexpr int kFormsAtOnce = 4096;                     // held against a term by one task
constexpr double kSurest = 0.995, kLeastSure = 0.005;  // a reading's certainty is believed so far

// Logistic regression of the features on whether the word stood there, on composed books,
// typescript and letters; scripts/bench-find --fit finds them again.
constexpr double kWeights[kFeatures] = {0.668, 0.406, 0.019, 1.882, 0.025, -0.687, 0.175};

// All forms of an index, and what each is to every term that is sought.
class Vocabulary {
 public:
  // `counted`: how often each form occurs is told, too.
  Vocabulary(const Index& index, bool counted) {
    index.each_form([&](FormNumber number, std::string_view text) {
      if (number >= forms_.size()) forms_.resize(number + 1);
      forms_[number] = text;
    });
    counts_.assign(forms_.size(), 0);
    if (!counted) return;
    for (const IndexedDocument& document : index.documents())
      index.each_page(document.id, false, [&](const Index::PackedPage& page) {
        each_form(page.forms, [&](FormNumber form) {
          if (form < counts_.size()) ++counts_[form];
          return true;
        });
        return true;
      });
  }

  double count(FormNumber number) const { return number < counts_.size() ? counts_[number] : 0; }
  // Of all forms that are the word itself.
  double count(const std::vector<float>& likelihoods) const {
    double sum = 0;
    for (size_t i = 0; i < likelihoods.size(); ++i)
      if (likelihoods[i] >= 1) sum += counts_[i];
    return sum;
  }

  const std::string& form(FormNumber number) const {
    static const std::string none;
    return number < forms_.size() ? forms_[number] : none;
  }
  bool ends_with_hyphen(FormNumber number) const {
    const std::string& text = form(number);
    // Every hyphen ends with one of these bytes; most words don't.
    if (text.size() < 3 || (text.back() != '-' && static_cast<unsigned char>(text.back()) < 0x80))
      return false;
    return burnisher::ends_with_hyphen(utf32_of(text));
  }

  std::vector<float> likelihoods(const Term& term, const Folding& folding) const {
    std::vector<float> result(forms_.size(), 0);
    const int count = static_cast<int>((forms_.size() + kFormsAtOnce - 1) / kFormsAtOnce);
    parallel_each(count, [&](int part) {
      const auto folder = std::make_unique<Folder>(folding);
      const size_t first = static_cast<size_t>(part) * kFormsAtOnce;
      for (size_t i = first; i < std::min(forms_.size(), first + kFormsAtOnce); ++i)
        if (!forms_[i].empty())
          result[i] = static_cast<float>(likelihood(term, forms_[i], *folder));
    });
    return result;
  }

  // Of a word as it stands, of the parts that signs part it into, and of halves joined with and
  // without a hyphen of their own.
  static double likelihood(const Term& term, const std::string& form, Folder& folder,
                           bool parts = true) {
    std::u32string text = folder.folded(form);
    const auto [first, end] = core_of(text);
    text = text.substr(first, end - first);
    double best = term.likelihood(text);
    for (size_t at = 0; parts && best < 1 && at < text.size();) {
      size_t behind = at;
      while (behind < text.size() && in_word(text[behind])) ++behind;
      if (behind > at && behind - at < text.size())
        best = std::max(best, term.likelihood(text.substr(at, behind - at)));
      at = behind + 1;
    }
    const size_t soft = form.find("\u00AD");
    if (best < 1 && soft != std::string::npos && soft + 2 < form.size())
      best = std::max(best, likelihood(term, form.substr(0, soft) + "-" + form.substr(soft + 2),
                                       folder, false));
    return best;
  }

 private:
  std::vector<std::string> forms_;
  std::vector<uint32_t> counts_;
};

// A page taken apart, with the order in which its words are followed.
struct OpenPage {
  int64_t id = 0;
  int position = 1;
  PageWords words;
  std::vector<size_t> next;                      // by word: the one that follows; kNone at an end
  std::vector<bool> second_half;                 // of a word parted at a line's end
  size_t first_main = kNone, last_main = kNone;  // of running text

  static constexpr size_t kNone = static_cast<size_t>(-1);

  OpenPage(int64_t page, int place, PageWords on_it)
      : id(page),
        position(place),
        words(std::move(on_it)),
        next(words.words.size(), kNone),
        second_half(words.words.size(), false) {
    for (const IndexedBlock& block : words.blocks) {
      const bool main = block.kind == BlockKind::kText;
      size_t before = main ? last_main : kNone;
      for (size_t l = block.first; l < block.end; ++l) {
        for (size_t w = words.lines[l].first; w < words.lines[l].end; ++w) {
          if (before != kNone) next[before] = w;
          if (main && first_main == kNone) first_main = w;
          before = w;
        }
      }
      if (main) last_main = before;
    }
    for (size_t w = 0; w < words.words.size(); ++w)
      if (words.words[w].joined != 0 && next[w] != kNone) second_half[next[w]] = true;
  }
};

// The pages of one document, opened where they are looked at.
class Pages {
 public:
  // `doubts`: readings beside the first are looked at before a page is opened.
  Pages(const Index& index, int64_t document, bool doubts) : index_(index) {
    index.each_page(document, doubts, [&](const Index::PackedPage& page) {
      packed_.push_back(
          {page.id, page.position, std::string(page.forms), std::string(page.doubts)});
      return true;
    });
  }
  size_t count() const { return packed_.size(); }
  std::string_view forms(size_t page) const { return packed_[page].forms; }
  std::string_view doubts(size_t page) const { return packed_[page].doubts; }
  int position(size_t page) const { return packed_[page].position; }
  // Stays until `close_before` a later one.
  const OpenPage& open(size_t page) {
    auto& held = opened_[page];
    if (!held) {
      held = std::make_unique<OpenPage>(packed_[page].id, packed_[page].position,
                                        index_.words(packed_[page].id, false));
    }
    return *held;
  }
  void close_before(size_t page) { opened_.erase(opened_.begin(), opened_.lower_bound(page)); }

 private:
  struct Packed {
    int64_t id;
    int position;
    std::string forms, doubts;
  };
  const Index& index_;
  std::vector<Packed> packed_;
  std::map<size_t, std::unique_ptr<OpenPage>> opened_;
};

// The last word of running text on a page, without taking the page apart; 0: none.
FormNumber last_of_text(std::string_view forms) {
  bool main = false;
  FormNumber last = 0;
  for (size_t at = 0; at < forms.size();) {
    const uint64_t one = number_at(forms, at);
    if ((one & 3) == kBlockTag) main = static_cast<BlockKind>(one >> 2) == BlockKind::kText;
    if ((one & 3) == kWordTag && main) last = static_cast<FormNumber>(one >> 2);
  }
  return last;
}

struct Cursor {
  size_t page = 0, word = 0;
};

// That a word is what was read.
double sureness(const IndexedWord& word) {
  return word.by_person ? 1 : std::clamp(1 - word.error_probability, kLeastSure, kSurest);
}

// Words sought one after the other, followed through one document.
class PhraseSearch {
 public:
  PhraseSearch(const std::string& text, const Vocabulary& vocabulary,
               const SearchSettings& settings)
      : vocabulary_(vocabulary), settings_(settings) {
    std::istringstream parts(text);
    for (std::string part; parts >> part;)
      terms_.emplace_back(part, settings.folding, settings.inside, settings.near,
                          settings.confusions);
    if (terms_.empty())
      throw SettingsError("'" + text + "' has nothing in it that could be sought");
    for (const Term& term : terms_) {
      likelihoods_.push_back(vocabulary.likelihoods(term, settings.folding));
      letters_.push_back(static_cast<double>(term.letters()));
      occurrences_.push_back(vocabulary.count(likelihoods_.back()));
    }
  }

  void through(Pages& pages, size_t document, size_t sought, std::vector<Hit>& hits) const {
    for (size_t p = 0; p < pages.count(); ++p) {
      if (!holds_for_page(settings_.where, pages.position(p)) || !worth_opening(pages, p)) continue;
      pages.close_before(p);
      const OpenPage& page = pages.open(p);
      for (size_t w = 0; w < page.words.words.size(); ++w) {
        Found found = from(pages, {p, w}, 0);
        if (found.probability <= 0 ||
            (found.misread && found.probability < settings_.least_probability))
          continue;
        Hit hit;
        hit.sought = sought;
        hit.document = document;
        hit.probability = found.probability;
        hit.misread = found.misread;
        hit.evidence = found.evidence;
        for (const Cursor& at : found.words) {
          const OpenPage& where = pages.open(at.page);
          if (hit.parts.empty() || hit.parts.back().page != where.id)
            hit.parts.push_back({where.id, where.position, {}});
          hit.parts.back().words.push_back(at.word);
        }
        hits.push_back(std::move(hit));
      }
    }
  }

 private:
  struct Found {
    double probability = 0;
    bool misread = false;
    Evidence evidence = {};
    std::vector<Cursor> words = {};
  };

  // Whether a word on the page may be the first that is sought.
  bool worth_opening(const Pages& pages, size_t page) const {
    const std::vector<float>& wanted = likelihoods_.front();
    bool any = false;
    const auto look = [&](FormNumber form) {
      any = any || (form < wanted.size() && wanted[form] > 0);
      return !any;
    };
    each_form(pages.forms(page), look);
    if (!any && (settings_.near || settings_.as_read)) each_other(pages.doubts(page), look);
    return any || (page + 1 < pages.count() &&
                   vocabulary_.ends_with_hyphen(last_of_text(pages.forms(page))));
  }

  // The word behind; on the next page where the text runs on there.
  static bool advance(Pages& pages, Cursor& at) {
    const OpenPage& page = pages.open(at.page);
    if (page.next[at.word] != OpenPage::kNone) {
      at.word = page.next[at.word];
      return true;
    }
    if (at.word != page.last_main || at.page + 1 >= pages.count()) return false;
    const OpenPage& behind = pages.open(at.page + 1);
    if (behind.first_main == OpenPage::kNone) return false;
    at = {at.page + 1, behind.first_main};
    return true;
  }

  double likelihood(size_t term, FormNumber form) const {
    return form < likelihoods_[term].size() ? static_cast<double>(likelihoods_[term][form]) : 0;
  }

  // One word against one term.
  Found alone(const IndexedWord& word, size_t term) const {
    Found found;
    const double own = likelihood(term, word.form);
    if (own >= 1) {
      found.probability = sureness(word);
      return found;
    }
    if (settings_.as_read && word.before != 0 && likelihood(term, word.before) >= 1) {
      found.probability = 1;
      return found;
    }
    if (!settings_.near || word.by_person) return found;
    double seen = 0, shares = 0;
    for (const OtherForm& other : word.others) {
      seen += other.share * likelihood(term, other.form);
      shares += other.share;
    }
    seen += std::max(0.0, 1 - shares) * own;
    found.misread = true;
    found.evidence = {word.error_probability, seen, letters_[term], vocabulary_.count(word.form),
                      occurrences_[term]};
    if (seen > 0) found.probability = probability_of(found.evidence);
    return found;
  }

  // Both halves of a word parted at a line's or page's end; `after`: the second.
  double together(Pages& pages, const Cursor& at, const Cursor& after, size_t term,
                  bool& misread) const {
    const OpenPage& page = pages.open(at.page);
    const IndexedWord& word = page.words.words[at.word];
    double own = 0;
    if (at.page == after.page) {
      own = likelihood(term, word.joined);
    } else {
      const IndexedWord& second = pages.open(after.page).words.words[after.word];
      const auto folder = std::make_unique<Folder>(settings_.folding);
      own = Vocabulary::likelihood(
          terms_[term], joined_halves(vocabulary_.form(word.form), vocabulary_.form(second.form)),
          *folder);
    }
    const IndexedWord& second = pages.open(after.page).words.words[after.word];
    const double doubt = 1 - sureness(word) * sureness(second);
    misread = own < 1;
    if (!misread) return 1 - doubt;
    return own > 0 && settings_.near
               ? probability_of({doubt, own, letters_[term], 1, occurrences_[term]})
               : 0;
  }

  // The terms from `term` on at this word and those behind it.
  Found from(Pages& pages, const Cursor& at, size_t term) const {
    Found best;
    const OpenPage& page = pages.open(at.page);
    const IndexedWord& word = page.words.words[at.word];
    Cursor behind = at;
    const bool more = advance(pages, behind);
    const bool parted =
        more &&
        (word.joined != 0 || (behind.page != at.page && vocabulary_.ends_with_hyphen(word.form)));
    const auto take = [&](Found found, const Cursor& last, std::vector<Cursor> words) {
      if (found.probability <= 0) return;
      if (term + 1 < terms_.size()) {
        Cursor next = last;
        if (!advance(pages, next)) return;
        const Found rest = from(pages, next, term + 1);
        found.probability *= rest.probability;
        found.misread = found.misread || rest.misread;
        words.insert(words.end(), rest.words.begin(), rest.words.end());
      }
      if (found.probability <= best.probability) return;
      best = std::move(found);
      best.words = std::move(words);
    };
    // A half is no word of its own.
    if (settings_.inside || (!parted && !page.second_half[at.word]))
      take(alone(word, term), at, {at});
    if (parted) {
      Found both;
      both.probability = together(pages, at, behind, term, both.misread);
      take(both, behind, {at, behind});
    }
    return best;
  }

  const Vocabulary& vocabulary_;
  const SearchSettings& settings_;
  std::vector<Term> terms_;
  std::vector<std::vector<float>> likelihoods_;
  std::vector<double> letters_, occurrences_;
};

// An expression over the text of lines, halves of words put together on the first of theirs.
void search_lines(const Expression& expression, const Vocabulary& vocabulary,
                  const SearchSettings& settings, Pages& pages, size_t document, size_t sought,
                  std::vector<Hit>& hits) {
  Folder folder(settings.folding);
  for (size_t p = 0; p < pages.count(); ++p) {
    if (!holds_for_page(settings.where, pages.position(p))) continue;
    pages.close_before(p);
    const OpenPage& page = pages.open(p);
    for (const IndexedLine& line : page.words.lines) {
      std::u32string text;
      std::vector<std::pair<size_t, size_t>> word_at;  // by character: the words
      for (size_t w = line.first; w < line.end; ++w) {
        const IndexedWord& word = page.words.words[w];
        if (w == line.first && page.second_half[w]) continue;
        if (!text.empty()) {
          text += U' ';
          word_at.push_back(word_at.back());
        }
        const bool joined = word.joined != 0 && page.next[w] != OpenPage::kNone;
        const size_t before = text.size();
        text += folder.folded(vocabulary.form(joined ? word.joined : word.form));
        word_at.insert(word_at.end(), text.size() - before, {w, joined ? page.next[w] : w});
      }
      for (const auto& [first, end] : expression.places(text)) {
        Hit hit;
        hit.sought = sought;
        hit.document = document;
        HitPart part{page.id, page.position, {}};
        for (size_t i = first; i < end; ++i) {
          if (text[i] == U' ') continue;
          for (const size_t w : {word_at[i].first, word_at[i].second})
            if (part.words.empty() || part.words.back() < w) part.words.push_back(w);
        }
        for (const size_t w : part.words)
          hit.probability = std::min(hit.probability, sureness(page.words.words[w]));
        hit.parts.push_back(std::move(part));
        if (!hit.parts.front().words.empty()) hits.push_back(std::move(hit));
      }
    }
  }
}

}  // namespace

std::array<double, kFeatures> features_of(const Evidence& e) {
  const double doubt = std::clamp(e.error_probability, kLeastSure, kSurest);
  const double likelihood = std::log(std::max(e.likelihood, 1e-12));
  return {1,
          std::log(doubt / (1 - doubt)),
          likelihood,
          likelihood / std::max(1.0, e.letters),
          e.letters,
          std::log1p(e.occurrences),
          std::log1p(e.others)};
}

double probability_of(const Evidence& evidence) {
  const std::array<double, kFeatures> features = features_of(evidence);
  double score = 0;
  for (size_t i = 0; i < features.size(); ++i) score += kWeights[i] * features[i];
  return 1 / (1 + std::exp(-score));
}

std::vector<Hit> search(const Index& index, const std::vector<std::string>& sought,
                        const SearchSettings& settings) {
  const Vocabulary vocabulary(index, settings.near);
  std::vector<PhraseSearch> phrases;
  std::vector<std::unique_ptr<Expression>> expressions;
  for (const std::string& one : sought) {
    if (settings.expression)
      expressions.push_back(
          std::make_unique<Expression>(one, settings.folding.ignore_case, settings.inside));
    else
      phrases.emplace_back(one, vocabulary, settings);
  }
  std::vector<Hit> hits;
  const std::vector<IndexedDocument> documents = index.documents();
  for (size_t d = 0; d < documents.size(); ++d) {
    if (!holds(settings.where, documents[d])) continue;
    const size_t before = hits.size();
    Pages pages(index, documents[d].id, settings.near || settings.as_read);
    for (size_t s = 0; s < sought.size(); ++s) {
      if (settings.expression)
        search_lines(*expressions[s], vocabulary, settings, pages, d, s, hits);
      else
        phrases[s].through(pages, d, s, hits);
    }
    std::stable_sort(hits.begin() + static_cast<long>(before), hits.end(),
                     [](const Hit& a, const Hit& b) {
                       const HitPart &x = a.parts.front(), &y = b.parts.front();
                       return x.position != y.position ? x.position < y.position
                                                       : x.words.front() < y.words.front();
                     });
  }
  return hits;
}

}  // namespace burnisher::find
