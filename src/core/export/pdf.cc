#include "export/pdf.h"

#include <fmt/core.h>

#include <cstdio>

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include "base/error.h"
#include "base/files.h"
#include "export/blank_font.h"
#include "export/text_layer.h"
#include "raster/jpeg.h"
#include "raster/tiff.h"

namespace burnisher::exporting {
namespace {

// Gives qpdf a picture's bytes when it writes them, from the file they wait in.
class Waiting : public QPDFObjectHandle::StreamDataProvider {
 public:
  Waiting(std::FILE* file, long at, size_t size) : file_(file), at_(at), size_(size) {}

  void provideStreamData(QPDFObjGen const&, Pipeline* to) override {
    std::vector<uint8_t> bytes(size_);
    if (std::fseek(file_, at_, SEEK_SET) != 0 ||
        std::fread(bytes.data(), 1, size_, file_) != size_) {
      throw OutputError(
          "the page pictures set aside for the PDF cannot be read again; is the disk full?");
    }
    to->write(bytes.data(), bytes.size());
    to->finish();
  }

 private:
  std::FILE* file_;
  long at_;
  size_t size_;
};

QPDFObjectHandle name(const std::string& text) {
  return QPDFObjectHandle::newName(text);
}
QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

}  // namespace

CodedPicture coded(const Picture& picture, int quality) {
  CodedPicture result;
  result.width = width_of(picture);
  result.height = height_of(picture);
  if (const auto* bitonal = std::get_if<Bitonal>(&picture)) {
    result.kind = CodedPicture::Kind::kG4;
    result.bytes = encode_g4(*bitonal);
  } else if (const auto* gray = std::get_if<Gray>(&picture)) {
    result.bytes = write_jpeg(*gray, quality);
  } else {
    result.colour = true;
    result.bytes = write_jpeg(std::get<Colour>(picture), quality);
  }
  return result;
}

struct PdfWriter::State {
  PendingFile file;
  PendingFile pictures;  // never kept: gone with this object
  QPDF pdf;
  QPDFObjectHandle font;
  CharacterCodes codes;
  PdfSettings settings;

  State(const std::string& path, bool overwrite, const PdfSettings& wanted)
      : file(path, overwrite), pictures(path + ".pictures", true), settings(wanted) {
    pdf.emptyPDF();
    font = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
  }

  QPDFObjectHandle image_of(const CodedPicture& picture) {
    std::FILE* stream = pictures.stream();
    std::fseek(stream, 0, SEEK_END);
    const long at = std::ftell(stream);
    pictures.write({reinterpret_cast<const char*>(picture.bytes.data()), picture.bytes.size()});
    auto image = QPDFObjectHandle::newStream(&pdf);
    auto dictionary = image.getDict();
    dictionary.replaceKey("/Type", name("/XObject"));
    dictionary.replaceKey("/Subtype", name("/Image"));
    dictionary.replaceKey("/Width", integer(picture.width));
    dictionary.replaceKey("/Height", integer(picture.height));
    dictionary.replaceKey("/ColorSpace", name(picture.colour ? "/DeviceRGB" : "/DeviceGray"));
    const bool g4 = picture.kind == CodedPicture::Kind::kG4;
    dictionary.replaceKey("/BitsPerComponent", integer(g4 ? 1 : 8));
    auto parameters = QPDFObjectHandle::newNull();
    if (g4) {
      parameters = QPDFObjectHandle::newDictionary();
      parameters.replaceKey("/K", integer(-1));
      parameters.replaceKey("/Columns", integer(picture.width));
      parameters.replaceKey("/Rows", integer(picture.height));
    }
    image.replaceStreamData(std::make_shared<Waiting>(stream, at, picture.bytes.size()),
                            name(g4 ? "/CCITTFaxDecode" : "/DCTDecode"), parameters);
    return image;
  }

  void complete_font() {
    const int glyphs = static_cast<int>(codes.characters().size());
    const std::vector<uint8_t> bytes = blank_font(glyphs);
    auto program = QPDFObjectHandle::newStream(&pdf, std::string(bytes.begin(), bytes.end()));
    program.getDict().replaceKey("/Length1", integer(static_cast<long long>(bytes.size())));
    auto descriptor = QPDFObjectHandle::parse(
        fmt::format("<< /Type /FontDescriptor /FontName /BurnisherBlank /Flags 4 /FontBBox [0 {1} "
                    "{2} {0}] /ItalicAngle 0 "
                    "/Ascent {0} /Descent {1} /CapHeight 700 /StemV 80 /MissingWidth {2} >>",
                    kBlankAscent, kBlankDescent, kBlankAdvance));
    descriptor.replaceKey("/FontFile2", program);
    auto descendant = QPDFObjectHandle::parse(
        fmt::format("<< /Type /Font /Subtype /CIDFontType2 /BaseFont /BurnisherBlank "
                    "/CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> /DW "
                    "{} /CIDToGIDMap /Identity >>",
                    kBlankAdvance));
    descendant.replaceKey("/FontDescriptor", pdf.makeIndirectObject(descriptor));
    font.replaceKey("/Type", name("/Font"));
    font.replaceKey("/Subtype", name("/Type0"));
    font.replaceKey("/BaseFont", name("/BurnisherBlank"));
    font.replaceKey("/Encoding", name("/Identity-H"));
    auto descendants = QPDFObjectHandle::newArray();
    descendants.appendItem(pdf.makeIndirectObject(descendant));
    font.replaceKey("/DescendantFonts", descendants);
    font.replaceKey("/ToUnicode", QPDFObjectHandle::newStream(&pdf, codes.to_unicode()));
  }

  void describe() {
    auto about = QPDFObjectHandle::newDictionary();
    about.replaceKey("/Producer", QPDFObjectHandle::newUnicodeString("Burnisher"));
    if (!settings.title.empty()) {
      about.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(settings.title));
      auto preferences = QPDFObjectHandle::parse("<< /DisplayDocTitle true >>");
      pdf.getRoot().replaceKey("/ViewerPreferences", preferences);
    }
    pdf.getTrailer().replaceKey("/Info", pdf.makeIndirectObject(about));
    if (!settings.language.empty()) {
      pdf.getRoot().replaceKey("/Lang", QPDFObjectHandle::newUnicodeString(settings.language));
    }
  }
};

PdfWriter::PdfWriter(const std::string& path, bool overwrite, const PdfSettings& settings)
    : state_(std::make_unique<State>(path, overwrite, settings)) {}

PdfWriter::~PdfWriter() = default;

void PdfWriter::add(const Page& page, const CodedPicture& picture) {
  State& s = *state_;
  const double width = page.width * 72 / page.dpi, height = page.height * 72 / page.dpi;
  auto resources = QPDFObjectHandle::parse("<< /XObject << >> /Font << >> >>");
  resources.getKey("/XObject").replaceKey("/P", s.image_of(picture));
  resources.getKey("/Font").replaceKey("/T", s.font);
  const std::string content = fmt::format("q {:.4f} 0 0 {:.4f} 0 0 cm /P Do Q\n", width, height) +
                              text_layer(page, s.codes);
  auto node = QPDFObjectHandle::parse(
      fmt::format("<< /Type /Page /MediaBox [0 0 {:.4f} {:.4f}] >>", width, height));
  node.replaceKey("/Resources", resources);
  node.replaceKey("/Contents", QPDFObjectHandle::newStream(&s.pdf, content));
  QPDFPageDocumentHelper(s.pdf).addPage(QPDFPageObjectHelper(s.pdf.makeIndirectObject(node)),
                                        false);
}

void PdfWriter::finish() {
  State& s = *state_;
  s.complete_font();
  s.describe();
  try {
    QPDFWriter writer(s.pdf);
    writer.setOutputFile(s.file.temporary_path().c_str(), s.file.stream(), false);
    writer.setObjectStreamMode(qpdf_o_generate);
    writer.setDeterministicID(true);
    writer.write();
  } catch (const Error&) {
    throw;
  } catch (const std::exception& cause) {
    throw OutputError(std::string("the PDF could not be written: ") + cause.what());
  }
  s.file.keep();
}

}  // namespace burnisher::exporting
