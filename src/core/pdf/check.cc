#include "pdf/check.h"

#include <fmt/core.h>

#include <algorithm>
#include <functional>
#include <pugixml.hpp>
#include <set>

#include "base/error.h"
#include "base/files.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

namespace burnisher::pdf {
namespace {

using Object = QPDFObjectHandle;

// Actions that ISO 19005-2, 6.5.1 forbids.
const std::set<std::string> kForbiddenActions = {
    "/Launch",      "/Sound",     "/Movie", "/ResetForm",  "/ImportData", "/Hide",
    "/SetOCGState", "/Rendition", "/Trans", "/GoTo3DView", "/JavaScript"};
// Kinds of annotations that 6.3.1 forbids.
const std::set<std::string> kForbiddenAnnotations = {"/3D", "/Sound", "/Screen", "/Movie"};
constexpr int kDeepestTag = 200;  // elements within elements
// Filters that 6.1.7 allows for streams.
const std::set<std::string> kFilters = {"/FlateDecode",   "/DCTDecode",      "/JPXDecode",
                                        "/JBIG2Decode",   "/CCITTFaxDecode", "/ASCIIHexDecode",
                                        "/ASCII85Decode", "/RunLengthDecode"};

class Checker {
 public:
  Checker(QPDF& pdf, Checked& result, bool archive)
      : pdf_(pdf), result_(result), archive_(archive) {}

  void go() {
    root_ = pdf_.getRoot();
    read_metadata();
    result_.archive = !part_.empty();
    archive_ = archive_ || result_.archive;
    result_.tagged = root_.getKey("/MarkInfo").isDictionary() &&
                     root_.getKey("/MarkInfo").getKey("/Marked").isBool() &&
                     root_.getKey("/MarkInfo").getKey("/Marked").getBoolValue() &&
                     root_.getKey("/StructTreeRoot").isDictionary();
    if (archive_) check_document();
    check_usefulness();
    int number = 0;
    for (QPDFPageObjectHelper& page : QPDFPageDocumentHelper(pdf_).getAllPages())
      check_page(page, ++number);
    result_.pages = number;
    if (archive_) check_objects();
    if (result_.tagged) check_structure();
    if (result_.pages_with_text < result_.pages) {
      missing("text", 0,
              fmt::format("pages without text: {} of {}", result_.pages - result_.pages_with_text,
                          result_.pages));
    }
  }

 private:
  void fault(const char* rule, int page, const std::string& what) {
    result_.faults.push_back({rule, page, what});
  }
  void missing(const char* rule, int page, const std::string& what) {
    result_.missing.push_back({rule, page, what});
  }

  void read_metadata() {
    auto stream = root_.getKey("/Metadata");
    if (!stream.isStream()) return;
    const auto data = stream.getStreamData();
    pugi::xml_document xml;
    const auto parsed = xml.load_buffer(data->getBuffer(), data->getSize());
    if (!parsed) {
      fault("xmp", 0, std::string("the XMP metadata are no sound XML: ") + parsed.description());
      return;
    }
    has_xmp_ = true;
    const auto value = [&](const char* name) {
      const std::string path = fmt::format("//{}", name);
      std::string text = xml.select_node(path.c_str()).node().text().get();
      if (text.empty())
        text = xml.select_node(fmt::format("//@{}", name).c_str()).attribute().value();
      return text;
    };
    part_ = value("pdfaid:part");
    conformance_ = value("pdfaid:conformance");
    title_ = xml.select_node("//dc:title//rdf:li").node().text().get();
    author_ = xml.select_node("//dc:creator//rdf:li").node().text().get();
  }

  void check_document() {
    if (pdf_.isEncrypted()) fault("encryption", 0, "the file is encrypted");
    if (!pdf_.getTrailer().hasKey("/ID")) fault("id", 0, "the file has no ID");
    if (!has_xmp_) fault("xmp", 0, "there are no XMP metadata");
    if (part_ != "2") fault("mark", 0, "the XMP metadata don't say part 2 of PDF/A");
    if (conformance_ != "U" && conformance_ != "B" && conformance_ != "A")
      fault("mark", 0, "the XMP metadata don't say B, U or A");
    auto info = pdf_.getTrailer().getKey("/Info");
    if (info.isDictionary()) {
      const auto same = [&](const char* key, const std::string& in_xmp) {
        if (info.hasKey(key) && info.getKey(key).isString() &&
            info.getKey(key).getUTF8Value() != in_xmp)
          fault("xmp", 0, fmt::format("{} differs from the XMP metadata", key + 1));
      };
      same("/Title", title_);
      same("/Author", author_);
    }
    auto intents = root_.getKey("/OutputIntents");
    if (!intents.isArray() || intents.getArrayNItems() == 0) {
      fault("intent", 0, "there is no output intent, so that colours mean nothing");
    } else {
      auto profile = intents.getArrayItem(0).getKey("/DestOutputProfile");
      if (!profile.isStream()) {
        fault("intent", 0, "the output intent has no ICC profile");
      } else {
        const auto data = profile.getStreamData();
        const std::string bytes(reinterpret_cast<const char*>(data->getBuffer()), data->getSize());
        if (bytes.size() < 128 || bytes.compare(36, 4, "acsp") != 0)
          fault("intent", 0, "the output intent's profile is no ICC profile");
        rgb_ = bytes.size() >= 128 && bytes.compare(16, 4, "RGB ") == 0;
      }
    }
    if (root_.getKey("/Names").isDictionary() && root_.getKey("/Names").hasKey("/JavaScript"))
      fault("actions", 0, "the document carries JavaScript");
    if (root_.hasKey("/AA")) fault("actions", 0, "the document has additional actions");
    if (root_.getKey("/AcroForm").isDictionary() && root_.getKey("/AcroForm").hasKey("/XFA"))
      fault("forms", 0, "the form is XFA");
  }

  void check_usefulness() {
    if (!root_.hasKey("/Lang")) missing("language", 0, "the language is not stated");
    if (!result_.tagged) missing("tags", 0, "not tagged: a screen reader has to guess the order");
    auto info = pdf_.getTrailer().getKey("/Info");
    if (title_.empty() && !(info.isDictionary() && info.hasKey("/Title")))
      missing("title", 0, "there is no title");
  }

  void check_page(QPDFPageObjectHelper& page, int number) {
    auto object = page.getObjectHandle();
    auto resources = page.getAttribute("/Resources", false);
    bool text = false;
    if (resources.isDictionary()) {
      auto fonts = resources.getKey("/Font");
      if (fonts.isDictionary()) {
        for (const std::string& key : fonts.getKeys()) check_font(fonts.getKey(key), number);
      }
      text = shows_text(page);
    }
    result_.pages_with_text += text;
    if (result_.tagged && text && !object.hasKey("/StructParents"))
      fault("tags", number, "the page's text is not part of the tags");
    auto annotations = object.getKey("/Annots");
    for (int i = 0; annotations.isArray() && i < annotations.getArrayNItems(); ++i)
      check_annotation(annotations.getArrayItem(i), number);
    if (archive_ && object.hasKey("/AA")) fault("actions", number, "the page has actions");
  }

  // Whether the page's operators show any glyph.
  bool shows_text(QPDFPageObjectHelper& page) {
    class Finder : public QPDFObjectHandle::ParserCallbacks {
     public:
      void handleObject(QPDFObjectHandle object, size_t, size_t) override {
        if (!object.isOperator()) return;
        const std::string name = object.getOperatorValue();
        if (name == "Tj" || name == "TJ" || name == "'" || name == "\"") {
          found = true;
          terminateParsing();
        }
      }
      void handleEOF() override {}
      bool found = false;
    };
    Finder finder;
    page.parseContents(&finder);
    return finder.found;
  }

  void check_annotation(Object annotation, int number) {
    if (!annotation.isDictionary() || !archive_) return;
    auto kind = annotation.getKey("/Subtype");
    if (kind.isName() && kForbiddenAnnotations.count(kind.getName()) > 0)
      fault("annotations", number, kind.getName().substr(1) + " annotations are not allowed");
    auto flags = annotation.getKey("/F");
    const bool popup = kind.isName() && kind.getName() == "/Popup";
    // Printed, and neither hidden nor invisible (6.3.2).
    if (!popup && (!flags.isInteger() || (flags.getIntValue() & 4) == 0 ||
                   (flags.getIntValue() & (1 | 2 | 32)) != 0))
      fault("annotations", number, "an annotation would not be printed");
  }

  void check_font(Object font, int number) {
    if (!font.isDictionary()) return;
    if (font.isIndirect() && !seen_fonts_.insert(font.getObjGen()).second) return;
    auto base = font.getKey("/BaseFont");
    const std::string name = base.isName() ? base.getName().substr(1) : "without a name";
    Object holder = font;
    auto kind = font.getKey("/Subtype");
    if (kind.isName() && kind.getName() == "/Type3") return;
    if (kind.isName() && kind.getName() == "/Type0") {
      auto descendants = font.getKey("/DescendantFonts");
      if (!descendants.isArray() || descendants.getArrayNItems() != 1) {
        fault("fonts", number, "font " + name + " has no descendant");
        return;
      }
      holder = descendants.getArrayItem(0);
      auto holder_kind = holder.getKey("/Subtype");
      if (archive_ && holder_kind.isName() && holder_kind.getName() == "/CIDFontType2" &&
          !holder.hasKey("/CIDToGIDMap"))
        fault("fonts", number, "font " + name + " does not say which glyphs its codes mean");
    }
    auto descriptor = holder.getKey("/FontDescriptor");
    const bool embedded = descriptor.isDictionary() &&
                          (descriptor.hasKey("/FontFile") || descriptor.hasKey("/FontFile2") ||
                           descriptor.hasKey("/FontFile3"));
    if (archive_ && !embedded) fault("fonts", number, "font " + name + " is not embedded");
    if (!font.hasKey("/ToUnicode") && kind.isName() && kind.getName() == "/Type0") {
      if (archive_ && conformance_ == "U")
        fault("unicode", number, "font " + name + " does not say which characters it shows");
      else
        missing("unicode", number, "font " + name + " does not say which characters it shows");
    }
  }

  void check_objects() {
    for (Object& object : pdf_.getAllObjects()) {
      if (object.isStream()) check_stream(object);
      Object dictionary = object.isStream() ? object.getDict() : object;
      if (!dictionary.isDictionary()) continue;
      check_action(dictionary);
      for (const char* key : {"/A", "/OpenAction"}) check_action(dictionary.getKey(key));
    }
  }

  void check_action(Object action) {
    if (!action.isDictionary()) return;
    auto kind = action.getKey("/S");
    if (kind.isName() && kForbiddenActions.count(kind.getName()) > 0)
      fault("actions", 0, kind.getName().substr(1) + " actions are not allowed");
  }

  void check_stream(Object stream) {
    auto dictionary = stream.getDict();
    auto filter = dictionary.getKey("/Filter");
    std::vector<Object> filters;
    if (filter.isName()) filters.push_back(filter);
    if (filter.isArray()) filters = filter.getArrayAsVector();
    for (Object& one : filters) {
      if (one.isName() && kFilters.count(one.getName()) == 0)
        fault("filters", 0, "a stream is coded with " + one.getName().substr(1));
    }
    if (dictionary.hasKey("/F")) fault("filters", 0, "a stream lies in another file");
    auto kind = dictionary.getKey("/Subtype");
    if (!kind.isName() || kind.getName() != "/Image") return;
    if (dictionary.hasKey("/Alternates")) fault("images", 0, "an image has alternates");
    auto smooth = dictionary.getKey("/Interpolate");
    if (smooth.isBool() && smooth.getBoolValue()) fault("images", 0, "an image is interpolated");
    auto space = dictionary.getKey("/ColorSpace");
    if (space.isName() && space.getName() == "/DeviceCMYK")
      fault("colours", 0, "an image has colours of print, the output intent those of a screen");
    if (space.isName() && space.getName() == "/DeviceRGB" && !rgb_)
      fault("colours", 0, "an image has colours of a screen, the output intent has not");
  }

  // Every number of the parent tree leads to an element, and every element to a parent.
  void check_structure() {
    auto tree = root_.getKey("/StructTreeRoot");
    if (!tree.getKey("/ParentTree").isDictionary())
      fault("tags", 0, "the tags have no parent tree");
    std::set<QPDFObjGen> seen;
    // Only objects with a number of their own can be met twice; all direct ones have none.
    std::function<void(Object, int)> walk = [&](Object node, int depth) {
      if (depth > kDeepestTag) {
        if (depth == kDeepestTag + 1) fault("tags", 0, "the tags are nested without end");
        return;
      }
      if (node.isArray()) {
        for (Object& kid : node.getArrayAsVector()) walk(kid, depth + 1);
        return;
      }
      if (!node.isDictionary()) return;
      if (node.isIndirect() && !seen.insert(node.getObjGen()).second) return;
      if (!node.hasKey("/S")) return;  // a reference to content
      if (!node.hasKey("/P")) fault("tags", 0, "an element has no parent");
      auto kind = node.getKey("/S");
      if (kind.isName() && kind.getName() == "/Figure" && !node.hasKey("/Alt"))
        fault("tags", 0, "a figure has no text in its place");
      walk(node.getKey("/K"), depth + 1);
    };
    walk(tree.getKey("/K"), 0);
  }

  QPDF& pdf_;
  Checked& result_;
  bool archive_;
  Object root_;
  bool has_xmp_ = false, rgb_ = false;
  std::string part_, conformance_, title_, author_;
  std::set<QPDFObjGen> seen_fonts_;
};

}  // namespace

Checked check(const std::string& path, bool archive) {
  const auto bytes = read_file(path);
  if (bytes.empty()) throw InputError(path + ": the file is empty");
  Checked result;
  QPDF pdf;
  pdf.setSuppressWarnings(true);
  try {
    pdf.processMemoryFile(path.c_str(), reinterpret_cast<const char*>(bytes.data()), bytes.size());
    Checker(pdf, result, archive).go();
  } catch (const QPDFExc& cause) {
    throw FormatError(path + ": no sound PDF: " + cause.getMessageDetail());
  } catch (const std::exception& cause) {
    throw FormatError(path + ": no sound PDF: " + cause.what());
  }
  for (const QPDFExc& warning : pdf.getWarnings())
    result.faults.push_back({"sound", 0, warning.getMessageDetail()});
  if (archive || result.archive) {
    const std::string head(bytes.begin(),
                           bytes.begin() + std::min<long>(64, static_cast<long>(bytes.size())));
    const size_t line = head.find_first_of("\r\n");
    const size_t mark = line == std::string::npos ? line : head.find('%', line);
    const bool binary = mark != std::string::npos && mark + 4 < head.size() &&
                        std::all_of(head.begin() + static_cast<long>(mark) + 1,
                                    head.begin() + static_cast<long>(mark) + 5,
                                    [](char c) { return static_cast<unsigned char>(c) > 127; });
    if (head.compare(0, 5, "%PDF-") != 0 || !binary)
      result.faults.push_back({"header", 0, "the header has no line of binary signs"});
  }
  return result;
}

}  // namespace burnisher::pdf
