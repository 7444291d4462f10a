#include "barcode/separator_sheet.h"

#include <ZXing/BarcodeFormat.h>
#include <ZXing/BitMatrix.h>
#include <ZXing/MultiFormatWriter.h>
#include <ZXing/TextUtfEncoding.h>
#include <cairo-pdf.h>
#include <fmt/core.h>

#include <cctype>

#include "base/error.h"

namespace burnisher::barcode {
namespace {

const char* const kBegin = "burnisher-separator:";
constexpr size_t kMostText = 900;                    // bytes; more makes modules too fine to scan
constexpr double kWidth = 595.28, kHeight = 841.89;  // points: A4
constexpr double kCode = 170, kEdge = 50;            // points
constexpr double kTitle = 40, kLine = 17;            // points

std::string coded(const std::string& text) {
  std::string result;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain =
        byte >= 0x80 || std::isalnum(byte) || std::string("-_. ").find(c) != std::string::npos;
    result += plain ? std::string(1, c) : fmt::format("%{:02X}", byte);
  }
  return result;
}

std::string decoded(const std::string& text) {
  std::string result;
  for (size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '%' && i + 2 < text.size() &&
        std::isxdigit(static_cast<unsigned char>(text[i + 1])) &&
        std::isxdigit(static_cast<unsigned char>(text[i + 2]))) {
      result += static_cast<char>(std::stoi(text.substr(i + 1, 2), nullptr, 16));
      i += 2;
    } else {
      result += text[i];
    }
  }
  return result;
}

void draw_code(cairo_t* on, const ZXing::BitMatrix& code, double x, double y) {
  const double module = kCode / code.width();
  for (int row = 0; row < code.height(); ++row)
    for (int column = 0; column < code.width(); ++column)
      if (code.get(column, row))
        cairo_rectangle(on, x + column * module, y + row * module, module, module);
  cairo_fill(on);
}

cairo_status_t take(void* to, const unsigned char* bytes, unsigned length) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), length);
  return CAIRO_STATUS_SUCCESS;
}

}  // namespace

std::string separator_text(const DescriptiveFields& fields) {
  std::string text = kBegin;
  for (const auto& [name, value] : fields)
    text += (text.back() == ':' ? "" : "&") + coded(name) + "=" + coded(value);
  return text;
}

std::optional<DescriptiveFields> fields_of_separator(const std::string& text) {
  if (text.rfind(kBegin, 0) != 0) return std::nullopt;
  DescriptiveFields fields;
  std::string rest = text.substr(std::string(kBegin).size());
  while (!rest.empty()) {
    const std::string one = rest.substr(0, rest.find('&'));
    rest = one.size() < rest.size() ? rest.substr(one.size() + 1) : "";
    const size_t equals = one.find('=');
    if (equals != std::string::npos && equals > 0)
      fields.emplace_back(decoded(one.substr(0, equals)), decoded(one.substr(equals + 1)));
  }
  return fields;
}

std::string separator_sheet(const DescriptiveFields& fields) {
  const std::string text = separator_text(fields);
  if (text.size() > kMostText)
    throw SettingsError("field", "the fields are too long for a code that a scanner can read");
  ZXing::MultiFormatWriter writer(ZXing::BarcodeFormat::QRCode);
  writer.setEccLevel(5);
  writer.setMargin(0);
  writer.setEncoding(ZXing::CharacterSet::UTF8);
  const ZXing::BitMatrix code = writer.encode(ZXing::TextUtfEncoding::FromUtf8(text), 1, 1);
  std::string bytes;
  cairo_surface_t* surface = cairo_pdf_surface_create_for_stream(take, &bytes, kWidth, kHeight);
  // Same fields, same bytes.
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, "Separator sheet");
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "1970-01-01T00:00:00Z");
  cairo_t* on = cairo_create(surface);
  draw_code(on, code, kEdge, kEdge);
  draw_code(on, code, kWidth - kEdge - kCode, kHeight - kEdge - kCode);
  cairo_select_font_face(on, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_BOLD);
  cairo_set_font_size(on, kTitle);
  cairo_move_to(on, kEdge, 330);
  cairo_show_text(on, "Separator");
  cairo_select_font_face(on, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
  cairo_set_font_size(on, kLine);
  double y = 375;
  for (const auto& [name, value] : fields) {
    cairo_move_to(on, kEdge, y);
    cairo_show_text(on, (name + ": " + value).c_str());
    y += 1.6 * kLine;
  }
  cairo_move_to(on, kEdge, y + kLine);
  cairo_set_font_size(on, 0.7 * kLine);
  cairo_show_text(on, "Begins a new document. This sheet is left out of it.");
  cairo_destroy(on);
  cairo_surface_finish(surface);
  const bool failed = cairo_surface_status(surface) != CAIRO_STATUS_SUCCESS;
  cairo_surface_destroy(surface);
  if (failed) throw OutputError("the separator sheet could not be drawn");
  return bytes;
}

}  // namespace burnisher::barcode
