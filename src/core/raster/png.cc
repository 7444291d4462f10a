#include "raster/png.h"

#include <png.h>

#include <cmath>
#include <cstring>
#include <string>

#include "base/error.h"

namespace burnisher {
namespace {

constexpr double kMetresPerInch = 0.0254;  // the pHYs chunk counts dots a metre

struct Source {
  const std::vector<uint8_t>* bytes;
  size_t at = 0;
};

// libpng reports by calling back and jumping out; all decoding state lives in this struct, so that
// nothing with a destructor is skipped.
struct Reader {
  png_structp png = nullptr;
  png_infop info = nullptr;
  Source source;
  std::string message;

  explicit Reader(const std::vector<uint8_t>& bytes) : source{&bytes} {
    png = png_create_read_struct(PNG_LIBPNG_VER_STRING, this, on_error, on_warning);
    info = png_create_info_struct(png);
    png_set_read_fn(png, &source, on_read);
    png_set_user_limits(png, 1000000, 1000000);
  }
  ~Reader() { png_destroy_read_struct(&png, &info, nullptr); }

  static void on_error(png_structp png, png_const_charp text) {
    static_cast<Reader*>(png_get_error_ptr(png))->message = text;
    png_longjmp(png, 1);
  }
  static void on_warning(png_structp, png_const_charp) {}
  static void on_read(png_structp png, png_bytep to, png_size_t count) {
    auto* source = static_cast<Source*>(png_get_io_ptr(png));
    if (source->bytes->size() - source->at < count) png_error(png, "the data end early");
    std::memcpy(to, source->bytes->data() + source->at, count);
    source->at += count;
  }

  bool header() {
    if (setjmp(png_jmpbuf(png))) return false;
    png_read_info(png, info);
    return true;
  }
  bool prepare() {
    if (setjmp(png_jmpbuf(png))) return false;
    png_set_expand(png);
    png_set_strip_16(png);
    png_color_16 white{};
    white.red = white.green = white.blue = white.gray = 255;
    const int type = png_get_color_type(png, info);
    if ((type & PNG_COLOR_MASK_ALPHA) || png_get_valid(png, info, PNG_INFO_tRNS)) {
      png_set_background(png, &white, PNG_BACKGROUND_GAMMA_SCREEN, 0, 1.0);
    }
    png_set_interlace_handling(png);
    png_read_update_info(png, info);
    return true;
  }
  // Ink and paper, nothing else.
  bool bitonal() const {
    return png_get_bit_depth(png, info) == 1 &&
           png_get_color_type(png, info) == PNG_COLOR_TYPE_GRAY &&
           !png_get_valid(png, info, PNG_INFO_tRNS);
  }
  bool prepare_bitonal() {
    if (setjmp(png_jmpbuf(png))) return false;
    png_set_invert_mono(png);
    png_set_interlace_handling(png);
    png_read_update_info(png, info);
    return true;
  }
  bool rows(png_bytep* pointers) {
    if (setjmp(png_jmpbuf(png))) return false;
    png_read_image(png, pointers);
    return true;
  }
};

template <typename Dense>
Dense decode_rows(Reader& reader, int width, int height) {
  Dense picture(width, height, 255);
  std::vector<png_bytep> pointers;
  for (int y = 0; y < height; ++y) pointers.push_back(picture.row(y));
  if (!reader.rows(pointers.data())) throw FormatError(reader.message);
  return picture;
}

Bitonal decode_bitonal(Reader& reader, int width, int height) {
  Bitonal picture(width, height);
  std::vector<png_bytep> pointers;
  for (int y = 0; y < height; ++y) pointers.push_back(picture.row(y));
  if (!reader.prepare_bitonal() || !reader.rows(pointers.data())) throw FormatError(reader.message);
  // Turned with the rest, the bits beyond the width are to be 0 again.
  if (width % 8 != 0) {
    const auto kept = static_cast<uint8_t>(0xFF00 >> (width % 8));
    for (int y = 0; y < height; ++y) picture.row(y)[picture.stride() - 1] &= kept;
  }
  return picture;
}

void append(png_structp png, png_bytep bytes, png_size_t count) {
  auto* out = static_cast<std::vector<uint8_t>*>(png_get_io_ptr(png));
  out->insert(out->end(), bytes, bytes + count);
}

void no_flush(png_structp) {}

std::vector<uint8_t> encode(int width, int height, int bits, int type, double dpi,
                            const std::vector<const uint8_t*>& rows) {
  std::vector<uint8_t> out;
  png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
  png_infop info = png_create_info_struct(png);
  if (setjmp(png_jmpbuf(png))) {
    png_destroy_write_struct(&png, &info);
    throw OutputError("the PNG picture could not be made");
  }
  png_set_write_fn(png, &out, append, no_flush);
  png_set_compression_level(png, 4);
  png_set_IHDR(png, info, static_cast<png_uint_32>(width), static_cast<png_uint_32>(height), bits,
               type, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
  if (dpi > 0) {
    const auto per_metre = static_cast<png_uint_32>(std::lround(dpi / kMetresPerInch));
    png_set_pHYs(png, info, per_metre, per_metre, PNG_RESOLUTION_METER);
  }
  png_write_info(png, info);
  if (bits == 1) png_set_invert_mono(png);
  for (const uint8_t* row : rows) png_write_row(png, row);
  png_write_end(png, info);
  png_destroy_write_struct(&png, &info);
  return out;
}

}  // namespace

PngRead read_png(const std::vector<uint8_t>& bytes, double pixel_limit) {
  // The size stands at a fixed place right behind the signature: refused before anything is
  // decoded.
  const auto stated = [&](size_t at) {
    return static_cast<uint32_t>(bytes[at] << 24 | bytes[at + 1] << 16 | bytes[at + 2] << 8 |
                                 bytes[at + 3]);
  };
  if (bytes.size() < 24) throw FormatError("the data end early");
  const uint32_t width = stated(16), height = stated(20);
  if (static_cast<double>(width) * height > pixel_limit) {
    throw FormatError("the picture is " + std::to_string(width) + " x " + std::to_string(height) +
                          " pixels, over the limit",
                      ErrorCode::kTooManyPixels);
  }
  Reader reader(bytes);
  if (!reader.header()) throw FormatError(reader.message);
  PngRead read;
  const int w = static_cast<int>(width), h = static_cast<int>(height);
  const bool bitonal = reader.bitonal();
  if (!bitonal && !reader.prepare()) throw FormatError(reader.message);
  if (bitonal)
    read.picture = decode_bitonal(reader, w, h);
  else if (png_get_channels(reader.png, reader.info) == 1)
    read.picture = decode_rows<Gray>(reader, w, h);
  else
    read.picture = decode_rows<Colour>(reader, w, h);
  const auto per_metre = png_get_pixels_per_meter(reader.png, reader.info);
  read.dpi = per_metre * kMetresPerInch;
  return read;
}

std::vector<uint8_t> write_png(const Picture& picture, double dpi) {
  return std::visit(
      [&](const auto& p) {
        using P = std::decay_t<decltype(p)>;
        std::vector<const uint8_t*> rows;
        for (int y = 0; y < p.height(); ++y) rows.push_back(p.row(y));
        const bool colour = std::is_same_v<P, Colour>;
        return encode(p.width(), p.height(), std::is_same_v<P, Bitonal> ? 1 : 8,
                      colour ? PNG_COLOR_TYPE_RGB : PNG_COLOR_TYPE_GRAY, dpi, rows);
      },
      picture);
}

}  // namespace burnisher
