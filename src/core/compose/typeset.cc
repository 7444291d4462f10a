#include "compose/typeset.h"

#include FT_OUTLINE_H

#include <algorithm>
#include <cmath>

namespace burnisher::compose {
namespace {

double pixels_per_unit(const Typeface& face, const TypeStyle& style) {
  return style.x_height / face.x_height();
}

hb_buffer_t* shape(const Typeface& face, const std::vector<char32_t>& text,
                   const TypeStyle& style) {
  hb_buffer_t* buffer = hb_buffer_create();
  hb_buffer_add_utf32(buffer, reinterpret_cast<const uint32_t*>(text.data()),
                      static_cast<int>(text.size()), 0, static_cast<int>(text.size()));
  hb_buffer_guess_segment_properties(buffer);
  const hb_feature_t features[] = {
      {HB_TAG('l', 'i', 'g', 'a'), style.ligatures, 0, static_cast<unsigned>(-1)},
      {HB_TAG('k', 'e', 'r', 'n'), style.kerning, 0, static_cast<unsigned>(-1)}};
  hb_shape(face.shaper(), buffer, features, 2);
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

SetLine set_line(const Typeface& face, const std::vector<char32_t>& text, const TypeStyle& style,
                 Random& random) {
  SetLine line;
  line.characters.resize(text.size());
  hb_buffer_t* buffer = shape(face, text, style);
  unsigned count = 0;
  const hb_glyph_info_t* shaped = hb_buffer_get_glyph_infos(buffer, &count);
  const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer, &count);
  const double unit = pixels_per_unit(face, style) / 64;
  const double em = unit * 64 * face.units_per_em();
  double pen = 0;
  for (unsigned i = 0; i < count;) {
    const unsigned cluster = shaped[i].cluster;
    unsigned end = i;
    const double start = pen;
    for (; end < count && shaped[end].cluster == cluster; ++end) {
      SetGlyph glyph;
      glyph.id = shaped[end].codepoint;
      glyph.x = pen + places[end].x_offset * unit * style.condense;
      glyph.y = places[end].y_offset * unit + random.normal() * style.wander * em;
      glyph.strength = 1 - style.ink_spread * random.uniform();
      const bool space = text[cluster] == U' ';
      if (!space) line.glyphs.push_back(glyph);
      pen += places[end].x_advance * unit * style.condense * (space ? style.word_space : 1);
    }
    const unsigned next = end < count ? shaped[end].cluster : static_cast<unsigned>(text.size());
    const unsigned members = next > cluster ? next - cluster : 1;  // a ligature has several
    for (unsigned m = 0; m < members; ++m) {
      line.characters[cluster + m].centre = start + (pen - start) * (m + 0.5) / members;
    }
    pen += style.tracking * em * members;
    if (text[cluster] == U'.' && next < text.size() && text[next] == U'.') {
      pen += style.leader_space * em;
    }
    i = end;
  }
  hb_buffer_destroy(buffer);
  line.width = pen;
  return line;
}

Box print_line(const Typeface& face, const SetLine& line, const TypeStyle& style, double x,
               double baseline, FloatImage& ink) {
  const FT_Face ft = face.freetype();
  const double unit = pixels_per_unit(face, style);
  const auto fixed = [](double v) { return static_cast<FT_Fixed>(std::lround(v * 65536)); };
  FT_Matrix matrix{fixed(unit * style.condense), fixed(unit * style.slant), 0, fixed(unit)};
  const double em = unit * face.units_per_em();
  std::vector<uint8_t> pixels;
  Box inked;
  for (const SetGlyph& glyph : line.glyphs) {
    if (FT_Load_Glyph(ft, glyph.id, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) != 0) continue;
    FT_Outline& outline = ft->glyph->outline;
    if (outline.n_points == 0) continue;
    FT_Outline_Transform(&outline, &matrix);
    if (style.embolden != 0) {
      const auto weight = static_cast<FT_Pos>(std::lround(style.embolden * em * 64));
      FT_Outline_Embolden(&outline, weight);
      FT_Outline_Translate(&outline, -weight / 2, -weight / 2);
    }
    FT_Outline_Translate(&outline, std::lround((x + glyph.x) * 64),
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
