#include "pdf/highlights.h"

#include <fmt/core.h>

#include "base/error.h"
#include "base/files.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace burnisher::pdf {
namespace {

const char* const kColour = "1 0.88 0.3";  // sRGB: a yellow that black print stays black under
constexpr double kMargin = 0.08;           // of a box's height, on all sides
constexpr int kPrinted = 4;                // annotation flag

// A box on the page as it is seen, in the page's own coordinates.
Box on_page(const Box& seen, const QPDFObjectHandle::Rectangle& crop, int rotation) {
  switch (rotation) {
    case 90:
      return {crop.llx + seen.y0, crop.lly + seen.x0, crop.llx + seen.y1, crop.lly + seen.x1};
    case 180:
      return {crop.urx - seen.x1, crop.lly + seen.y0, crop.urx - seen.x0, crop.lly + seen.y1};
    case 270:
      return {crop.urx - seen.y1, crop.ury - seen.x1, crop.urx - seen.y0, crop.ury - seen.x0};
    default:
      return {crop.llx + seen.x0, crop.ury - seen.y1, crop.llx + seen.x1, crop.ury - seen.y0};
  }
}

QPDFObjectHandle annotation(QPDF& pdf, const std::vector<Box>& boxes, const std::string& note) {
  Box all;
  std::string corners, drawing = fmt::format("/Mark gs {} rg\n", kColour);
  for (const Box& b : boxes) {
    all = united(all, b);
    corners += fmt::format("{:.2f} {:.2f} {:.2f} {:.2f} {:.2f} {:.2f} {:.2f} {:.2f} ", b.x0, b.y1,
                           b.x1, b.y1, b.x0, b.y0, b.x1, b.y0);
    drawing += fmt::format("{:.2f} {:.2f} {:.2f} {:.2f} re f\n", b.x0, b.y0, b.width(), b.height());
  }
  const std::string rectangle =
      fmt::format("[{:.2f} {:.2f} {:.2f} {:.2f}]", all.x0, all.y0, all.x1, all.y1);
  auto look = QPDFObjectHandle::newStream(&pdf, drawing);
  look.replaceDict(QPDFObjectHandle::parse(fmt::format(
      "<< /Type /XObject /Subtype /Form /BBox {} /Resources << /ExtGState << /Mark << /BM "
      "/Multiply >> >> >> /Group << /S /Transparency >> >>",
      rectangle)));
  auto one = QPDFObjectHandle::parse(
      fmt::format("<< /Type /Annot /Subtype /Highlight /F {} /C [{}] /Rect {} /QuadPoints [{}] >>",
                  kPrinted, kColour, rectangle, corners));
  if (!note.empty()) one.replaceKey("/Contents", QPDFObjectHandle::newUnicodeString(note));
  auto looks = QPDFObjectHandle::newDictionary();
  looks.replaceKey("/N", pdf.makeIndirectObject(look));
  one.replaceKey("/AP", looks);
  return pdf.makeIndirectObject(one);
}

void mark(QPDF& pdf, QPDFPageObjectHelper page, const Highlight& highlight) {
  auto object = page.getObjectHandle();
  const auto crop = page.getCropBox().getArrayAsRectangle();
  auto turn = page.getAttribute("/Rotate", false);
  const int rotation = turn.isInteger() ? ((turn.getIntValueAsInt() % 360) + 360) % 360 : 0;
  std::vector<Box> boxes;
  for (const Box& seen : highlight.boxes) {
    const double margin = kMargin * seen.height();
    boxes.push_back(on_page(
        {seen.x0 - margin, seen.y0 - margin, seen.x1 + margin, seen.y1 + margin}, crop, rotation));
  }
  auto annotations = object.getKey("/Annots");
  if (!annotations.isArray()) {
    annotations = QPDFObjectHandle::newArray();
    object.replaceKey("/Annots", annotations);
  }
  annotations.appendItem(annotation(pdf, boxes, highlight.note));
}

}  // namespace

void write_highlighted(const std::string& from, const std::vector<Highlight>& highlights,
                       const std::string& path, bool overwrite) {
  PendingFile file(path, overwrite);
  QPDF pdf;
  pdf.setSuppressWarnings(true);
  try {
    pdf.processFile(from.c_str());
    auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
    for (const Highlight& one : highlights)
      if (one.page >= 1 && static_cast<size_t>(one.page) <= pages.size() && !one.boxes.empty())
        mark(pdf, pages[static_cast<size_t>(one.page - 1)], one);
    QPDFWriter writer(pdf);
    writer.setOutputFile("the marked copy", file.stream(), false);
    writer.setObjectStreamMode(qpdf_o_preserve);
    writer.setDeterministicID(true);
    writer.write();
  } catch (const QPDFExc& cause) {
    if (cause.getErrorCode() == qpdf_e_password)
      throw InputError(from + ": the PDF needs a password", ErrorCode::kPasswordWanted);
    throw FormatError(from + ": the PDF cannot be marked: " + cause.getMessageDetail());
  }
  file.keep();
}

}  // namespace burnisher::pdf
