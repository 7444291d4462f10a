#include "correct/lexicon.h"

#include <algorithm>
#include <filesystem>
#include <future>
#include <hunspell/hunspell.hxx>
#include <map>
#include <mutex>
#include <set>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "correct/forms.h"

namespace burnisher::correct {
namespace {

namespace fs = std::filesystem;

constexpr size_t kMostRemembered = 200000;  // words whose answer is kept, for each dictionary

// Dictionaries know straight apostrophes; print has curly ones. A long s is an s.
std::string plain(const std::string& word) {
  std::string text;
  for (const char32_t c : decode_utf8(word)) {
    if (c == U'’' || c == U'‘' || c == U'ʼ')
      text += '\'';
    else if (c == U'‐')
      text += '-';
    else
      text += encode_utf8(c == U'ſ' ? U's' : c);
  }
  return text;
}

std::string lowered(const std::string& word) {
  std::vector<char32_t> text = decode_utf8(word);
  for (char32_t& c : text) c = to_lower(c);
  return encode_utf8(text);
}

// Word without a possessive ending or a verb drawn to it; empty when it has none.
std::string without_ending(const std::string& word) {
  for (const std::string ending : {"'s", "'S", "'ll", "'d", "'ve", "'re", "'LL", "'D"}) {
    if (word.size() > ending.size() + 1 &&
        word.compare(word.size() - ending.size(), ending.size(), ending) == 0)
      return word.substr(0, word.size() - ending.size());
  }
  if (word.size() > 3 && word.back() == '\'') return word.substr(0, word.size() - 1);
  return "";
}

// One installed dictionary, in its own encoding.
class Dictionary {
 public:
  Dictionary(const std::string& affixes, const std::string& words)
      : speller_(affixes.c_str(), words.c_str()) {
    const std::string& encoding = speller_.get_dict_encoding();
    utf8_ = encoding == "UTF-8" || encoding == "utf-8";
    if (!utf8_) wide_ = table_of_encoding(encoding);
  }

  bool knows(const std::string& word) {
    const std::lock_guard<std::mutex> lock(guard_);
    const auto known = remembered_.find(word);
    if (known != remembered_.end()) return known->second;
    std::string encoded;
    const bool right = encode(word, encoded) && speller_.spell(encoded);
    if (remembered_.size() < kMostRemembered) remembered_.emplace(word, right);
    return right;
  }

  std::vector<std::string> proposals(const std::string& word) {
    const std::lock_guard<std::mutex> lock(guard_);
    std::string encoded;
    if (!encode(word, encoded)) return {};
    std::vector<std::string> list;
    for (const std::string& proposal : speller_.suggest(encoded)) list.push_back(decode(proposal));
    return list;
  }

 private:
  bool encode(const std::string& word, std::string& out) const {
    if (utf8_) {
      out = word;
      return true;
    }
    for (const char32_t c : decode_utf8(word)) {
      const auto at = std::find(wide_.begin(), wide_.end(), c);
      if (at == wide_.end()) return false;
      out += static_cast<char>(at - wide_.begin());
    }
    return true;
  }

  std::string decode(const std::string& bytes) const {
    if (utf8_) return bytes;
    std::string text;
    for (const char c : bytes) {
      const auto byte = static_cast<unsigned char>(c);
      text += byte < wide_.size() ? encode_utf8(wide_[byte]) : std::string();
    }
    return text;
  }

  Hunspell speller_;
  bool utf8_ = true;
  std::vector<char32_t> wide_;  // the encoding's 256 characters
  std::mutex guard_;
  std::unordered_map<std::string, bool> remembered_;
};

}  // namespace

WordList WordList::read(const std::string& path) {
  WordList list;
  if (!fs::exists(path)) return list;
  const auto bytes = read_file(path);
  std::istringstream text(std::string(bytes.begin(), bytes.end()));
  for (std::string line; std::getline(text, line);) {
    if (!line.empty() && line.back() == '\r') line.pop_back();
    const size_t comment = line.find('#');
    if (comment == 0) list.comments_.push_back(line);
    std::string word = line.substr(0, comment);
    word.erase(0, word.find_first_not_of(" \t"));
    word.erase(word.find_last_not_of(" \t") + 1);
    if (word.empty()) continue;
    if (word.find('\0') != std::string::npos)
      throw FormatError(path + ": is no list of words (one word a line, # begins a comment)");
    list.words_.insert(to_nfc(word));
  }
  return list;
}

void WordList::write(const std::string& path) const {
  std::string text;
  for (const std::string& comment : comments_) text += comment + "\n";
  for (const std::string& word : sorted()) text += word + "\n";
  const fs::path folder = fs::path(path).parent_path();
  if (!folder.empty()) fs::create_directories(folder);
  write_file(path, text);
}

bool WordList::add(const std::string& word) {
  return words_.insert(to_nfc(word)).second;
}

bool WordList::remove(const std::string& word) {
  return words_.erase(to_nfc(word)) > 0;
}

std::vector<std::string> WordList::sorted() const {
  std::vector<std::string> list(words_.begin(), words_.end());
  std::sort(list.begin(), list.end());
  return list;
}

struct Lexicon::State {
  std::vector<std::string> folders;
  std::unordered_set<std::string> words;  // of all lists
  std::mutex guard;
  std::map<std::string, std::vector<std::unique_ptr<Dictionary>>> dictionaries;
  std::set<std::string> prepared;
  std::vector<std::future<void>> preparing;  // the last members: they use the others

  // NAMEs without ending of the dictionaries that serve a language: English is spelled in two ways;
  // of other languages the home country's goes before the others.
  std::vector<std::string> dictionaries_for(const std::string& language) const {
    std::vector<std::string> found;
    for (const std::string& folder : folders) {
      std::error_code status;
      for (const auto& entry : fs::directory_iterator(folder, status)) {
        const fs::path path = entry.path();
        const std::string stem = path.stem();
        const bool fits = stem == language ||
                          stem.compare(0, language.size() + 1, language + "_") == 0 ||
                          stem.compare(0, language.size() + 1, language + "-") == 0;
        if (path.extension() == ".dic" && fits &&
            fs::exists(fs::path(path).replace_extension(".aff")))
          found.push_back(fs::path(path).replace_extension(""));
      }
      if (!found.empty()) break;
    }
    std::sort(found.begin(), found.end());
    std::string home = language + "_";
    for (const char c : language)
      home += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    std::vector<std::string> wanted;
    for (const std::string& path : found) {
      const std::string name = fs::path(path).filename();
      if (name == home || name == "en_GB" || name == "en_US") wanted.push_back(path);
    }
    if (wanted.empty() && !found.empty()) wanted.push_back(found.front());
    return wanted;
  }

  const std::vector<std::unique_ptr<Dictionary>>& dictionaries_of(const std::string& language) {
    const std::lock_guard<std::mutex> lock(guard);
    const auto known = dictionaries.find(language);
    if (known != dictionaries.end()) return known->second;
    auto& slot = dictionaries[language];
    if (language.empty()) return slot;
    for (const std::string& path : dictionaries_for(language))
      slot.push_back(std::make_unique<Dictionary>(path + ".aff", path + ".dic"));
    return slot;
  }

  bool known_as_written(const std::string& word, const std::vector<std::string>& languages) {
    if (words.count(word) || words.count(lowered(word))) return true;
    return std::any_of(languages.begin(), languages.end(), [&](const std::string& language) {
      const auto& list = dictionaries_of(language);
      return std::any_of(list.begin(), list.end(),
                         [&](const auto& dictionary) { return dictionary->knows(word); });
    });
  }
};

Lexicon::Lexicon(std::vector<std::string> folders) : state_(std::make_unique<State>()) {
  state_->folders = std::move(folders);
}
Lexicon::~Lexicon() = default;

std::vector<std::string> Lexicon::installed() const {
  std::vector<std::string> languages;
  for (const std::string& folder : state_->folders) {
    std::error_code status;
    for (const auto& entry : fs::directory_iterator(folder, status)) {
      const fs::path path = entry.path();
      if (path.extension() != ".dic" || path.stem().string().rfind("hyph_", 0) == 0) continue;
      const std::string stem = path.stem();
      languages.push_back(stem.substr(0, stem.find_first_of("_-")));
    }
  }
  std::sort(languages.begin(), languages.end());
  languages.erase(std::unique(languages.begin(), languages.end()), languages.end());
  return languages;
}

bool Lexicon::has(const std::string& language) const {
  return !state_->dictionaries_of(language).empty();
}

void Lexicon::prepare(const std::vector<std::string>& languages) const {
  static std::mutex guard;  // not the dictionaries' own, which is held while they load
  const std::lock_guard<std::mutex> lock(guard);
  for (const std::string& language : languages) {
    if (language.empty() || !state_->prepared.insert(language).second) continue;
    State* const state = state_.get();
    state_->preparing.push_back(
        std::async(std::launch::async, [state, language] { state->dictionaries_of(language); }));
  }
}

void Lexicon::add_list(const WordList& list) {
  for (const std::string& word : list.sorted()) state_->words.insert(plain(word));
}

bool Lexicon::listed(const std::string& word) const {
  const std::string written = plain(word);
  return state_->words.count(written) > 0 || state_->words.count(lowered(written)) > 0;
}

bool Lexicon::knows(const std::string& word, const std::vector<std::string>& languages) const {
  const std::string written = plain(word);
  if (state_->known_as_written(written, languages)) return true;
  const std::string base = without_ending(written);
  if (!base.empty() && state_->known_as_written(base, languages)) return true;
  // l'eau, d'or: the article and the word, each right or short.
  const size_t apostrophe = written.find('\'');
  if (apostrophe != std::string::npos && apostrophe > 0 && apostrophe + 2 < written.size() &&
      apostrophe <= 5 && state_->known_as_written(written.substr(apostrophe + 1), languages) &&
      (apostrophe <= 2 || state_->known_as_written(written.substr(0, apostrophe), languages)))
    return true;
  const std::vector<std::string> parts = parts_of(written);
  if (parts.size() < 2) return false;
  return std::all_of(parts.begin(), parts.end(), [&](const std::string& part) {
    return form_of(part).kind != FormKind::kWord || state_->known_as_written(part, languages);
  });
}

std::vector<std::string> Lexicon::proposals(const std::string& word,
                                            const std::string& language) const {
  const auto& list = state_->dictionaries_of(language);
  return list.empty() ? std::vector<std::string>() : list.front()->proposals(plain(word));
}

}  // namespace burnisher::correct
