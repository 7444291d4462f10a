#include "find/hit_view.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"

namespace burnisher::find {

const PageWords& HitViews::words_of(int64_t page) {
  if (page != held_) {
    words_ = index_.words(page);
    page_ = index_.page(page);
    held_ = page;
  }
  return words_;
}

std::string HitViews::text(const PageWords& words, size_t first, size_t end) {
  std::string joined;
  for (size_t w = first; w < end; ++w) {
    if (w > first) joined += ' ';
    joined += index_.form(words.words[w].form);
  }
  return joined;
}

std::vector<HitLine> HitViews::lines(const Hit& hit) {
  std::vector<HitLine> list;
  for (const HitPart& part : hit.parts) {
    const PageWords& words = words_of(part.page);
    for (size_t i = 0; i < part.words.size();) {
      const auto line = std::find_if(words.lines.begin(), words.lines.end(), [&](const auto& l) {
        return part.words[i] >= l.first && part.words[i] < l.end;
      });
      if (line == words.lines.end()) break;
      HitLine one;
      one.page = page_;
      one.line_on_page = line->page;
      one.right_to_left = line->right_to_left;
      for (; i < part.words.size() && part.words[i] >= line->first && part.words[i] < line->end;
           ++i) {
        one.words.push_back(part.words[i]);
        one.on_page = united(one.on_page, words.words[part.words[i]].page);
        one.on_scan = united(one.on_scan, words.words[part.words[i]].scan);
      }
      one.before = text(words, line->first, one.words.front());
      one.found = text(words, one.words.front(), one.words.back() + 1);
      one.after = text(words, one.words.back() + 1, line->end);
      list.push_back(std::move(one));
    }
  }
  return list;
}

HitLine HitViews::in_context(const Hit& hit, int count) {
  const std::vector<HitLine> all = lines(hit);
  HitLine one = all.front();
  one.found = found_text(all);
  const auto around = static_cast<size_t>(count);
  const size_t first = hit.parts.front().words.front(), last = hit.parts.back().words.back();
  const PageWords& before = words_of(hit.parts.front().page);
  one.before = text(before, first > around ? first - around : 0, first);
  const PageWords& behind = words_of(hit.parts.back().page);
  one.after = text(behind, last + 1, std::min(behind.words.size(), last + 1 + around));
  return one;
}

std::string found_text(const std::vector<HitLine>& lines) {
  std::string text;
  for (const HitLine& line : lines) {
    const bool parted = ends_with_hyphen(utf32_of(text));
    if (!text.empty() && !parted) text += ' ';
    text += line.found;
  }
  return text;
}

std::vector<Box> places_in_pdf(const std::vector<PlacedText>& words, const PdfWords& pdf) {
  const size_t n = words.size(), m = pdf.words.size(), none = m;
  const auto distance = [&](size_t i, size_t j) {
    const Point p = pdf.words[j].box.centre();
    return std::hypot(p.x / pdf.width - words[i].place.x, p.y / pdf.height - words[i].place.y);
  };
  // The best sequence that both have in common (Needleman and Wunsch 1970); words count the more
  // the nearer they are, since documents may show a page cut or turned a little.
  const auto worth = [&](size_t i, size_t j) {
    return words[i].text == pdf.words[j].text ? 1 - std::min(0.5, distance(i, j)) : 0;
  };
  std::vector<double> best_sum((n + 1) * (m + 1), 0);
  const auto at = [&](size_t i, size_t j) -> double& { return best_sum[i * (m + 1) + j]; };
  for (size_t i = n; i-- > 0;)
    for (size_t j = m; j-- > 0;)
      at(i, j) = std::max({at(i + 1, j), at(i, j + 1), worth(i, j) + at(i + 1, j + 1)});
  std::vector<size_t> partner(n, none);
  std::vector<bool> taken(m, false);
  for (size_t i = 0, j = 0; i < n && j < m;) {
    if (at(i, j) == at(i + 1, j)) {
      ++i;
    } else if (at(i, j) == at(i, j + 1)) {
      ++j;
    } else {
      partner[i] = j;
      taken[j] = true;
      ++i;
      ++j;
    }
  }
  std::vector<Box> places(n);
  for (size_t i = 0; i < n; ++i) {
    size_t best = partner[i];
    double nearest = 1e18;
    for (size_t j = 0; j < m && partner[i] == none; ++j) {
      if (taken[j] || pdf.words[j].text != words[i].text || distance(i, j) >= nearest) continue;
      nearest = distance(i, j);
      best = j;
    }
    if (best == none) continue;
    taken[best] = true;
    places[i] = pdf.words[best].box;
  }
  return places;
}

}  // namespace burnisher::find
