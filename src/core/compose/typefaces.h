// The typefaces that training lines are set in: a table of font files (scripts/training-corpus
// writes it) and the opened faces. A face is opened on first use and belongs to one thread.
#pragma once

#include <ft2build.h>
#include FT_FREETYPE_H
#include <hb.h>

#include <memory>
#include <string>
#include <vector>

#include "base/random.h"

namespace burnisher::compose {

struct TypefaceEntry {
  std::string file;
  int index = 0;
  std::string klass;  // serif, sans, mono, typewriter, blackletter, hand
  bool held = false;  // kept out of training, to validate on
  std::string family;
};

// Reads the table: file, index, class, train|held, family. Throws InputError/FormatError.
std::vector<TypefaceEntry> read_typeface_table(const std::string& path);

// One opened face, its outlines in font units times 64.
class Typeface {
 public:
  Typeface(FT_Library library, const TypefaceEntry& entry);
  ~Typeface();
  Typeface(const Typeface&) = delete;
  Typeface& operator=(const Typeface&) = delete;

  bool has(char32_t character) const;
  // Fit to set Latin text: has the basic letters, and its small letters are no small capitals.
  bool fit() const { return fit_; }
  double units_per_em() const { return units_per_em_; }
  double x_height() const { return x_height_; }  // in font units
  const std::string& klass() const { return klass_; }
  FT_Face freetype() const { return face_; }
  hb_font_t* shaper() const { return shaper_; }

 private:
  double outline_top(char32_t character) const;
  int outline_points(char32_t character) const;

  FT_Face face_ = nullptr;
  hb_font_t* shaper_ = nullptr;
  double units_per_em_ = 1000;
  double x_height_ = 0;
  bool fit_ = false;
  std::string klass_;
};

// Draws faces at random: classes by fixed shares, a family by the square root of its faces.
class TypefaceSampler {
 public:
  TypefaceSampler(std::vector<TypefaceEntry> entries, bool held);
  ~TypefaceSampler();

  // A fit face that has every character of `text`, or null after a dozen tries.
  const Typeface* draw(const std::vector<char32_t>& text, Random& random);

 private:
  struct Slot {
    TypefaceEntry entry;
    double weight_up_to = 0;  // running sum
    std::unique_ptr<Typeface> face;
  };

  FT_Library library_ = nullptr;
  std::vector<Slot> slots_;
};

}  // namespace burnisher::compose
