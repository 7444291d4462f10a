#include "type/typefaces.h"

#include <fmt/core.h>

#include <fontconfig/fontconfig.h>
#include <algorithm>
#include <cmath>
#include <mutex>
#include <tuple>

#include "base/error.h"

#include FT_OUTLINE_H

namespace burnisher::type {
namespace {

const char* family_name(const TypefaceName& name) {
  switch (name.family) {
    case Family::kSans:
      return name.spare ? "DejaVu Sans" : "Liberation Sans";
    case Family::kMono:
      return name.spare ? "DejaVu Sans Mono" : "Liberation Mono";
    case Family::kSerif:
      break;
  }
  return name.spare ? "DejaVu Serif" : "Liberation Serif";
}

FontFile looked_up(const TypefaceName& name) {
  const char* family = family_name(name);
  FcPattern* wanted = FcPatternCreate();
  FcPatternAddString(wanted, FC_FAMILY, reinterpret_cast<const FcChar8*>(family));
  FcPatternAddInteger(wanted, FC_WEIGHT, name.bold ? FC_WEIGHT_BOLD : FC_WEIGHT_REGULAR);
  FcPatternAddInteger(wanted, FC_SLANT, name.italic ? FC_SLANT_ITALIC : FC_SLANT_ROMAN);
  FcConfigSubstitute(nullptr, wanted, FcMatchPattern);
  FcDefaultSubstitute(wanted);
  FcResult result = FcResultNoMatch;
  FcPattern* found = FcFontMatch(nullptr, wanted, &result);
  FontFile file;
  FcChar8 *path = nullptr, *got = nullptr;
  if (found != nullptr && FcPatternGetString(found, FC_FAMILY, 0, &got) == FcResultMatch &&
      std::string(reinterpret_cast<const char*>(got)) == family &&
      FcPatternGetString(found, FC_FILE, 0, &path) == FcResultMatch) {
    file.path = reinterpret_cast<const char*>(path);
    FcPatternGetInteger(found, FC_INDEX, 0, &file.index);
  }
  if (found != nullptr) FcPatternDestroy(found);
  FcPatternDestroy(wanted);
  return file;
}

// Letters of these scripts join, stack or change places; a face alone does not set them.
bool needs_shaping(char32_t c) {
  return (c >= 0x0600 && c < 0x08FF) || (c >= 0x0900 && c < 0x1100) || (c >= 0x1780 && c < 0x18B0);
}

}  // namespace

bool TypefaceName::operator<(const TypefaceName& o) const {
  return std::tie(family, bold, italic, spare) < std::tie(o.family, o.bold, o.italic, o.spare);
}

TypefaceName face_of(const Type& type) {
  return {type.family, type.bold, type.italic, type.spare};
}

FontFile font_file(const TypefaceName& name) {
  static std::mutex guard;  // fontconfig's first use, and the files found
  static std::map<TypefaceName, FontFile> known;
  const std::lock_guard<std::mutex> lock(guard);
  auto at = known.find(name);
  if (at == known.end()) at = known.emplace(name, looked_up(name)).first;
  if (at->second.path.empty()) {
    throw InputError(fmt::format(
        "the typeface {} is not installed, which real text is set in; install the fonts of {} "
        "(Debian: {})",
        family_name(name), name.spare ? "DejaVu" : "Liberation",
        name.spare ? "fonts-dejavu-core" : "fonts-liberation"));
  }
  return at->second;
}

Typeface::Typeface(FT_Library library, const FontFile& file) {
  if (FT_New_Face(library, file.path.c_str(), file.index, &face_) != 0 || !FT_IS_SCALABLE(face_))
    throw FormatError(file.path + ": is no font that text can be set in");
  const TextMetrics x = extent({U'x'});
  if (x.top < 0) x_height_ = -x.top;
}

Typeface::~Typeface() {
  FT_Done_Face(face_);
}

int Typeface::glyph_of(char32_t character) const {
  return static_cast<int>(FT_Get_Char_Index(face_, character));
}

bool Typeface::has(const std::vector<char32_t>& text) const {
  return std::all_of(text.begin(), text.end(), [&](char32_t c) { return glyph_of(c) != 0; });
}

double Typeface::advance_of(int glyph) const {
  if (FT_Load_Glyph(face_, static_cast<FT_UInt>(glyph), FT_LOAD_NO_SCALE) != 0) return 0;
  return static_cast<double>(face_->glyph->metrics.horiAdvance) / face_->units_per_EM;
}

TextMetrics Typeface::extent(const std::vector<char32_t>& text) const {
  TextMetrics all;
  double first = 0, last = 0, pen = 0;
  bool any = false;
  for (const char32_t c : text) {
    if (FT_Load_Glyph(face_, static_cast<FT_UInt>(glyph_of(c)), FT_LOAD_NO_SCALE) != 0) continue;
    const FT_Glyph_Metrics& m = face_->glyph->metrics;
    if (m.width > 0) {
      const double from = pen + m.horiBearingX, to = from + m.width;
      first = any ? std::min(first, from) : from;
      last = any ? std::max(last, to) : to;
      const double top = -m.horiBearingY, bottom = m.height - m.horiBearingY;
      all.top = any ? std::min(all.top, top) : top;
      all.bottom = any ? std::max(all.bottom, bottom) : bottom;
      any = true;
    }
    pen += m.horiAdvance;
  }
  const double em = face_->units_per_EM;
  return {first / em, (last - first) / em, pen / em, all.top / em, all.bottom / em};
}

void Typeface::draw(const std::vector<char32_t>& text, double x, double baseline, double em,
                    double stretch, Gray& picture) const {
  constexpr double kFine = 64;  // FreeType counts in 64ths of a pixel
  FT_Set_Char_Size(face_, 0, std::max<FT_F26Dot6>(64, std::lround(em * kFine)), 72, 72);
  FT_Matrix wide{std::lround(stretch * 65536), 0, 0, 65536};
  double pen = x;
  for (const char32_t c : text) {
    const auto glyph = static_cast<FT_UInt>(glyph_of(c));
    const double whole = std::floor(pen), row = std::floor(baseline);
    FT_Vector rest{std::lround((pen - whole) * kFine), std::lround((row - baseline) * kFine)};
    FT_Set_Transform(face_, &wide, &rest);
    if (FT_Load_Glyph(face_, glyph, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) == 0 &&
        FT_Render_Glyph(face_->glyph, FT_RENDER_MODE_NORMAL) == 0) {
      const FT_Bitmap& map = face_->glyph->bitmap;
      const int x0 = static_cast<int>(whole) + face_->glyph->bitmap_left;
      const int y0 = static_cast<int>(row) - face_->glyph->bitmap_top;
      for (int v = 0; v < static_cast<int>(map.rows); ++v) {
        if (y0 + v < 0 || y0 + v >= picture.height()) continue;
        uint8_t* out = picture.row(y0 + v);
        const uint8_t* in = map.buffer + static_cast<ptrdiff_t>(v) * map.pitch;
        const int from = std::max(0, -x0);
        const int to = std::min(static_cast<int>(map.width), picture.width() - x0);
        for (int u = from; u < to; ++u)
          out[x0 + u] = std::min(out[x0 + u], static_cast<uint8_t>(255 - in[u]));
      }
    }
    pen += static_cast<double>(face_->glyph->linearHoriAdvance) / 65536 * stretch;
  }
  FT_Set_Transform(face_, nullptr, nullptr);
}

Typefaces::Typefaces() {
  if (FT_Init_FreeType(&library_) != 0) throw OutputError("fonts could not be opened at all");
}

Typefaces::~Typefaces() {
  open_.clear();
  FT_Done_FreeType(library_);
}

const Typeface& Typefaces::named(const TypefaceName& name) {
  auto& face = open_[name];
  if (!face) face = std::make_unique<Typeface>(library_, font_file(name));
  return *face;
}

const Typeface* Typefaces::for_text(TypefaceName& name, const std::vector<char32_t>& text) {
  if (text.empty() || std::any_of(text.begin(), text.end(), needs_shaping)) return nullptr;
  name.spare = false;
  if (const Typeface& face = named(name); face.has(text)) return &face;
  name.spare = true;
  const Typeface& spare = named(name);
  return spare.has(text) ? &spare : nullptr;
}

}  // namespace burnisher::type
