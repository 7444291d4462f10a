#include "recognise/languages.h"

#include <algorithm>
#include <filesystem>
#include <map>
#include <mutex>

#include "base/parallel.h"
#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

namespace fs = std::filesystem;

constexpr int kGuessOrder = 3;                         // sequences that tell languages apart
constexpr size_t kFewestLetters = 25;                  // with those of the lines near by
constexpr int kNearLines = 4;                          // above and below
constexpr double kNearShare = 0.5, kPageShare = 0.05;  // what other lines' letters count for

constexpr double kFewestToCompare = 4;  // letters of a line, to say how it is spelled

struct Tally {
  double score = 0;
  double letters = 0;
};

Tally tally_of(const std::string& line, const LanguageModel& model) {
  Tally tally;
  LanguageModel::Context context = model.start();
  for (char32_t c : as_printed(decode_utf8(line))) {
    const float step = model.step(context, model.symbol_of(c), context);
    if (!is_letter(c) && c != U' ') continue;
    tally.score += step;
    tally.letters += is_letter(c);
  }
  return tally;
}

}  // namespace

struct Languages::Cache {
  std::map<std::string, std::string> files;
  std::mutex guard;
  std::map<std::string, std::shared_ptr<const LanguageModel>> whole, short_ones;

  std::shared_ptr<const LanguageModel> taken(const std::string& tag, bool whole_one) {
    auto& models = whole_one ? whole : short_ones;
    {
      const std::lock_guard<std::mutex> lock(guard);
      const auto held = models.find(tag);
      if (held != models.end()) return held->second;
    }
    // Read without the lock, so that several are read at once.
    auto fresh =
        std::make_shared<const LanguageModel>(files.at(tag), whole_one ? 255 : kGuessOrder);
    const std::lock_guard<std::mutex> lock(guard);
    return models.emplace(tag, std::move(fresh)).first->second;
  }
};

Languages::Languages(const std::map<std::string, std::string>& files)
    : cache_(std::make_unique<Cache>()) {
  cache_->files = files;
  for (const auto& [tag, file] : files) tags_.push_back(tag);
}

Languages::~Languages() = default;

bool Languages::knows(const std::string& tag) const {
  return std::find(tags_.begin(), tags_.end(), tag) != tags_.end();
}

std::shared_ptr<const LanguageModel> Languages::model(const std::string& tag) const {
  return knows(tag) ? cache_->taken(tag, true) : nullptr;
}

std::optional<double> Languages::spelled(const std::string& line,
                                         const std::vector<std::string>& among) const {
  std::optional<double> best;
  for (const std::string& tag : among) {
    if (!knows(tag)) continue;
    const Tally tally = tally_of(line, *cache_->taken(tag, false));
    if (tally.letters < kFewestToCompare) continue;
    const double mean = tally.score / tally.letters;
    if (!best || mean > *best) best = mean;
  }
  return best;
}

std::vector<std::string> Languages::guess(const std::vector<std::string>& lines,
                                          const std::vector<std::string>& among) const {
  std::vector<std::string> possible;
  for (const std::string& tag : tags_) {
    if (among.empty() || std::find(among.begin(), among.end(), tag) != among.end())
      possible.push_back(tag);
  }
  std::vector<std::string> guessed(lines.size());
  if (possible.empty()) return guessed;
  if (possible.size() == 1) {
    std::fill(guessed.begin(), guessed.end(), possible[0]);
    return guessed;
  }
  std::vector<double> best(lines.size(), -1e300);
  parallel_each(static_cast<int>(possible.size()),
                [&](int i) { cache_->taken(possible[static_cast<size_t>(i)], false); });
  for (const std::string& tag : possible) {
    const auto model = cache_->taken(tag, false);
    std::vector<Tally> own;
    Tally page;
    for (const std::string& line : lines) {
      own.push_back(tally_of(line, *model));
      page.score += own.back().score;
      page.letters += own.back().letters;
    }
    const int count = static_cast<int>(lines.size());
    for (int i = 0; i < count; ++i) {
      Tally near;
      for (int k = std::max(0, i - kNearLines); k < std::min(count, i + kNearLines + 1); ++k) {
        const double share = k == i ? 1 : kNearShare;
        near.score += share * own[static_cast<size_t>(k)].score;
        near.letters += share * own[static_cast<size_t>(k)].letters;
      }
      near.score += kPageShare * page.score;
      if (near.letters + kPageShare * page.letters < kFewestLetters) continue;
      if (near.score <= best[static_cast<size_t>(i)]) continue;
      best[static_cast<size_t>(i)] = near.score;
      guessed[static_cast<size_t>(i)] = tag;
    }
  }
  return guessed;
}

}  // namespace burnisher::recognise
