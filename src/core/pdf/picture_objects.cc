#include "pdf/picture_objects.h"

#include <fmt/core.h>

#include "jbig2/jbig2.h"

namespace burnisher::pdf {
namespace {

// So many pages share the shapes of their letters.
constexpr size_t kSharing = 24;
constexpr size_t kNoisy = 4;  // ink that JBIG2 leaves more than a quarter of

QPDFObjectHandle name(const std::string& text) {
  return QPDFObjectHandle::newName(text);
}
QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

std::string fill(const Rgb& colour) {
  return fmt::format("{:.3g} {:.3g} {:.3g} rg ", colour[0] / 255.0, colour[1] / 255.0,
                     colour[2] / 255.0);
}

// The unit square laid over a sheet of `w` x `h` points, turned counter-clockwise.
std::string laid_over(double w, double h, int turn) {
  switch (turn) {
    case 90:
      return fmt::format("0 {:.4f} {:.4f} 0 {:.4f} 0 cm ", h, -w, w);
    case 180:
      return fmt::format("{:.4f} 0 0 {:.4f} {:.4f} {:.4f} cm ", -w, -h, w, h);
    case 270:
      return fmt::format("0 {:.4f} {:.4f} 0 0 {:.4f} cm ", -h, w, h);
    default:
      return fmt::format("{:.4f} 0 0 {:.4f} 0 0 cm ", w, h);
  }
}

// The rules of a page, on a sheet of `w` x `h` points.
std::string filled(const PagePicture& picture, double w, double h) {
  const double x = w / picture.width, y = h / picture.height;
  std::string content = "q " + fill(picture.ink_colour);
  for (const Box& rule : picture.rules) {
    content += fmt::format("{:.2f} {:.2f} {:.2f} {:.2f} re ", rule.x0 * x, h - rule.y1 * y,
                           rule.width() * x, rule.height() * y);
  }
  return content + "f Q\n";
}

}  // namespace

QPDFObjectHandle PictureObjects::image(int width, int height) {
  auto stream = QPDFObjectHandle::newStream(&pdf_);
  auto dictionary = stream.getDict();
  dictionary.replaceKey("/Type", name("/XObject"));
  dictionary.replaceKey("/Subtype", name("/Image"));
  dictionary.replaceKey("/Width", integer(width));
  dictionary.replaceKey("/Height", integer(height));
  return stream;
}

QPDFObjectHandle PictureObjects::coded(const CodedImage& coded) {
  auto stream = image(coded.width, coded.height);
  auto dictionary = stream.getDict();
  const bool colour = !coded.bitonal && coded.channels == 3;
  dictionary.replaceKey("/ColorSpace", name(colour ? "/DeviceRGB" : "/DeviceGray"));
  dictionary.replaceKey("/BitsPerComponent", integer(coded.bitonal ? 1 : 8));
  put(stream, coded);
  picture_bytes_ += coded.bytes.size();
  return stream;
}

void PictureObjects::put(QPDFObjectHandle stream, const CodedImage& coded) {
  auto parameters = QPDFObjectHandle::newNull();
  const char* filter = "/DCTDecode";
  if (coded.coding == Coding::kG4) {
    filter = "/CCITTFaxDecode";
    parameters = QPDFObjectHandle::parse(
        fmt::format("<< /K -1 /Columns {} /Rows {} >>", coded.width, coded.height));
  } else if (coded.coding == Coding::kDeflate) {
    filter = "/FlateDecode";
    parameters = QPDFObjectHandle::parse(
        fmt::format("<< /Predictor 12 /Colors {} /BitsPerComponent 8 /Columns {} >>",
                    coded.channels, coded.width));
  } else if (coded.coding == Coding::kJbig2) {
    filter = "/JBIG2Decode";
    if (!coded.globals.empty()) {
      parameters = QPDFObjectHandle::newDictionary();
      parameters.replaceKey("/JBIG2Globals", shared(coded.globals));
    }
  } else if (coded.coding == Coding::kJpeg2000) {
    filter = "/JPXDecode";
  }
  aside_.put(stream, coded.bytes, name(filter), parameters);
}

QPDFObjectHandle PictureObjects::shared(const std::vector<uint8_t>& globals) {
  auto& stream = shared_by_pages_[globals];
  if (!stream.isInitialized()) {
    stream = QPDFObjectHandle::newStream(&pdf_);
    aside_.put(stream, globals, QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
    picture_bytes_ += globals.size();
  }
  return stream;
}

QPDFObjectHandle PictureObjects::ink_image(const std::shared_ptr<const Bitonal>& ink,
                                           bool stencil) {
  auto stream = image(ink->width(), ink->height());
  auto dictionary = stream.getDict();
  dictionary.replaceKey("/BitsPerComponent", integer(1));
  if (stencil)
    dictionary.replaceKey("/ImageMask", QPDFObjectHandle::newBool(true));
  else
    dictionary.replaceKey("/ColorSpace", name("/DeviceGray"));
  waiting_.push_back({ink, stream});
  return stream;
}

void PictureObjects::code_ink_when_enough() {
  if (waiting_.size() >= kSharing) code_ink();
}

void PictureObjects::code_ink() {
  if (waiting_.empty()) return;
  std::vector<const Bitonal*> inks;
  for (const WaitingInk& one : waiting_) inks.push_back(one.ink.get());
  const jbig2::CodedPages pages = jbig2::encode_pages(inks);
  QPDFObjectHandle globals;
  if (!pages.globals.empty()) {
    globals = QPDFObjectHandle::newStream(&pdf_);
    aside_.put(globals, pages.globals, QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
    ink_bytes_ += pages.globals.size();
  }
  for (size_t i = 0; i < waiting_.size(); ++i) {
    // Ink as dense as noise is the one thing that the older coding may do better.
    if (pages.pages[i].size() > waiting_[i].ink->bytes().size() / kNoisy) {
      const CodedImage g4 = coded_g4(*waiting_[i].ink);
      if (g4.bytes.size() <= pages.pages[i].size()) {
        put(waiting_[i].stream, g4);
        ink_bytes_ += g4.bytes.size();
        continue;
      }
    }
    auto parameters = QPDFObjectHandle::newNull();
    if (globals.isInitialized()) {
      parameters = QPDFObjectHandle::newDictionary();
      parameters.replaceKey("/JBIG2Globals", globals);
    }
    aside_.put(waiting_[i].stream, pages.pages[i], name("/JBIG2Decode"), parameters);
    ink_bytes_ += pages.pages[i].size();
  }
  waiting_.clear();
}

std::string PictureObjects::drawn(const PagePicture& picture, double w, double h, int turn,
                                  QPDFObjectHandle objects) {
  std::string content = "/Artifact BMC\n";
  if (picture.paper_colour && *picture.paper_colour != Rgb{255, 255, 255})
    content += fmt::format("q {}0 0 {:.4f} {:.4f} re f Q\n", fill(*picture.paper_colour), w, h);
  const std::string place = laid_over(w, h, turn);
  if (picture.image.has_value()) {
    objects.replaceKey("/P", coded(*picture.image));
    content += "q " + place + "/P Do Q\n";
  }
  const bool alone = !picture.image.has_value() && !picture.paper_colour.has_value();
  for (size_t i = 0; i < picture.cutouts.size(); ++i) {
    const Cutout& cutout = picture.cutouts[i];
    const double x = w / picture.width, y = h / picture.height;
    objects.replaceKey(fmt::format("/C{}", i), coded(cutout.image));
    content +=
        fmt::format("q {:.4f} 0 0 {:.4f} {:.4f} {:.4f} cm /C{} Do Q\n", cutout.place.width() * x,
                    cutout.place.height() * y, cutout.place.x0 * x, h - cutout.place.y1 * y, i);
  }
  if (picture.ink) {
    auto ink = ink_image(picture.ink, !alone);
    content += "q " + place;
    if (picture.ink_colours.has_value()) {
      auto colours = coded(*picture.ink_colours);
      colours.getDict().replaceKey("/Mask", ink);
      objects.replaceKey("/I", colours);
    } else {
      if (!alone) content += fill(picture.ink_colour);
      objects.replaceKey("/I", ink);
    }
    content += "/I Do Q\n";
  }
  if (!picture.rules.empty()) content += filled(picture, w, h);
  return content + "EMC\n";
}

}  // namespace burnisher::pdf
