#include "recognise/language_model.h"

#include <algorithm>
#include <cstring>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr uint32_t kNone = UINT32_MAX;
constexpr float kUnknown = -12;  // ln p of a character that the language does not use

// Reads values off the front of a file's bytes.
class Reader {
 public:
  Reader(const std::string& path, const std::vector<uint8_t>& bytes) : path_(path), bytes_(bytes) {}

  uint32_t number(int size) {
    const uint8_t* from = take(static_cast<size_t>(size));
    uint32_t value = 0;
    for (int i = 0; i < size; ++i) value |= static_cast<uint32_t>(from[i]) << (8 * i);
    return value;
  }
  const uint8_t* take(size_t size) {
    if (size > bytes_.size() - at_) fail("it ends early");
    at_ += size;
    return bytes_.data() + at_ - size;
  }
  bool at_end() const { return at_ == bytes_.size(); }
  [[noreturn]] void fail(const std::string& why) const {
    throw FormatError(path_ + ": not a language model, " + why + "; copy it again or make it anew");
  }

 private:
  const std::string& path_;
  const std::vector<uint8_t>& bytes_;
  size_t at_ = 0;
};

}  // namespace

char32_t folded(char32_t c) {
  if (is_digit(c)) return U'0';
  switch (c) {
    case U'“':
    case U'”':
    case U'„':
    case U'«':
    case U'»':
    case U'″':
      return U'"';
    case U'’':
    case U'‘':
    case U'‚':
    case U'′':
    case U'‹':
    case U'›':
      return U'\'';
    case U'–':
    case U'—':
    case U'‐':
    case U'−':
      return U'-';
    case U'ſ':
      return U's';
    default:
      return to_lower(c);
  }
}

LanguageModel::LanguageModel(const std::string& path, int longest) {
  const std::vector<uint8_t> bytes = read_file(path);
  Reader reader(path, bytes);
  if (std::memcmp(reader.take(8), kLanguageModelMark, 8) != 0) reader.fail("its mark is missing");
  const int order = static_cast<int>(reader.number(1));
  const int count = static_cast<int>(reader.number(1));
  const size_t tag_length = reader.number(2);
  const uint8_t* tag = reader.take(tag_length);
  tag_.assign(tag, tag + tag_length);
  for (int i = 0; i < count; ++i) symbols_[static_cast<char32_t>(reader.number(4))] = i;
  std::vector<uint32_t> entries;
  for (int k = 0; k < order; ++k) entries.push_back(reader.number(4));
  if (order < 2 || count < 2) reader.fail("it knows no sequences");
  symbol_.push_back(0);
  log_probability_.push_back(0);
  backoff_.push_back(0);
  children_.push_back(1);
  uint64_t next = 1 + uint64_t{entries[0]};
  children_.push_back(static_cast<uint32_t>(next));
  const int levels = std::min(order, std::max(2, longest));
  for (int k = 0; k < levels; ++k) {
    const uint32_t size = entries[static_cast<size_t>(k)];
    const bool last = k + 1 == levels;
    const uint8_t* symbols = reader.take(size);
    const uint8_t* logs = reader.take(size);
    symbol_.insert(symbol_.end(), symbols, symbols + size);
    for (uint32_t i = 0; i < size; ++i)
      log_probability_.push_back(static_cast<float>(-kLogStep * logs[i]));
    if (last) break;
    const uint8_t* weights = reader.take(size);
    const uint8_t* going_on = reader.take(size);
    const uint64_t before = next;
    for (uint32_t i = 0; i < size; ++i) {
      backoff_.push_back(static_cast<float>(-kLogStep * (weights[i] - kBackoffOffset)));
      next += going_on[i];
      children_.push_back(static_cast<uint32_t>(next));
    }
    if (next - before != entries[static_cast<size_t>(k) + 1]) reader.fail("its levels don't agree");
  }
  if (levels == order && !reader.at_end()) reader.fail("something follows its end");
  for (uint8_t s : symbol_) {
    if (s >= count) reader.fail("it has an unknown symbol");
  }
  contexts_ = static_cast<uint32_t>(backoff_.size());
  link_contexts();
  const Context space = child(0, symbol_of(U' '));
  start_ = space < contexts_ ? space : 0;
}

void LanguageModel::link_contexts() {
  shorter_.assign(contexts_, 0);
  for (Context node = 0; node < contexts_; ++node) {
    for (uint32_t c = children_[node]; c < children_[node + 1] && c < contexts_; ++c) {
      // Sequences are kept with all that are part of them, so the search ends early.
      Context from = node;
      Context to = 0;
      while (from != 0) {
        from = shorter_[from];
        const Context found = child(from, symbol_[c]);
        if (found < contexts_ && found != c) {
          to = found;
          break;
        }
      }
      shorter_[c] = to;
    }
  }
}

int LanguageModel::symbol_of(char32_t character) const {
  const auto found = symbols_.find(folded(character));
  return found == symbols_.end() ? -1 : found->second;
}

LanguageModel::Context LanguageModel::child(Context node, int symbol) const {
  const uint8_t* first = symbol_.data() + children_[node];
  const uint8_t* last = symbol_.data() + children_[node + 1];
  const uint8_t* found = std::lower_bound(first, last, static_cast<uint8_t>(symbol));
  if (found == last || *found != symbol) return kNone;
  return static_cast<Context>(found - symbol_.data());
}

float LanguageModel::step(Context context, int symbol, Context& next) const {
  next = 0;
  if (symbol < 0) return kUnknown;
  float log_probability = 0;
  for (Context node = context;; node = shorter_[node]) {
    const Context found = child(node, symbol);
    if (found == kNone) {
      if (node == 0) return kUnknown;
      log_probability += backoff_[node];
      continue;
    }
    log_probability += log_probability_[found];
    // A node of the last level is no context: the longest one that ends with it is.
    Context to = found;
    while (to >= contexts_ && node != 0) {
      node = shorter_[node];
      to = child(node, symbol);
    }
    next = to < contexts_ ? to : 0;
    return log_probability;
  }
}

}  // namespace burnisher::recognise
