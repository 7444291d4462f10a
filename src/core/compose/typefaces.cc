#include "compose/typefaces.h"

#include FT_OUTLINE_H
#include <hb-ft.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <sstream>

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::compose {
namespace {

// Shares of the classes among training lines: what scanned pages are set in.
const std::map<std::string, double> kClassShare = {{"serif", 0.56},       {"sans", 0.22},
                                                   {"mono", 0.06},        {"typewriter", 0.11},
                                                   {"blackletter", 0.03}, {"hand", 0.02}};

constexpr int kTries = 12;  // faces looked at before a text is given up

}  // namespace

std::vector<TypefaceEntry> read_typeface_table(const std::string& path) {
  std::ifstream file(path);
  if (!file) {
    throw InputError(path + ": cannot be read; scripts/training-corpus writes the table of faces");
  }
  std::vector<TypefaceEntry> entries;
  std::string line;
  for (int number = 1; std::getline(file, line); ++number) {
    if (line.empty() || line[0] == '#') continue;
    std::istringstream fields(line);
    TypefaceEntry entry;
    std::string index, split;
    std::getline(fields, entry.file, '\t');
    std::getline(fields, index, '\t');
    std::getline(fields, entry.klass, '\t');
    std::getline(fields, split, '\t');
    std::getline(fields, entry.family, '\t');
    std::getline(fields, entry.scripts, '\t');
    if (kClassShare.count(entry.klass) == 0 || (split != "train" && split != "held") ||
        index.find_first_not_of("0123456789") != std::string::npos || index.empty()) {
      throw FormatError(
          path + ", line " + std::to_string(number) +
          ": expected file, index, class (serif, sans, mono, typewriter, blackletter, hand), "
          "train or held, family, and what scripts it has (as in Latn,Cyrl), with tabs between");
    }
    entry.index = std::stoi(index);
    entry.held = split == "held";
    entries.push_back(entry);
  }
  return entries;
}

bool TypefaceEntry::sets(const std::string& script) const {
  return scripts.empty() ? script == "Latn" : scripts.find(script) != scripts.npos;
}

Typeface::Typeface(FT_Library library, const TypefaceEntry& entry) : klass_(entry.klass) {
  if (FT_New_Face(library, entry.file.c_str(), entry.index, &face_) != 0) {
    face_ = nullptr;
    return;
  }
  if (!FT_IS_SCALABLE(face_) || FT_Select_Charmap(face_, FT_ENCODING_UNICODE) != 0) return;
  // One pixel a font unit: shaping and outlines then share one size that never changes.
  units_per_em_ = face_->units_per_EM;
  FT_Set_Char_Size(face_, 0, static_cast<FT_F26Dot6>(face_->units_per_EM) * 64, 72, 72);
  shaper_ = hb_ft_font_create_referenced(face_);
  hb_ft_font_set_load_flags(shaper_, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP);
  if (!complete_latin()) {
    for (const char* script : {"Hebr", "Arab", "Deva", "Hani", "Hang"})
      fit_ = fit_ || x_height(script) > 0;
    return;
  }
  x_height_ = outline_top(U'x');
  const double cap_height = outline_top(U'H');
  int alike = 0;
  for (char32_t c : std::u32string(U"aegrnt")) {
    alike += outline_points(c) == outline_points(c - U'a' + U'A');
  }
  fit_ = x_height_ > 0.2 * units_per_em_ && x_height_ < 0.9 * cap_height && alike <= 2;
}

bool Typeface::complete_latin() const {
  const std::u32string basic = U"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,";
  return std::all_of(basic.begin(), basic.end(), [this](char32_t c) { return has(c); });
}

double Typeface::x_height(const std::string& script) const {
  constexpr char32_t kHe = 0x5D4, kAlif = 0x627, kKa = 0x915, kOne = 0x4E00, kA = 0x3042,
                     kGa = 0xAC00;
  constexpr double kOfAlif = 0.75;  // so that its tails and dots stay inside a strip
  if (script == "Hebr" && has(kHe)) return outline_top(kHe);
  if (script == "Arab" && has(kAlif)) return kOfAlif * outline_top(kAlif);
  if (script == "Deva" && has(kKa)) return outline_top(kKa);
  if ((script == "Hani" && (has(kOne) || has(kA))) || (script == "Hang" && has(kGa)))
    return units_per_em_ / 2;
  return x_height_;
}

Typeface::~Typeface() {
  if (shaper_ != nullptr) hb_font_destroy(shaper_);
  if (face_ != nullptr) FT_Done_Face(face_);
}

bool Typeface::has(char32_t character) const {
  constexpr char32_t kNonJoiner = 0x200C;  // shapes its neighbours, has no glyph of its own
  return face_ != nullptr && (character == kNonJoiner || FT_Get_Char_Index(face_, character) != 0);
}

double Typeface::outline_top(char32_t character) const {
  if (FT_Load_Char(face_, character, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) != 0) return 0;
  FT_BBox box;
  FT_Outline_Get_CBox(&face_->glyph->outline, &box);
  return static_cast<double>(box.yMax) / 64;
}

int Typeface::outline_points(char32_t character) const {
  if (FT_Load_Char(face_, character, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) != 0) return 0;
  return face_->glyph->outline.n_points;
}

TypefaceSampler::TypefaceSampler(std::vector<TypefaceEntry> entries, bool held,
                                 const std::string& script) {
  if (FT_Init_FreeType(&library_) != 0) throw SettingsError("FreeType could not be started");
  std::map<std::string, int> family_faces;
  std::map<std::string, double> class_weight;
  entries.erase(
      std::remove_if(entries.begin(), entries.end(),
                     [&](const TypefaceEntry& e) { return e.held != held || !e.sets(script); }),
      entries.end());
  for (const TypefaceEntry& e : entries) ++family_faces[e.family];
  const auto weight = [&](const TypefaceEntry& e) { return 1 / std::sqrt(family_faces[e.family]); };
  for (const TypefaceEntry& e : entries) class_weight[e.klass] += weight(e);
  double sum = 0;
  for (const TypefaceEntry& e : entries) {
    sum += kClassShare.at(e.klass) * weight(e) / class_weight[e.klass];
    slots_.push_back({e, sum, nullptr});
  }
  if (slots_.empty()) throw InputError("the table of faces lists none of the script " + script);
}

TypefaceSampler::~TypefaceSampler() {
  slots_.clear();
  FT_Done_FreeType(library_);
}

const Typeface* TypefaceSampler::draw_fit(Random& random) {
  const double at = random.uniform() * slots_.back().weight_up_to;
  auto slot = std::lower_bound(slots_.begin(), slots_.end(), at,
                               [](const Slot& s, double w) { return s.weight_up_to < w; });
  if (!slot->face) slot->face = std::make_unique<Typeface>(library_, slot->entry);
  return slot->face->fit() ? slot->face.get() : nullptr;
}

const Typeface* TypefaceSampler::draw(const std::vector<char32_t>& text, Random& random) {
  for (int attempt = 0; attempt < kTries; ++attempt) {
    const Typeface* const face = draw_fit(random);
    if (face != nullptr &&
        std::all_of(text.begin(), text.end(), [&](char32_t c) { return face->has(c); }))
      return face;
  }
  return nullptr;
}

TypefacePair TypefaceSampler::draw_pair(const std::vector<char32_t>& text, TypefaceSampler& latin,
                                        Random& random) {
  for (int attempt = 0; attempt < kTries; ++attempt) {
    const Typeface* const face = draw_fit(random);
    if (face == nullptr) continue;
    std::vector<char32_t> lacking;
    for (const char32_t c : text)
      if (!face->has(c)) lacking.push_back(c);
    if (lacking.empty()) return {face, nullptr};
    const bool common = std::all_of(lacking.begin(), lacking.end(), [](char32_t c) {
      const std::string script = script_of(c);
      return script == "Latn" || script == "Zyyy";
    });
    const Typeface* const spare = common ? latin.draw(lacking, random) : nullptr;
    if (spare != nullptr) return {face, spare};
  }
  return {};
}

}  // namespace burnisher::compose
