#include "pdf/font_objects.h"

#include <fmt/core.h>

#include <algorithm>

#include "pdf/blank_font.h"

namespace burnisher::pdf {
namespace {

QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

}  // namespace

void add_fonts(QPDF& pdf, const TextFonts& fonts, QPDFObjectHandle resources) {
  const int glyphs = static_cast<int>(fonts.codes.characters().size());
  if (glyphs == 0) return;
  const std::vector<uint8_t> bytes = blank_font(glyphs);
  auto program = QPDFObjectHandle::newStream(&pdf, std::string(bytes.begin(), bytes.end()));
  program.getDict().replaceKey("/Length1", integer(static_cast<long long>(bytes.size())));
  auto to_unicode = QPDFObjectHandle::newStream(&pdf, fonts.codes.to_unicode());
  for (const auto& [reach, number] : fonts.all()) {
    const int ascent = static_cast<int>(1000 * kReachStep * reach.above);
    const int descent = -std::max(1, static_cast<int>(1000 * kReachStep * reach.below));
    auto descriptor = QPDFObjectHandle::parse(fmt::format(
        "<< /Type /FontDescriptor /FontName /BurnisherBlank /Flags 4 /FontBBox [0 {1} {2} {0}] "
        "/ItalicAngle 0 /Ascent {0} /Descent {1} /CapHeight 700 /StemV 80 /MissingWidth {2} >>",
        ascent, descent, kBlankAdvance));
    descriptor.replaceKey("/FontFile2", program);
    auto descendant = QPDFObjectHandle::parse(fmt::format(
        "<< /Type /Font /Subtype /CIDFontType2 /BaseFont /BurnisherBlank /CIDSystemInfo << "
        "/Registry (Adobe) /Ordering (Identity) /Supplement 0 >> /DW {} /CIDToGIDMap /Identity "
        ">>",
        kBlankAdvance));
    descendant.replaceKey("/FontDescriptor", pdf.makeIndirectObject(descriptor));
    auto font = QPDFObjectHandle::parse(
        "<< /Type /Font /Subtype /Type0 /BaseFont /BurnisherBlank /Encoding /Identity-H >>");
    auto descendants = QPDFObjectHandle::newArray();
    descendants.appendItem(pdf.makeIndirectObject(descendant));
    font.replaceKey("/DescendantFonts", descendants);
    font.replaceKey("/ToUnicode", to_unicode);
    resources.replaceKey(fmt::format("/T{}", number), pdf.makeIndirectObject(font));
  }
}

}  // namespace burnisher::pdf
