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
  std::string scripts;  // ISO 15924 codes of those it has the letters of, comma between; "": Latn

  bool sets(const std::string& script) const;
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
  // Fit to set text: its small Latin letters, where it has them, are no small capitals.
  bool fit() const { return fit_; }
  double units_per_em() const { return units_per_em_; }
  double x_height() const { return x_height_; }  // in font units
  // What stands for the x-height in text of this script (ISO 15924), font units: the height of the
  // Hebrew letters, three quarters of an alif, a Devanagari letter up to its headline, half
  // of a Chinese character's square; else x_height.
  double x_height(const std::string& script) const;
  const std::string& klass() const { return klass_; }
  FT_Face freetype() const { return face_; }
  hb_font_t* shaper() const { return shaper_; }

 private:
  bool complete_latin() const;
  double outline_top(char32_t character) const;
  int outline_points(char32_t character) const;

  FT_Face face_ = nullptr;
  hb_font_t* shaper_ = nullptr;
  double units_per_em_ = 1000;
  double x_height_ = 0;
  bool fit_ = false;
  std::string klass_;
};

// The face of a line, and another for the characters that it lacks.
struct TypefacePair {
  const Typeface* main = nullptr;
  const Typeface* spare = nullptr;  // may be null
};

// Draws faces at random: classes by fixed shares, a family by the square root of its faces.
class TypefaceSampler {
 public:
  // Faces of one script.
  TypefaceSampler(std::vector<TypefaceEntry> entries, bool held,
                  const std::string& script = "Latn");
  ~TypefaceSampler();

  // A fit face that has every character of `text`, or null after a dozen tries.
  const Typeface* draw(const std::vector<char32_t>& text, Random& random);
  // The same, or a face that has everything but Latin letters, figures and signs, with one of
  // `latin` for these.
  TypefacePair draw_pair(const std::vector<char32_t>& text, TypefaceSampler& latin, Random& random);

 private:
  struct Slot {
    TypefaceEntry entry;
    double weight_up_to = 0;  // running sum
    std::unique_ptr<Typeface> face;
  };

  const Typeface* draw_fit(Random& random);

  FT_Library library_ = nullptr;
  std::vector<Slot> slots_;
};

}  // namespace burnisher::compose
