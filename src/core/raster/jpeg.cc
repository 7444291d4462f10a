#include "raster/jpeg.h"

#include <csetjmp>
#include <cstdio>
#include <cstdlib>

#include <jpeglib.h>

#include "base/error.h"

namespace burnisher {
namespace {

// libjpeg reports by calling back; the message is kept and control goes back to the caller's
// setjmp, which turns it into an exception outside of C code.
struct Complaints {
  jpeg_error_mgr manager;
  std::jmp_buf back;
  char message[JMSG_LENGTH_MAX] = "";
};

[[noreturn]] void give_up(j_common_ptr codec) {
  auto* complaints = reinterpret_cast<Complaints*>(codec->err);
  codec->err->format_message(codec, complaints->message);
  std::longjmp(complaints->back, 1);
}

void keep_quiet(j_common_ptr) {}

jpeg_error_mgr* listen(Complaints& complaints) {
  jpeg_std_error(&complaints.manager);
  complaints.manager.error_exit = give_up;
  complaints.manager.output_message = keep_quiet;
  return &complaints.manager;
}

// Adobe programs store CMYK upside down (255 = no ink); plain CMYK has 255 = full ink.
void cmyk_to_rgb(const uint8_t* from, int width, bool adobe, uint8_t* to) {
  for (int x = 0; x < width; ++x) {
    const auto paper = [&](int c) { return adobe ? from[4 * x + c] : 255 - from[4 * x + c]; };
    for (int c = 0; c < 3; ++c) {
      to[3 * x + c] = static_cast<uint8_t>((paper(c) * paper(3) + 127) / 255);
    }
  }
}

// The decoding itself touches only plain memory, so that a longjmp out of libjpeg skips no
// destructor. `pixels` is allocated by the callback between header and scan lines.
struct Decoder {
  jpeg_decompress_struct codec{};
  Complaints complaints;

  Decoder() {
    codec.err = listen(complaints);
    jpeg_create_decompress(&codec);
  }
  ~Decoder() { jpeg_destroy_decompress(&codec); }

  bool read_header(const std::vector<uint8_t>& bytes) {
    if (setjmp(complaints.back)) return false;
    jpeg_mem_src(&codec, bytes.data(), bytes.size());
    jpeg_read_header(&codec, TRUE);
    const bool four = codec.jpeg_color_space == JCS_CMYK || codec.jpeg_color_space == JCS_YCCK;
    codec.out_color_space = four ? JCS_CMYK : (codec.num_components == 1 ? JCS_GRAYSCALE : JCS_RGB);
    jpeg_calc_output_dimensions(&codec);
    return true;
  }
  bool start() {
    if (setjmp(complaints.back)) return false;
    return jpeg_start_decompress(&codec);
  }
  bool read_row(uint8_t* row) {
    if (setjmp(complaints.back)) return false;
    return jpeg_read_scanlines(&codec, &row, 1) == 1;
  }
};

std::vector<uint8_t> encode(const uint8_t* samples, int width, int height, int channels,
                            int quality, JpegEffort effort) {
  jpeg_compress_struct codec{};
  Complaints complaints;
  unsigned char* buffer = nullptr;
  unsigned long size = 0;
  codec.err = listen(complaints);
  if (setjmp(complaints.back)) {
    jpeg_destroy_compress(&codec);
    std::free(buffer);
    throw OutputError(std::string("the JPEG picture could not be made: ") + complaints.message);
  }
  jpeg_create_compress(&codec);
  jpeg_mem_dest(&codec, &buffer, &size);
  codec.image_width = static_cast<JDIMENSION>(width);
  codec.image_height = static_cast<JDIMENSION>(height);
  codec.input_components = channels;
  codec.in_color_space = channels == 1 ? JCS_GRAYSCALE : JCS_RGB;
  jpeg_set_defaults(&codec);
  jpeg_set_quality(&codec, quality, TRUE);
  codec.optimize_coding = effort == JpegEffort::kSmall ? TRUE : FALSE;
  jpeg_start_compress(&codec, TRUE);
  while (codec.next_scanline < codec.image_height) {
    auto* row = const_cast<uint8_t*>(samples) +
                static_cast<size_t>(codec.next_scanline) * static_cast<size_t>(width * channels);
    jpeg_write_scanlines(&codec, &row, 1);
  }
  jpeg_finish_compress(&codec);
  std::vector<uint8_t> bytes(buffer, buffer + size);
  jpeg_destroy_compress(&codec);
  std::free(buffer);
  return bytes;
}

}  // namespace

JpegRead read_jpeg(const std::vector<uint8_t>& bytes, double pixel_limit) {
  Decoder decoder;
  jpeg_decompress_struct& codec = decoder.codec;
  if (!decoder.read_header(bytes)) throw FormatError(decoder.complaints.message);
  const int width = static_cast<int>(codec.output_width);
  const int height = static_cast<int>(codec.output_height);
  if (static_cast<double>(width) * height > pixel_limit) {
    throw FormatError("the picture is " + std::to_string(width) + " x " + std::to_string(height) +
                          " pixels, over the limit",
                      ErrorCode::kTooManyPixels);
  }
  if (!decoder.start()) throw FormatError(decoder.complaints.message);
  JpegRead read;
  Gray gray;
  Colour colour;
  const bool four = codec.out_color_space == JCS_CMYK;
  if (codec.out_color_space == JCS_GRAYSCALE)
    gray = Gray(width, height, 255);
  else
    colour = Colour(width, height, 255);
  std::vector<uint8_t> inks(four ? static_cast<size_t>(width) * 4 : 0);
  for (int y = 0; y < height; ++y) {
    uint8_t* row = four ? inks.data() : (gray.empty() ? colour.row(y) : gray.row(y));
    if (!decoder.read_row(row)) {
      read.cut_short = true;
      break;
    }
    if (four) cmyk_to_rgb(row, width, codec.saw_Adobe_marker, colour.row(y));
  }
  read.cut_short = read.cut_short || codec.err->num_warnings > 0;
  if (codec.saw_JFIF_marker && codec.density_unit != 0 && codec.X_density > 0) {
    read.dpi = codec.X_density * (codec.density_unit == 2 ? 2.54 : 1.0);
  }
  if (gray.empty())
    read.picture = std::move(colour);
  else
    read.picture = std::move(gray);
  return read;
}

std::vector<uint8_t> write_jpeg(const Gray& picture, int quality, JpegEffort effort) {
  return encode(picture.row(0), picture.width(), picture.height(), 1, quality, effort);
}

std::vector<uint8_t> write_jpeg(const Colour& picture, int quality, JpegEffort effort) {
  return encode(picture.row(0), picture.width(), picture.height(), 3, quality, effort);
}

}  // namespace burnisher
