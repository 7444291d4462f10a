#include "correct/replace.h"

#include <unicode/regex.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <memory>

#include "base/error.h"
#include "correct/word_change.h"

namespace burnisher::correct {
namespace {

std::string utf8_of(const icu::UnicodeString& text) {
  std::string out;
  text.toUTF8String(out);
  return out;
}

// Everything that has a meaning in expressions, with a backslash before it.
icu::UnicodeString quoted(const icu::UnicodeString& text) {
  icu::UnicodeString out;
  for (int32_t i = 0; i < text.length(); ++i) {
    if (u_ispunct(text[i]) || text[i] < 0x20) out.append(u'\\');
    out.append(text[i]);
  }
  return out;
}

std::unique_ptr<icu::RegexMatcher> matcher_of(const ReplaceSettings& settings) {
  if (settings.from.empty()) throw SettingsError("there is nothing to look for in \"\"");
  const icu::UnicodeString given = icu::UnicodeString::fromUTF8(settings.from);
  icu::UnicodeString pattern = settings.expression ? given : quoted(given);
  // A boundary beside a sign would ask for a letter there; around a word it is what is meant.
  if (settings.whole_words) {
    const bool before = settings.expression || u_isalnum(given.char32At(0));
    const bool after = settings.expression || u_isalnum(given.char32At(given.length() - 1));
    pattern = icu::UnicodeString(before ? u"\\b(?:" : u"(?:") + pattern + (after ? u")\\b" : u")");
  }
  UErrorCode status = U_ZERO_ERROR;
  UParseError where;
  uint32_t flags = UREGEX_UWORD;
  if (settings.ignore_case) flags |= UREGEX_CASE_INSENSITIVE;
  const std::unique_ptr<icu::RegexPattern> checked(
      icu::RegexPattern::compile(pattern, flags, where, status));
  if (U_FAILURE(status)) {
    throw SettingsError("\"" + settings.from +
                        "\" is no regular expression: " + u_errorName(status));
  }
  auto matcher = std::make_unique<icu::RegexMatcher>(pattern, flags, status);
  if (U_FAILURE(status)) throw SettingsError("\"" + settings.from + "\" can't be looked for");
  return matcher;
}

// Where each word of a line begins in its text, in UTF-16 units.
struct LineText {
  icu::UnicodeString text;
  std::vector<int32_t> starts;
  explicit LineText(const Line& line) {
    for (const Word& word : line.words) {
      if (!text.isEmpty()) text.append(u' ');
      starts.push_back(text.length());
      text.append(icu::UnicodeString::fromUTF8(word.text));
    }
  }
  size_t word_at(int32_t place) const {
    const auto after = std::upper_bound(starts.begin(), starts.end(), place);
    return static_cast<size_t>(after - starts.begin()) - 1;
  }
  int32_t end_of(size_t word) const {
    return word + 1 < starts.size() ? starts[word + 1] - 1 : text.length();
  }
};

// Words first to last become one, so that it can be replaced.
void unite(Line& line, size_t first, size_t last) {
  Word& word = line.words[first];
  for (size_t w = first + 1; w <= last; ++w) {
    word.text += " " + line.words[w].text;
    word.box = united(word.box, line.words[w].box);
    word.confidence = std::min(word.confidence, line.words[w].confidence);
  }
  if (last > first) {
    word.glyphs.clear();
    word.readings.clear();
  }
  line.words.erase(line.words.begin() + static_cast<long>(first) + 1,
                   line.words.begin() + static_cast<long>(last) + 1);
}

struct Match {
  size_t first, last;         // words
  std::string before, after;  // of these words
};

// The matches of a line, those in one word or in neighbouring ones taken together.
std::vector<Match> matches_in(const Line& line, icu::RegexMatcher& matcher,
                              const icu::UnicodeString& to, bool expression) {
  const LineText text(line);
  std::vector<Match> matches;
  if (text.starts.empty()) return matches;
  matcher.reset(text.text);
  UErrorCode status = U_ZERO_ERROR;
  size_t first = 0, last = 0;
  icu::UnicodeString changed;
  int32_t done = 0;
  bool open = false;
  const auto close = [&] {
    if (!open) return;
    changed.append(text.text, done, text.end_of(last) - done);
    const icu::UnicodeString before(text.text, text.starts[first],
                                    text.end_of(last) - text.starts[first]);
    matches.push_back({first, last, utf8_of(before), utf8_of(changed)});
    open = false;
  };
  while (matcher.find(status) && U_SUCCESS(status)) {
    const int32_t from = matcher.start(status), until = matcher.end(status);
    if (until <= from) continue;
    const size_t a = text.word_at(from), b = text.word_at(until - 1);
    if (open && a > last) close();
    if (!open) {
      first = a;
      last = b;
      done = text.starts[a];
      changed.remove();
      open = true;
    }
    last = std::max(last, b);
    changed.append(text.text, done, from - done);
    if (expression) {
      icu::UnicodeString filled;
      // Fills in the groups; what stands between matches is ours to keep.
      for (int32_t i = 0; i < to.length(); ++i) {
        if (to[i] == u'$' && i + 1 < to.length() && u_isdigit(to[i + 1])) {
          const int32_t group = to[i + 1] - u'0';
          if (group <= matcher.groupCount()) filled.append(matcher.group(group, status));
          ++i;
        } else {
          filled.append(to[i]);
        }
      }
      changed.append(filled);
    } else {
      changed.append(to);
    }
    done = until;
  }
  close();
  return matches;
}

}  // namespace

std::vector<Change> replace_all(const std::vector<Page*>& pages, const ReplaceSettings& settings,
                                bool only_look) {
  const auto matcher = matcher_of(settings);
  const icu::UnicodeString to = icu::UnicodeString::fromUTF8(settings.to);
  std::vector<Change> changes;
  for (Page* page : pages) {
    for (Block& block : page->blocks) {
      if (block.kind == BlockKind::kNoise) continue;
      for (Line& line : block.lines) {
        const std::vector<Match> matches = matches_in(line, *matcher, to, settings.expression);
        const std::string whole = line.text();
        for (auto m = matches.rbegin(); m != matches.rend(); ++m) {
          Box box = line.words[m->first].box;
          for (size_t w = m->first; w <= m->last; ++w) box = united(box, line.words[w].box);
          changes.push_back({page->file, page->number, box, m->before, m->after, whole,
                             "replaced over all pages"});
          if (only_look) continue;
          unite(line, m->first, m->last);
          replace_word(line, m->first, m->after, CorrectedBy::kPerson);
        }
        std::reverse(changes.end() - static_cast<long>(matches.size()), changes.end());
      }
    }
  }
  return changes;
}

}  // namespace burnisher::correct
