#include "raster/jpeg2000.h"

#include <openjpeg.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <string>

#include "base/error.h"

namespace burnisher {
namespace {

constexpr double kMetresPerInch = 0.0254;  // the boxes count dots a metre
constexpr uint8_t kBoxes[] = {0, 0, 0, 12, 'j', 'P', ' ', ' '};
constexpr uint8_t kCodestream[] = {0xFF, 0x4F, 0xFF, 0x51};  // SOC, SIZ

struct Source {
  const std::vector<uint8_t>* bytes;
  size_t at = 0;
};

OPJ_SIZE_T on_read(void* to, OPJ_SIZE_T count, void* data) {
  auto* source = static_cast<Source*>(data);
  const size_t left = source->bytes->size() - source->at;
  if (left == 0) return static_cast<OPJ_SIZE_T>(-1);
  const size_t got = std::min(left, static_cast<size_t>(count));
  std::memcpy(to, source->bytes->data() + source->at, got);
  source->at += got;
  return got;
}

OPJ_OFF_T on_skip(OPJ_OFF_T count, void* data) {
  auto* source = static_cast<Source*>(data);
  const auto left = static_cast<OPJ_OFF_T>(source->bytes->size() - source->at);
  const OPJ_OFF_T moved = std::clamp<OPJ_OFF_T>(count, 0, left);
  source->at += static_cast<size_t>(moved);
  return moved;
}

OPJ_BOOL on_seek(OPJ_OFF_T place, void* data) {
  auto* source = static_cast<Source*>(data);
  if (place < 0 || static_cast<size_t>(place) > source->bytes->size()) return OPJ_FALSE;
  source->at = static_cast<size_t>(place);
  return OPJ_TRUE;
}

void keep_message(const char* text, void* data) {
  std::string& message = *static_cast<std::string*>(data);
  message = text;
  while (!message.empty() && message.back() == '\n') message.pop_back();
}

bool boxed(const std::vector<uint8_t>& bytes) {
  return bytes.size() > sizeof kBoxes &&
         std::equal(std::begin(kBoxes), std::end(kBoxes), bytes.begin());
}

// One decoding, its parts freed in the end.
class Decoder {
 public:
  explicit Decoder(const std::vector<uint8_t>& bytes) : source_{&bytes} {
    codec_ = opj_create_decompress(boxed(bytes) ? OPJ_CODEC_JP2 : OPJ_CODEC_J2K);
    opj_set_error_handler(codec_, keep_message, &error_);
    opj_set_warning_handler(codec_, keep_message, &warning_);
    opj_dparameters_t parameters;
    opj_set_default_decoder_parameters(&parameters);
    opj_setup_decoder(codec_, &parameters);
    opj_decoder_set_strict_mode(codec_, OPJ_FALSE);
    stream_ = opj_stream_default_create(OPJ_TRUE);
    opj_stream_set_user_data(stream_, &source_, nullptr);
    opj_stream_set_user_data_length(stream_, bytes.size());
    opj_stream_set_read_function(stream_, on_read);
    opj_stream_set_skip_function(stream_, on_skip);
    opj_stream_set_seek_function(stream_, on_seek);
    if (!opj_read_header(stream_, codec_, &image_) || image_ == nullptr) fail();
  }
  ~Decoder() {
    if (image_ != nullptr) opj_image_destroy(image_);
    opj_stream_destroy(stream_);
    opj_destroy_codec(codec_);
  }
  Decoder(const Decoder&) = delete;
  Decoder& operator=(const Decoder&) = delete;

  const opj_image_t& image() const { return *image_; }
  int width() const { return static_cast<int>(image_->x1 - image_->x0); }
  int height() const { return static_cast<int>(image_->y1 - image_->y0); }

  // Whether all data were there.
  bool decode() {
    warning_.clear();
    if (!opj_decode(codec_, stream_, image_)) fail();
    const bool ended = opj_end_decompress(codec_, stream_) != 0;
    return ended && warning_.empty();
  }

 private:
  [[noreturn]] void fail() const {
    throw FormatError("no usable JPEG 2000: " +
                      (error_.empty() ? std::string("the data make no sense") : error_));
  }

  Source source_;
  std::string error_, warning_;
  opj_codec_t* codec_ = nullptr;
  opj_stream_t* stream_ = nullptr;
  opj_image_t* image_ = nullptr;
};

// A sample as 8 bits; parts with fewer samples than the picture are stretched.
int sample_of(const opj_image_comp_t& part, int x, int y) {
  const auto u = std::min<OPJ_UINT32>(static_cast<OPJ_UINT32>(x) / part.dx, part.w - 1);
  const auto v = std::min<OPJ_UINT32>(static_cast<OPJ_UINT32>(y) / part.dy, part.h - 1);
  int value = part.data[static_cast<size_t>(v) * part.w + u];
  const int bits = static_cast<int>(part.prec);
  if (part.sgnd) value += 1 << (bits - 1);
  if (bits > 8) return std::clamp(value >> (bits - 8), 0, 255);
  return std::clamp(value * 255 / ((1 << bits) - 1), 0, 255);
}

Picture picture_of(const Decoder& decoder) {
  const opj_image_t& image = decoder.image();
  for (OPJ_UINT32 i = 0; i < image.numcomps; ++i) {
    if (image.comps[i].data == nullptr || image.comps[i].w == 0)
      throw FormatError("no usable JPEG 2000: a colour is missing");
  }
  const int width = decoder.width(), height = decoder.height();
  if (image.numcomps < 3) {
    Gray gray(width, height);
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x)
        gray.row(y)[x] = static_cast<uint8_t>(sample_of(image.comps[0], x, y));
    }
    return gray;
  }
  // Colours that are told apart by brightness and two differences (T.800, annex M.13).
  const bool differences = image.color_space == OPJ_CLRSPC_SYCC;
  Colour colour(width, height);
  for (int y = 0; y < height; ++y) {
    uint8_t* out = colour.row(y);
    for (int x = 0; x < width; ++x, out += 3) {
      int c[3];
      for (int i = 0; i < 3; ++i) c[i] = sample_of(image.comps[i], x, y);
      if (differences) {
        const double blue = c[1] - 128, red = c[2] - 128, light = c[0];
        c[0] = static_cast<int>(std::lround(light + 1.402 * red));
        c[1] = static_cast<int>(std::lround(light - 0.344136 * blue - 0.714136 * red));
        c[2] = static_cast<int>(std::lround(light + 1.772 * blue));
      }
      for (int i = 0; i < 3; ++i) out[i] = static_cast<uint8_t>(std::clamp(c[i], 0, 255));
    }
  }
  return colour;
}

// The resolution box (T.800, I.5.3.7): as captured, else as it is to be shown. 0: there is none.
double stated_dpi(const std::vector<uint8_t>& bytes) {
  for (const char* name : {"resc", "resd"}) {
    const auto at = std::search(bytes.begin(), bytes.end(), name, name + 4);
    if (bytes.end() - at < 14) continue;
    const uint8_t* b = &*at + 4;
    const double top = b[0] << 8 | b[1], bottom = b[2] << 8 | b[3];
    if (top <= 0 || bottom <= 0) continue;
    return top / bottom * std::pow(10, static_cast<int8_t>(b[8])) * kMetresPerInch;
  }
  return 0;
}

}  // namespace

bool is_jpeg2000(const uint8_t* bytes, size_t count) {
  const auto begins = [&](const auto& mark) {
    return count >= sizeof mark && std::equal(std::begin(mark), std::end(mark), bytes);
  };
  return begins(kBoxes) || begins(kCodestream);
}

Jpeg2000Frame jpeg2000_frame(const std::vector<uint8_t>& bytes) {
  const Decoder decoder(bytes);
  return {decoder.width(), decoder.height(), decoder.image().numcomps < 3 ? 1 : 3, boxed(bytes)};
}

Jpeg2000Read read_jpeg2000(const std::vector<uint8_t>& bytes, double pixel_limit) {
  Decoder decoder(bytes);
  if (static_cast<double>(decoder.width()) * decoder.height() > pixel_limit) {
    throw FormatError("the picture is " + std::to_string(decoder.width()) + " x " +
                          std::to_string(decoder.height()) + " pixels, over the limit",
                      ErrorCode::kTooManyPixels);
  }
  Jpeg2000Read read;
  read.cut_short = !decoder.decode();
  read.picture = picture_of(decoder);
  read.dpi = boxed(bytes) ? stated_dpi(bytes) : 0;
  return read;
}

}  // namespace burnisher
