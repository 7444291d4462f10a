#include "pdf/embedded.h"

#include <cmath>
#include <fstream>
#include <set>
#include <vector>

#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

namespace burnisher::pdf {
namespace {

constexpr int kRounding = 3;         // pixels
constexpr double kWholePage = 0.01;  // of its side, that a picture may lack

// What a page's operators do, as far as it matters here.
class Drawing : public QPDFObjectHandle::ParserCallbacks {
 public:
  void handleObject(QPDFObjectHandle object) override {
    if (!object.isOperator()) {
      operands_.push_back(object);
      return;
    }
    const std::string name = object.getOperatorValue();
    static const std::set<std::string> kHarmless = {
        "q",  "Q",  "cm", "Do", "BMC", "BDC", "EMC", "gs", "BT", "ET", "Tf", "Tm", "Td",
        "TD", "T*", "Tc", "Tw", "Tz",  "TL",  "Ts",  "Tr", "g",  "rg", "cs", "sc", "scn"};
    static const std::set<std::string> kShowing = {"Tj", "TJ", "'", "\""};
    constexpr long long kUnseen = 3;
    if (name == "Tr" && !operands_.empty() && operands_[0].isInteger())
      mode_ = operands_[0].getIntValue();
    const bool unseen_text = kShowing.count(name) > 0 && mode_ == kUnseen;
    plain = plain && (unseen_text || kHarmless.count(name) > 0);
    if (name == "cm" && operands_.size() == 6) {
      for (size_t i = 0; i < 6; ++i) matrix[i] = operands_[i].getNumericValue();
      ++placed;
    }
    if (name == "Do" && !operands_.empty() && operands_[0].isName()) {
      drawn = operands_[0].getName();
      ++shown;
    }
    operands_.clear();
  }
  void handleEOF() override {}

  bool plain = true;
  int placed = 0, shown = 0;
  double matrix[6] = {1, 0, 0, 1, 0, 0};
  std::string drawn;

 private:
  std::vector<QPDFObjectHandle> operands_;
  long long mode_ = 0;  // that text is shown in
};

bool over_all_of(const Drawing& drawing, const QPDFObjectHandle::Rectangle& box) {
  const double w = box.urx - box.llx, h = box.ury - box.lly;
  const double* m = drawing.matrix;
  const auto near = [](double a, double b, double side) {
    return std::fabs(a - b) < kWholePage * side;
  };
  return near(m[0], w, w) && near(m[3], h, h) && m[1] == 0 && m[2] == 0 && near(m[4], box.llx, w) &&
         near(m[5], box.lly, h);
}

// QPDF would search any file for objects.
bool is_pdf(const std::string& file) {
  char head[1024] = {};
  std::ifstream(file, std::ios::binary).read(head, sizeof head);
  return std::string(head, sizeof head).find("%PDF-") != std::string::npos;
}

std::vector<uint8_t> bytes_of(const std::shared_ptr<Buffer>& buffer) {
  return {buffer->getBuffer(), buffer->getBuffer() + buffer->getSize()};
}

// Channels of colours that stand for themselves; 0 for others.
int channels_of(QPDFObjectHandle space) {
  if (space.isName()) {
    const std::string name = space.getName();
    return name == "/DeviceGray" ? 1 : name == "/DeviceRGB" ? 3 : 0;
  }
  if (space.isArray() && space.getArrayNItems() == 2 && space.getArrayItem(0).isName() &&
      space.getArrayItem(0).getName() == "/ICCBased") {
    auto count = space.getArrayItem(1).getDict().getKey("/N");
    return count.isInteger() && count.getIntValue() != 4 ? static_cast<int>(count.getIntValue())
                                                         : 0;
  }
  return 0;
}

std::optional<CodedImage> coded(QPDFObjectHandle stream, int width, int height) {
  auto dictionary = stream.getDict();
  for (const char* key : {"/SMask", "/Mask", "/Decode", "/ImageMask"}) {
    if (dictionary.hasKey(key)) return std::nullopt;
  }
  auto filter = dictionary.getKey("/Filter");
  if (filter.isArray() && filter.getArrayNItems() == 1) filter = filter.getArrayItem(0);
  auto parameters = dictionary.getKey("/DecodeParms");
  if (parameters.isArray() && parameters.getArrayNItems() == 1)
    parameters = parameters.getArrayItem(0);
  CodedImage image;
  image.width = dictionary.getKey("/Width").getIntValueAsInt();
  image.height = dictionary.getKey("/Height").getIntValueAsInt();
  // Pages are drawn in whole pixels, so that a picture may come out a little wider than it is.
  const bool same =
      std::abs(image.width - width) <= kRounding && std::abs(image.height - height) <= kRounding;
  if (!filter.isName() || !same) return std::nullopt;
  image.channels = channels_of(dictionary.getKey("/ColorSpace"));
  if (image.channels == 0) return std::nullopt;
  const std::string name = filter.getName();
  image.bytes = bytes_of(stream.getRawStreamData());
  if (name == "/DCTDecode" && !parameters.isDictionary()) {
    image.coding = Coding::kJpeg;
    return image;
  }
  if (name == "/JPXDecode") {
    image.coding = Coding::kJpeg2000;
    return image;
  }
  image.bitonal = true;
  if (name == "/CCITTFaxDecode" && parameters.isDictionary()) {
    const auto says = [&](const char* key, long long wanted) {
      auto value = parameters.getKey(key);
      return value.isInteger() && value.getIntValue() == wanted;
    };
    const bool usual = !parameters.hasKey("/BlackIs1") && !parameters.hasKey("/EncodedByteAlign");
    if (!usual || !says("/K", -1) || !says("/Columns", image.width)) return std::nullopt;
    image.coding = Coding::kG4;
    return image;
  }
  if (name == "/JBIG2Decode") {
    if (parameters.isDictionary() && parameters.getKey("/JBIG2Globals").isStream())
      image.globals = bytes_of(parameters.getKey("/JBIG2Globals").getStreamData(qpdf_dl_all));
    image.coding = Coding::kJbig2;
    return image;
  }
  return std::nullopt;
}

}  // namespace

std::optional<CodedImage> embedded_picture(const std::string& file, int page, int width,
                                           int height) {
  if (!is_pdf(file)) return std::nullopt;
  try {
    QPDF pdf;
    pdf.setSuppressWarnings(true);
    pdf.processFile(file.c_str());
    QPDFPageObjectHelper sheet(pdf.getAllPages().at(static_cast<size_t>(page - 1)));
    auto rotate = sheet.getAttribute("/Rotate", false);
    if (rotate.isInteger() && rotate.getIntValue() % 360 != 0) return std::nullopt;
    auto crop = sheet.getAttribute("/CropBox", false);
    const auto box =
        (crop.isRectangle() ? crop : sheet.getAttribute("/MediaBox", false)).getArrayAsRectangle();
    Drawing drawing;
    sheet.parseContents(&drawing);
    if (!drawing.plain || drawing.placed != 1 || drawing.shown != 1 || !over_all_of(drawing, box))
      return std::nullopt;
    auto object = sheet.getAttribute("/Resources", false).getKey("/XObject").getKey(drawing.drawn);
    if (!object.isStream() || object.getDict().getKey("/Subtype").getName() != "/Image")
      return std::nullopt;
    return coded(object, width, height);
  } catch (const std::exception&) {
    return std::nullopt;  // the page is drawn then, as every other
  }
}

}  // namespace burnisher::pdf
