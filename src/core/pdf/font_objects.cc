#include "pdf/font_objects.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "pdf/blank_font.h"
#include "type/subset.h"

namespace burnisher::pdf {
namespace {

QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

QPDFObjectHandle composite_font(QPDF& pdf, const std::string& name, QPDFObjectHandle descendant,
                                QPDFObjectHandle to_unicode) {
  auto font = QPDFObjectHandle::parse("<< /Type /Font /Subtype /Type0 /Encoding /Identity-H >>");
  font.replaceKey("/BaseFont", QPDFObjectHandle::newName("/" + name));
  auto descendants = QPDFObjectHandle::newArray();
  descendants.appendItem(pdf.makeIndirectObject(descendant));
  font.replaceKey("/DescendantFonts", descendants);
  font.replaceKey("/ToUnicode", to_unicode);
  return pdf.makeIndirectObject(font);
}

QPDFObjectHandle font_program(QPDF& pdf, const std::vector<uint8_t>& bytes) {
  auto program = QPDFObjectHandle::newStream(&pdf, std::string(bytes.begin(), bytes.end()));
  program.getDict().replaceKey("/Length1", integer(static_cast<long long>(bytes.size())));
  return program;
}

QPDFObjectHandle descendant_font(const std::string& name) {
  auto font = QPDFObjectHandle::parse(
      "<< /Type /Font /Subtype /CIDFontType2 /CIDSystemInfo << /Registry (Adobe) /Ordering "
      "(Identity) /Supplement 0 >> >>");
  font.replaceKey("/BaseFont", QPDFObjectHandle::newName("/" + name));
  return font;
}

void add_invisible(QPDF& pdf, const TextFonts& fonts, QPDFObjectHandle resources) {
  const int glyphs = static_cast<int>(fonts.codes.characters().size());
  if (glyphs == 0) return;
  auto program = font_program(pdf, blank_font(glyphs));
  auto to_unicode = QPDFObjectHandle::newStream(&pdf, fonts.codes.to_unicode());
  for (const auto& [extent, number] : fonts.all()) {
    const int ascent = static_cast<int>(1000 * kExtentStep * extent.above);
    const int descent = -std::max(1, static_cast<int>(1000 * kExtentStep * extent.below));
    auto descriptor = QPDFObjectHandle::parse(fmt::format(
        "<< /Type /FontDescriptor /FontName /BurnisherBlank /Flags 4 /FontBBox [0 {1} {2} {0}] "
        "/ItalicAngle 0 /Ascent {0} /Descent {1} /CapHeight 700 /StemV 80 /MissingWidth {2} >>",
        ascent, descent, kBlankAdvance));
    descriptor.replaceKey("/FontFile2", program);
    auto descendant = descendant_font("BurnisherBlank");
    descendant.replaceKey("/DW", integer(kBlankAdvance));
    descendant.replaceKey("/CIDToGIDMap", QPDFObjectHandle::newName("/Identity"));
    descendant.replaceKey("/FontDescriptor", pdf.makeIndirectObject(descriptor));
    resources.replaceKey(fmt::format("/T{}", number),
                         composite_font(pdf, "BurnisherBlank", descendant, to_unicode));
  }
}

// Six letters that mark a font as a part (ISO 32000-1, 9.6.4), different for each of a document's.
std::string part_mark(int number) {
  std::string mark = "BRNAAA";
  for (size_t at = 6; number > 0 && at > 3; number /= 26)
    mark[--at] += static_cast<char>(number % 26);
  return mark;
}

constexpr int kFixedPitch = 1, kSerif = 2, kSymbolic = 4, kItalic = 64;  // flags (9.8.2)

QPDFObjectHandle descriptor_of(const type::TypefaceName& name, const SetFace& set,
                               const std::string& font_name) {
  const FT_Face face = set.face->freetype();
  const auto thousandths = [&](long units) { return 1000 * units / face->units_per_EM; };
  const int flags = kSymbolic | (name.family == Family::kMono ? kFixedPitch : 0) |
                    (name.family == Family::kSerif ? kSerif : 0) | (name.italic ? kItalic : 0);
  auto descriptor = QPDFObjectHandle::parse(fmt::format(
      "<< /Type /FontDescriptor /Flags {} /FontBBox [{} {} {} {}] /ItalicAngle {} /Ascent {} "
      "/Descent {} /CapHeight {} /StemV {} >>",
      flags, thousandths(face->bbox.xMin), thousandths(face->bbox.yMin),
      thousandths(face->bbox.xMax), thousandths(face->bbox.yMax), name.italic ? -12 : 0,
      thousandths(face->ascender), thousandths(face->descender),
      std::lround(-1000 * set.face->extent({U'H'}).top), name.bold ? 140 : 85));
  descriptor.replaceKey("/FontName", QPDFObjectHandle::newName("/" + font_name));
  return descriptor;
}

void add_face(QPDF& pdf, const type::TypefaceName& name, const SetFace& set,
              QPDFObjectHandle resources) {
  std::vector<int> glyphs;
  for (const auto& [code, character] : set.codes.characters())
    glyphs.push_back(set.face->glyph_of(character));
  const type::Subset subset = type::subset_of(name, glyphs);
  const std::string font_name =
      part_mark(set.number) + "+" + FT_Get_Postscript_Name(set.face->freetype());
  // Codes count from 1, as characters came up; the map leads to the glyphs, the list has the
  // widths.
  std::string map(2, '\0');
  std::string widths = "[1 [";
  for (size_t i = 0; i < glyphs.size(); ++i) {
    map += static_cast<char>(subset.glyphs[i] >> 8);
    map += static_cast<char>(subset.glyphs[i] & 255);
    widths += fmt::format(" {}", std::lround(1000 * set.face->advance_of(glyphs[i])));
  }
  auto descriptor = descriptor_of(name, set, font_name);
  descriptor.replaceKey("/FontFile2", font_program(pdf, subset.font));
  auto descendant = descendant_font(font_name);
  descendant.replaceKey("/W", QPDFObjectHandle::parse(widths + "]]"));
  descendant.replaceKey("/CIDToGIDMap", QPDFObjectHandle::newStream(&pdf, map));
  descendant.replaceKey("/FontDescriptor", pdf.makeIndirectObject(descriptor));
  auto to_unicode = QPDFObjectHandle::newStream(&pdf, set.codes.to_unicode());
  resources.replaceKey("/" + set.name(), composite_font(pdf, font_name, descendant, to_unicode));
}

}  // namespace

void add_fonts(QPDF& pdf, const TextFonts& fonts, QPDFObjectHandle resources) {
  add_invisible(pdf, fonts, resources);
  for (const auto& [name, set] : fonts.faces()) add_face(pdf, name, set, resources);
}

}  // namespace burnisher::pdf
