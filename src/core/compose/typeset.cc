#include "compose/typeset.h"

#include FT_OUTLINE_H

#include <algorithm>
#include <cmath>
#include <map>

#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::compose {
namespace {

// Characters [from, from + count) of one face and direction.
struct Piece {
  const Typeface* face = nullptr;
  size_t from = 0, count = 0;
  bool right_to_left = false;
};

// From left to right.
std::vector<Piece> pieces_of(const TypefacePair& faces, const std::vector<char32_t>& text,
                             bool right_to_left) {
  std::vector<Piece> pieces;
  for (const DirectionRun& run : direction_runs(text, right_to_left)) {
    std::vector<Piece> parts;
    for (size_t i = run.from; i < run.from + run.count; ++i) {
      const bool spare = faces.spare != nullptr && !faces.main->has(text[i]);
      const Typeface* const face = spare ? faces.spare : faces.main;
      if (parts.empty() || parts.back().face != face)
        parts.push_back({face, i, 0, run.right_to_left});
      ++parts.back().count;
    }
    if (run.right_to_left) std::reverse(parts.begin(), parts.end());
    pieces.insert(pieces.end(), parts.begin(), parts.end());
  }
  return pieces;
}

hb_buffer_t* shape(const Piece& piece, const std::vector<char32_t>& text, const TypeStyle& style) {
  hb_buffer_t* buffer = hb_buffer_create();
  hb_buffer_add_utf32(buffer, reinterpret_cast<const uint32_t*>(text.data()),
                      static_cast<int>(text.size()), static_cast<unsigned>(piece.from),
                      static_cast<int>(piece.count));
  hb_buffer_guess_segment_properties(buffer);
  hb_buffer_set_direction(buffer, piece.right_to_left ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
  const hb_feature_t features[] = {
      {HB_TAG('l', 'i', 'g', 'a'), style.ligatures, 0, static_cast<unsigned>(-1)},
      {HB_TAG('k', 'e', 'r', 'n'), style.kerning, 0, static_cast<unsigned>(-1)},
      {HB_TAG('v', 'e', 'r', 't'), style.vertical_forms, 0, static_cast<unsigned>(-1)}};
  hb_shape(piece.face->shaper(), buffer, features, 3);
  return buffer;
}

void blend(const FT_Bitmap& bitmap, int left, int top, double strength, FloatImage& ink) {
  for (unsigned r = 0; r < bitmap.rows; ++r) {
    const int y = top + static_cast<int>(r);
    if (y < 0 || y >= ink.height()) continue;
    const uint8_t* from = bitmap.buffer + static_cast<long>(r) * bitmap.pitch;
    float* to = ink.row(y);
    const int first = std::max(0, -left);
    const int last = std::min(static_cast<int>(bitmap.width), ink.width() - left);
    for (int c = first; c < last; ++c) {
      const float cover = static_cast<float>(from[c] * strength / 255);
      to[left + c] = to[left + c] + cover - to[left + c] * cover;
    }
  }
}

}  // namespace

std::string main_script(const std::vector<char32_t>& text) {
  std::map<std::string, int> letters;
  for (const char32_t c : text)
    if (is_letter(c)) ++letters[script_of(c)];
  std::string main = "Latn";
  int most = 0;
  for (const auto& [script, count] : letters) {
    if (count > most) main = script;
    most = std::max(most, count);
  }
  return main;
}

namespace {

class Setter {
 public:
  Setter(const std::vector<char32_t>& text, const TypeStyle& style, Random& random, SetLine& line)
      : text_(text), style_(style), random_(random), line_(line) {}

  void set(const Piece& piece) {
    hb_buffer_t* buffer = shape(piece, text_, style_);
    unsigned count = 0;
    const hb_glyph_info_t* shaped = hb_buffer_get_glyph_infos(buffer, &count);
    const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer, &count);
    std::vector<size_t> starts = {piece.from + piece.count};  // of the clusters, in the text
    for (unsigned i = 0; i < count; ++i) starts.push_back(shaped[i].cluster);
    std::sort(starts.begin(), starts.end());
    const double unit = line_.em / piece.face->units_per_em() / 64;
    for (unsigned i = 0; i < count;) {
      unsigned end = i;
      const double start = line_.width;
      for (; end < count && shaped[end].cluster == shaped[i].cluster; ++end)
        put(*piece.face, shaped[end], places[end], unit);
      const size_t from = shaped[i].cluster;
      const size_t to = *std::upper_bound(starts.begin(), starts.end(), from);
      centre(from, to, start, piece.right_to_left);
      line_.width += style_.tracking * line_.em * static_cast<double>(to - from);
      if (text_[from] == U'.' && to < text_.size() && text_[to] == U'.')
        line_.width += style_.leader_space * line_.em;
      i = end;
    }
    hb_buffer_destroy(buffer);
  }

 private:
  void put(const Typeface& face, const hb_glyph_info_t& shaped, const hb_glyph_position_t& place,
           double unit) {
    SetGlyph glyph;
    glyph.face = &face;
    glyph.id = shaped.codepoint;
    glyph.x = line_.width + place.x_offset * unit * style_.condense;
    glyph.y = place.y_offset * unit + random_.normal() * style_.wander * line_.em;
    glyph.strength = style_.strength * (1 - style_.ink_spread * random_.uniform());
    const bool space = text_[shaped.cluster] == U' ';
    if (!space) line_.glyphs.push_back(glyph);
    line_.width += place.x_advance * unit * style_.condense * (space ? style_.word_space : 1);
  }

  // A ligature's characters share its width.
  void centre(size_t from, size_t to, double start, bool right_to_left) {
    const double members = static_cast<double>(to - from);
    for (size_t i = from; i < to; ++i) {
      const double along = (static_cast<double>(i - from) + 0.5) / members;
      line_.characters[i].centre =
          start + (line_.width - start) * (right_to_left ? 1 - along : along);
    }
  }

  const std::vector<char32_t>& text_;
  const TypeStyle& style_;
  Random& random_;
  SetLine& line_;
};

}  // namespace

namespace {

// The em at which letters of the script have this x-height; pixels.
double em_of(const TypefacePair& faces, const std::string& script, double x_height) {
  for (const Typeface* const face : {faces.main, faces.spare})
    if (face != nullptr && face->x_height(script) > 0)
      return x_height / face->x_height(script) * face->units_per_em();
  // Figures alone, in a face that has no Latin letters.
  for (const char* const other : {"Hebr", "Arab", "Deva", "Hani", "Hang"})
    if (faces.main->x_height(other) > 0)
      return x_height / faces.main->x_height(other) * faces.main->units_per_em();
  return 2 * x_height;
}

}  // namespace

SetLine set_line(const TypefacePair& faces, const std::vector<char32_t>& text, bool right_to_left,
                 const TypeStyle& style, Random& random) {
  SetLine line;
  line.characters.resize(text.size());
  line.em = em_of(faces, main_script(text), style.x_height);
  Setter setter(text, style, random, line);
  for (const Piece& piece : pieces_of(faces, text, right_to_left)) setter.set(piece);
  return line;
}

SetLine set_line(const Typeface& face, const std::vector<char32_t>& text, const TypeStyle& style,
                 Random& random) {
  return set_line({&face, nullptr}, text, false, style, random);
}

Box print_line(const SetLine& line, const TypeStyle& style, double x, double baseline,
               FloatImage& ink, bool mirrored) {
  const double side = mirrored ? -1 : 1;
  if (mirrored) x += line.width;
  const auto fixed = [](double v) { return static_cast<FT_Fixed>(std::lround(v * 65536)); };
  std::vector<uint8_t> pixels;
  Box inked;
  for (const SetGlyph& glyph : line.glyphs) {
    const FT_Face ft = glyph.face->freetype();
    const double unit = line.em / glyph.face->units_per_em();
    const FT_Matrix matrix{fixed(side * unit * style.condense), fixed(side * unit * style.slant), 0,
                           fixed(unit)};
    if (FT_Load_Glyph(ft, glyph.id, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) != 0) continue;
    FT_Outline& outline = ft->glyph->outline;
    if (outline.n_points == 0) continue;
    FT_Outline_Transform(&outline, &matrix);
    if (style.embolden != 0) {
      const auto weight = static_cast<FT_Pos>(std::lround(style.embolden * line.em * 64));
      FT_Outline_Embolden(&outline, weight);
      FT_Outline_Translate(&outline, -weight / 2, -weight / 2);
    }
    FT_Outline_Translate(&outline, std::lround((x + side * glyph.x) * 64),
                         std::lround((glyph.y - baseline) * 64));
    FT_BBox box;
    FT_Outline_Get_CBox(&outline, &box);
    const long left = box.xMin >> 6, bottom = box.yMin >> 6;
    const long width = ((box.xMax + 63) >> 6) - left, height = ((box.yMax + 63) >> 6) - bottom;
    if (width <= 0 || height <= 0 || width > 4000 || height > 4000) continue;
    pixels.assign(static_cast<size_t>(width * height), 0);
    FT_Bitmap bitmap{};
    bitmap.rows = static_cast<unsigned>(height);
    bitmap.width = static_cast<unsigned>(width);
    bitmap.pitch = static_cast<int>(width);
    bitmap.buffer = pixels.data();
    bitmap.num_grays = 256;
    bitmap.pixel_mode = FT_PIXEL_MODE_GRAY;
    FT_Outline_Translate(&outline, -left * 64, -bottom * 64);
    if (FT_Outline_Get_Bitmap(ft->glyph->library, &outline, &bitmap) != 0) continue;
    blend(bitmap, static_cast<int>(left), static_cast<int>(-(bottom + height)), glyph.strength,
          ink);
    inked = united(inked, {static_cast<double>(left), static_cast<double>(-(bottom + height)),
                           static_cast<double>(left + width), static_cast<double>(-bottom)});
  }
  return inked;
}

}  // namespace burnisher::compose
