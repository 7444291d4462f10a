// The open typefaces that stand in for print: Liberation Serif, Sans and Mono, and for characters
// they lack DejaVu's. A face is opened on first use; a case of faces belongs to one thread.
#pragma once

#include <ft2build.h>
#include FT_FREETYPE_H

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::type {

struct TypefaceName {
  Family family = Family::kSerif;
  bool bold = false, italic = false;
  bool spare = false;

  bool operator<(const TypefaceName& other) const;
};
TypefaceName face_of(const Type& type);

// Where the font lies on this machine.
struct FontFile {
  std::string path;
  int index = 0;
};
// Throws InputError, with what to install, where there is none.
FontFile font_file(const TypefaceName& name);

// Of some text at its natural width, in em; y downwards from the baseline.
struct TextMetrics {
  double lead = 0, ink = 0, advance = 0;
  double top = 0, bottom = 0;
};

class Typeface {
 public:
  Typeface(FT_Library library, const FontFile& file);
  ~Typeface();
  Typeface(const Typeface&) = delete;
  Typeface& operator=(const Typeface&) = delete;

  bool has(const std::vector<char32_t>& text) const;
  int glyph_of(char32_t character) const;        // 0: none
  double x_height() const { return x_height_; }  // em
  double advance_of(int glyph) const;            // em
  TextMetrics extent(const std::vector<char32_t>& text) const;
  // Draws dark text on a light picture, the pen at (x, baseline), an em of `em` pixels, letters
  // `stretch` times as wide as they are by themselves.
  void draw(const std::vector<char32_t>& text, double x, double baseline, double em, double stretch,
            Gray& picture) const;
  FT_Face freetype() const { return face_; }

 private:
  FT_Face face_ = nullptr;
  double x_height_ = 0.5;
};

class Typefaces {
 public:
  Typefaces();
  ~Typefaces();

  const Typeface& named(const TypefaceName& name);
  // The face of this name that has all of the text: itself or its spare one; null: neither.
  // Scripts whose letters change with their neighbours are set by none.
  const Typeface* for_text(TypefaceName& name, const std::vector<char32_t>& text);

 private:
  FT_Library library_ = nullptr;
  std::map<TypefaceName, std::unique_ptr<Typeface>> open_;
};

}  // namespace burnisher::type
