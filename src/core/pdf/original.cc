#include "pdf/original.h"

#include <fmt/core.h>

#include <cmath>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "pdf/font_objects.h"
#include "pdf/text_layer.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace burnisher::pdf {
namespace {

bool is_signed(QPDF& pdf) {
  auto form = pdf.getRoot().getKey("/AcroForm");
  if (!form.isDictionary()) return false;
  auto flags = form.getKey("/SigFlags");
  return flags.isInteger() && (flags.getIntValue() & 1) != 0;
}

// From the page as it is seen, origin at its lower left, to the page's own coordinates.
std::string view_to_page(const QPDFObjectHandle::Rectangle& crop, int rotation) {
  switch (rotation) {
    case 90:
      return fmt::format("0 1 -1 0 {:.4f} {:.4f} cm", crop.urx, crop.lly);
    case 180:
      return fmt::format("-1 0 0 -1 {:.4f} {:.4f} cm", crop.urx, crop.ury);
    case 270:
      return fmt::format("0 -1 1 0 {:.4f} {:.4f} cm", crop.llx, crop.ury);
    default:
      return fmt::format("1 0 0 1 {:.4f} {:.4f} cm", crop.llx, crop.lly);
  }
}

}  // namespace

struct OriginalPdf::State {
  std::string original;
  PendingFile file;
  QPDF pdf;
  TextFonts fonts;
  QPDFObjectHandle font_resources;
  std::vector<QPDFPageObjectHelper> pages;
  PdfSizes sizes;

  State(const std::string& from, const Sink& sink) : original(from), file(sink) {}
};

OriginalPdf::OriginalPdf(const std::string& original, const std::string& password, const Sink& sink)
    : state_(std::make_unique<State>(original, sink)) {
  State& s = *state_;
  s.pdf.setSuppressWarnings(true);
  try {
    s.pdf.processFile(original.c_str(), password.c_str());
    s.pages = QPDFPageDocumentHelper(s.pdf).getAllPages();
  } catch (const QPDFExc& cause) {
    if (cause.getErrorCode() == qpdf_e_password)
      throw InputError(original + ": the PDF needs a password", ErrorCode::kPasswordWanted);
    throw FormatError(original + ": the PDF is damaged: " + cause.getMessageDetail());
  }
  if (is_signed(s.pdf)) {
    throw InputError(original + ": the PDF is signed, and a text layer would break the signature",
                     ErrorCode::kSigned);
  }
  s.font_resources = s.pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
}

OriginalPdf::~OriginalPdf() = default;

const PdfSizes& OriginalPdf::sizes() const {
  return state_->sizes;
}

void OriginalPdf::add(const Page& page) {
  State& s = *state_;
  const size_t index = static_cast<size_t>(page.number - 1);
  if (index >= s.pages.size()) throw FormatError(s.original + ": has fewer pages than were read");
  QPDFPageObjectHelper& target = s.pages[index];
  auto rotate = target.getAttribute("/Rotate", false);
  const int rotation =
      rotate.isInteger() ? static_cast<int>(((rotate.getIntValue() % 360) + 360) % 360) : 0;
  const auto crop = target.getAttribute("/CropBox", false).isRectangle()
                        ? target.getAttribute("/CropBox", false).getArrayAsRectangle()
                        : target.getAttribute("/MediaBox", false).getArrayAsRectangle();
  const bool on_side = rotation % 180 != 0;
  const double height = on_side ? crop.urx - crop.llx : crop.ury - crop.lly;
  SheetFrame frame;
  frame.to_sheet = page.geometry.to_scan;
  frame.height = page.geometry.scan_height;
  frame.points = height / std::max(1, page.geometry.scan_height);
  const TextLayer layer = text_layer(page, frame, s.fonts);
  if (layer.content.empty()) return;
  // The text lies in an object of its own, so that its names cannot collide with the page's. Tags
  // of this file's own making know nothing of it, so that it carries none.
  std::string content;
  for (size_t at = 0; at < layer.content.size();) {
    const size_t end = layer.content.find('\n', at);
    const std::string line = layer.content.substr(at, end - at);
    const bool tag =
        line == "EMC" || (line.size() > 3 && line.compare(line.size() - 3, 3, "BDC") == 0);
    if (!tag) content += line + "\n";
    at = end + 1;
  }
  auto form = QPDFObjectHandle::newStream(
      &s.pdf, "q " + view_to_page(crop, rotation) + "\n" + content + "Q\n");
  auto dictionary = form.getDict();
  dictionary.replaceKey("/Type", QPDFObjectHandle::newName("/XObject"));
  dictionary.replaceKey("/Subtype", QPDFObjectHandle::newName("/Form"));
  dictionary.replaceKey("/BBox", QPDFObjectHandle::newArray(crop));
  auto resources = QPDFObjectHandle::newDictionary();
  resources.replaceKey("/Font", s.font_resources);
  dictionary.replaceKey("/Resources", resources);
  auto page_resources = target.getAttribute("/Resources", true);
  if (!page_resources.isDictionary()) {
    page_resources = QPDFObjectHandle::newDictionary();
    target.getObjectHandle().replaceKey("/Resources", page_resources);
  }
  auto objects = page_resources.getKey("/XObject");
  objects = objects.isDictionary() ? objects.shallowCopy() : QPDFObjectHandle::newDictionary();
  int number = 0;
  std::string name = "/BurnisherText";
  while (objects.hasKey(name)) name = fmt::format("/BurnisherText{}", ++number);
  objects.replaceKey(name, form);
  page_resources.replaceKey("/XObject", objects);
  // What the page's own operators leave behind must not move the text.
  target.addPageContents(QPDFObjectHandle::newStream(&s.pdf, "q\n"), true);
  target.addPageContents(QPDFObjectHandle::newStream(&s.pdf, "\nQ\n" + name + " Do\n"), false);
}

void OriginalPdf::finish(const About& about) {
  State& s = *state_;
  add_fonts(s.pdf, s.fonts, s.font_resources);
  auto root = s.pdf.getRoot();
  const bool said =
      !about.more.empty() ||
      !(about.title + about.author + about.subject + about.keywords + about.date).empty();
  // A language is named for reading; what the file says of itself stays.
  auto stated = root.getKey("/Lang");
  if (said) describe(s.pdf, about, {});
  if (stated.isString())
    root.replaceKey("/Lang", stated);
  else if (!about.language.empty())
    root.replaceKey("/Lang", QPDFObjectHandle::newUnicodeString(about.language));
  try {
    QPDFWriter writer(s.pdf);
    writer.setOutputFile(s.file.temporary_path().c_str(), s.file.stream(), false);
    if (!s.pdf.isEncrypted()) writer.setDeterministicID(true);
    writer.write();
  } catch (const std::exception& cause) {
    throw OutputError(std::string("the PDF could not be written: ") + cause.what());
  }
  std::fseek(s.file.stream(), 0, SEEK_END);
  s.sizes.all = static_cast<size_t>(std::ftell(s.file.stream()));
  s.sizes.sources = static_cast<size_t>(std::filesystem::file_size(s.original));
  s.sizes.pages = static_cast<int>(s.pages.size());
  s.sizes.text = s.sizes.all > s.sizes.sources ? s.sizes.all - s.sizes.sources : 0;
  s.file.keep();
}

}  // namespace burnisher::pdf
