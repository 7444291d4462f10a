#include "intake/pdf_file.h"

#include <fmt/core.h>
#include <stdlib.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <mutex>

#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include "base/error.h"
#include "base/files.h"
#include "intake/pdf_drawing.h"
#include "intake/pdf_programs.h"
#include "intake/pdf_text.h"
#include "intake/scan_file.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/tiff.h"
#include "raster/turn.h"

namespace burnisher {
namespace {

constexpr double kLeastDpi = 58, kMostDpi = 1200;  // of pictures that may be a page's scan
constexpr double kCoveringShare = 0.8;             // of the page's area, that they cover together
constexpr double kSameDpi = 0.05;                  // pictures that are strips of one scan
constexpr double kWholePage = 0.01;                // of a page's side, that a picture may lack

// Resolution of the pictures that cover the page; 0 when none do.
double covering_dpi(const PdfDrawing& drawing, double page_area) {
  double best = 0, covered = 0;
  for (const PlacedPicture& picture : drawing.pictures) {
    if (picture.dpi < kLeastDpi || picture.dpi > kMostDpi) continue;
    double area = 0;
    for (const PlacedPicture& other : drawing.pictures) {
      if (std::fabs(other.dpi - picture.dpi) < kSameDpi * picture.dpi) area += other.area;
    }
    if (area > covered) {
      covered = area;
      best = picture.dpi;
    }
  }
  return covered >= kCoveringShare * page_area ? best : 0;
}

bool over_all_of(const Affine& m, const QPDFObjectHandle::Rectangle& box) {
  const double w = box.urx - box.llx, h = box.ury - box.lly;
  const auto near = [](double a, double b, double side) {
    return std::fabs(a - b) < kWholePage * side;
  };
  return near(m.a, w, w) && near(m.e, h, h) && m.b == 0 && m.d == 0 && near(m.c, box.llx, w) &&
         near(m.f, box.lly, h);
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
      space.getArrayItem(0).getName() == "/ICCBased" && space.getArrayItem(1).isStream()) {
    auto count = space.getArrayItem(1).getDict().getKey("/N");
    return count.isInteger() && count.getIntValue() != 4 ? static_cast<int>(count.getIntValue())
                                                         : 0;
  }
  return 0;
}

QPDFObjectHandle single(QPDFObjectHandle value) {
  return value.isArray() && value.getArrayNItems() == 1 ? value.getArrayItem(0) : value;
}

std::optional<CodedImage> coded(QPDFObjectHandle stream) {
  auto dictionary = stream.getDict();
  for (const char* key : {"/SMask", "/Mask", "/Decode", "/ImageMask"}) {
    if (dictionary.hasKey(key)) return std::nullopt;
  }
  auto filter = single(dictionary.getKey("/Filter"));
  auto parameters = single(dictionary.getKey("/DecodeParms"));
  CodedImage image;
  image.width = dictionary.getKey("/Width").getIntValueAsInt();
  image.height = dictionary.getKey("/Height").getIntValueAsInt();
  image.channels = channels_of(dictionary.getKey("/ColorSpace"));
  if (!filter.isName() || image.channels == 0) return std::nullopt;
  const std::string name = filter.getName();
  if (name == "/DCTDecode" && !parameters.isDictionary()) {
    image.bytes = bytes_of(stream.getRawStreamData());
    return image;
  }
  if (name == "/JPXDecode") {
    image.coding = Coding::kJpeg2000;
    image.bytes = bytes_of(stream.getRawStreamData());
    return image;
  }
  auto depth = dictionary.getKey("/BitsPerComponent");
  const long long bits = depth.isInteger() ? depth.getIntValue() : 1;
  image.bitonal = bits == 1;
  if (name == "/FlateDecode" && (bits == 8 || (bits == 1 && image.channels == 1))) {
    image.coding = Coding::kDeflate;
    image.bytes = bytes_of(stream.getRawStreamData());
    return image;
  }
  if (!image.bitonal) return std::nullopt;
  if (name == "/CCITTFaxDecode" && parameters.isDictionary()) {
    const auto says = [&](const char* key, long long wanted) {
      auto value = parameters.getKey(key);
      return value.isInteger() && value.getIntValue() == wanted;
    };
    const bool usual = !parameters.hasKey("/BlackIs1") && !parameters.hasKey("/EncodedByteAlign");
    if (!usual || !says("/K", -1) || !says("/Columns", image.width)) return std::nullopt;
    image.coding = Coding::kG4;
    image.bytes = bytes_of(stream.getRawStreamData());
    return image;
  }
  if (name == "/JBIG2Decode") {
    if (parameters.isDictionary() && parameters.getKey("/JBIG2Globals").isStream())
      image.globals = bytes_of(parameters.getKey("/JBIG2Globals").getStreamData(qpdf_dl_all));
    image.coding = Coding::kJbig2;
    image.bytes = bytes_of(stream.getRawStreamData());
    return image;
  }
  return std::nullopt;
}

// Rows of plain samples. Bitonal ones have a 0 where there is ink.
Picture from_samples(const CodedImage& image, const std::vector<uint8_t>& samples) {
  const auto width = static_cast<size_t>(image.width), height = static_cast<size_t>(image.height);
  const size_t row = image.bitonal ? (width + 7) / 8 : width * static_cast<size_t>(image.channels);
  if (samples.size() < row * height) throw FormatError("the picture ends early");
  const auto from = [&](int y) { return samples.data() + static_cast<size_t>(y) * row; };
  if (image.bitonal) {
    Bitonal ink(image.width, image.height);
    const auto tail = static_cast<uint8_t>(width % 8 ? 0xff << (8 - width % 8) : 0xff);
    for (int y = 0; y < image.height; ++y) {
      std::transform(from(y), from(y) + row, ink.row(y),
                     [](uint8_t b) { return static_cast<uint8_t>(~b); });
      ink.row(y)[row - 1] &= tail;
    }
    return ink;
  }
  if (image.channels == 1) {
    Gray gray(image.width, image.height);
    for (int y = 0; y < image.height; ++y) std::copy_n(from(y), row, gray.row(y));
    return gray;
  }
  Colour colour(image.width, image.height);
  for (int y = 0; y < image.height; ++y) std::copy_n(from(y), row, colour.row(y));
  return colour;
}

[[noreturn]] void refuse(double pixels) {
  throw FormatError(
      fmt::format("the page would be {:.0f} megapixels, over the limit", pixels / 1e6),
      ErrorCode::kTooManyPixels);
}

// A folder of our own for what programs have to be given as a file; gone at the end.
class PrivateFile {
 public:
  PrivateFile() {
    std::string pattern = (std::filesystem::temp_directory_path() / "burnisher-XXXXXX").string();
    if (mkdtemp(pattern.data()) == nullptr)
      throw OutputError(pattern + ": no temporary folder can be made");
    folder_ = pattern;
  }
  ~PrivateFile() {
    std::error_code status;
    std::filesystem::remove_all(folder_, status);
  }
  PrivateFile(const PrivateFile&) = delete;
  PrivateFile& operator=(const PrivateFile&) = delete;
  std::string path() const { return folder_ + "/page.pdf"; }

 private:
  std::string folder_;
};

}  // namespace

struct PdfFile::State {
  Source source;
  std::shared_ptr<const std::vector<uint8_t>> bytes;  // of memory; must outlive `pdf`
  QPDF pdf;
  std::vector<QPDFPageObjectHelper> pages;
  std::mutex guard;  // over `pdf`, its objects and `plain_copy`
  std::unique_ptr<PrivateFile> plain_copy;

  explicit State(const Source& from) : source(from) {}

  QPDFPageObjectHelper& page(int number) {
    if (number < 1 || static_cast<size_t>(number) > pages.size())
      throw FormatError("there is no such page");
    return pages[static_cast<size_t>(number - 1)];
  }

  // A file that programs can read without a password: the source itself where it is one.
  std::string readable_path() {
    if (!source.in_memory() && !pdf.isEncrypted()) return source.name();
    if (!plain_copy) {
      plain_copy = std::make_unique<PrivateFile>();
      QPDFWriter writer(pdf, plain_copy->path().c_str());
      writer.setPreserveEncryption(false);
      writer.setStreamDataMode(qpdf_s_preserve);
      writer.write();
    }
    return plain_copy->path();
  }

  // What a page needs to be read, found with the file locked; the work itself goes on beside
  // others.
  struct Look {
    bool any_text = true;
    double width = 0, height = 0;  // points, as the page is seen
    double dpi = 0;                // of pictures that cover it; 0: none do
    int rotation = 0;
    std::optional<CodedImage> picture;
    std::optional<std::vector<uint8_t>> samples;  // of a deflated one
    std::string path;
  };

  Look look(int number, bool with_picture) {
    const std::lock_guard<std::mutex> lock(guard);
    Look look;
    QPDFPageObjectHelper& sheet = page(number);
    const auto box = crop_box(sheet);
    look.rotation = rotation_of(sheet);
    look.width = box.urx - box.llx;
    look.height = box.ury - box.lly;
    try {
      PdfDrawing drawing = drawing_of(sheet);
      // Forms may hold text of their own; they were looked into.
      look.any_text = drawing.any_text;
      look.dpi = covering_dpi(drawing, look.width * look.height);
      if (with_picture && drawing.plain && drawing.pictures.size() == 1 &&
          over_all_of(drawing.pictures[0].to_page, box)) {
        look.picture = coded(drawing.pictures[0].stream);
        if (look.picture && look.picture->coding == Coding::kDeflate)
          look.samples = bytes_of(drawing.pictures[0].stream.getStreamData(qpdf_dl_specialized));
      }
    } catch (const std::exception&) {
      look.picture.reset();  // contents that cannot be followed are drawn, as well as it goes
    }
    if (look.rotation % 180 != 0) std::swap(look.width, look.height);
    if (!look.picture || look.any_text) look.path = readable_path();
    return look;
  }
};

PdfFile::PdfFile(const Source& source, const std::string& password)
    : state_(std::make_unique<State>(source)) {
  State& s = *state_;
  s.pdf.setSuppressWarnings(true);
  try {
    if (source.in_memory()) {
      s.bytes = source.bytes();
      s.pdf.processMemoryFile(source.name().c_str(), reinterpret_cast<const char*>(s.bytes->data()),
                              s.bytes->size(), password.c_str());
    } else {
      s.pdf.processFile(source.name().c_str(), password.c_str());
    }
    s.pages = QPDFPageDocumentHelper(s.pdf).getAllPages();
  } catch (const QPDFExc& cause) {
    if (cause.getErrorCode() == qpdf_e_password) {
      throw InputError(
          source.name() + (password.empty() ? ": the PDF needs a password"
                                            : ": the PDF does not open with the password given"),
          ErrorCode::kPasswordWanted);
    }
    throw FormatError("no usable PDF; its structure is damaged (" + cause.getMessageDetail() + ")");
  } catch (const std::exception& cause) {
    throw FormatError(std::string("no usable PDF; its structure is damaged (") + cause.what() +
                      ")");
  }
}

PdfFile::~PdfFile() = default;

int PdfFile::page_count() const {
  return static_cast<int>(state_->pages.size());
}

std::optional<CodedImage> PdfFile::only_picture(int page) const {
  State::Look look = state_->look(page, true);
  if (look.rotation != 0) return std::nullopt;
  return std::move(look.picture);
}

Scan PdfFile::read(int page, const ScanLimits& limits) const {
  State::Look look = state_->look(page, true);
  Scan scan;
  scan.stated_dpi = look.dpi;
  if (look.picture) {
    const CodedImage& image = *look.picture;
    const double pixels = static_cast<double>(image.width) * image.height;
    if (pixels > limits.pixels) refuse(pixels);
    std::optional<Picture> decoded;
    bool cut = false;
    if (image.coding == Coding::kJpeg) {
      JpegRead read = read_jpeg(image.bytes, limits.pixels);
      cut = read.cut_short;
      decoded = std::move(read.picture);
    } else if (image.coding == Coding::kJpeg2000) {
      Jpeg2000Read read = read_jpeg2000(image.bytes, limits.pixels);
      cut = read.cut_short;
      decoded = std::move(read.picture);
    } else if (image.coding == Coding::kG4) {
      decoded = decode_g4(image.bytes, image.width, image.height);
    } else if (look.samples) {
      decoded = from_samples(image, *look.samples);
    }
    if (cut && limits.strict) throw FormatError("the page's picture ends early");
    if (cut) scan.notes.push_back("the page's picture ends early; the rest is treated as blank");
    if (decoded) scan.picture = turned(*decoded, (360 - look.rotation) % 360);
  }
  if (width_of(scan.picture) == 0) {
    const double dpi = look.dpi > 0 ? look.dpi : limits.pdf_dpi;
    const double pixels = look.width / 72 * dpi * look.height / 72 * dpi;
    if (pixels > limits.pixels) refuse(pixels);
    if (look.path.empty()) {
      const std::lock_guard<std::mutex> lock(state_->guard);
      look.path = state_->readable_path();
    }
    scan.picture = draw_pdf_page(look.path, page, dpi, limits.pixels);
    scan.stated_dpi = dpi;
  }
  if (look.any_text) {
    const PdfWords found = pdf_words(look.path, page);
    scan.has_text = !found.words.empty();
  }
  if (scan.has_text)
    scan.notes.push_back("has real text already; it was read anew from the picture");
  return scan;
}

std::optional<Page> PdfFile::text(int page, double dpi) const {
  const State::Look look = state_->look(page, false);
  if (!look.any_text) return std::nullopt;
  const PdfWords found = pdf_words(look.path, page);
  if (!worth_the_name(found)) return std::nullopt;
  Page text = page_of_words(found, dpi);
  text.file = state_->source.name();
  text.number = page;
  return text;
}

}  // namespace burnisher
