#include "raster/tiff.h"

#include <tiffio.h>

#include <cstdarg>
#include <cstdio>
#include <cstring>
#include <memory>

#include "base/error.h"

namespace burnisher {
namespace {

struct Close {
  void operator()(TIFF* tiff) const { TIFFClose(tiff); }
};
using TiffFile = std::unique_ptr<TIFF, Close>;

// libtiff's messages go through one process-wide handler; each thread keeps its own latest one.
thread_local std::string last_message;

void keep_message(const char*, const char* format, va_list arguments) {
  char text[300];
  std::vsnprintf(text, sizeof text, format, arguments);
  last_message = text;
}

void listen() {
  static const bool once = [] {
    TIFFSetErrorHandler(keep_message);
    TIFFSetWarningHandler(nullptr);
    return true;
  }();
  (void)once;
  last_message.clear();
}

struct MemoryFile {
  std::vector<uint8_t> bytes;
  size_t at = 0;
};

tmsize_t read_memory(thandle_t handle, void* to, tmsize_t count) {
  auto* file = static_cast<MemoryFile*>(handle);
  const size_t left = file->bytes.size() - std::min(file->at, file->bytes.size());
  const size_t n = std::min(left, static_cast<size_t>(count));
  std::memcpy(to, file->bytes.data() + file->at, n);
  file->at += n;
  return static_cast<tmsize_t>(n);
}

tmsize_t write_memory(thandle_t handle, void* from, tmsize_t count) {
  auto* file = static_cast<MemoryFile*>(handle);
  const size_t end = file->at + static_cast<size_t>(count);
  if (end > file->bytes.size()) file->bytes.resize(end);
  std::memcpy(file->bytes.data() + file->at, from, static_cast<size_t>(count));
  file->at = end;
  return count;
}

toff_t seek_memory(thandle_t handle, toff_t offset, int from) {
  auto* file = static_cast<MemoryFile*>(handle);
  file->at = from == SEEK_SET   ? offset
             : from == SEEK_CUR ? file->at + offset
                                : file->bytes.size() + offset;
  return file->at;
}

int close_memory(thandle_t) {
  return 0;
}
toff_t size_memory(thandle_t handle) {
  return static_cast<MemoryFile*>(handle)->bytes.size();
}

TiffFile open_memory(MemoryFile& file, const char* mode) {
  return TiffFile(TIFFClientOpen("memory", mode, &file, read_memory, write_memory, seek_memory,
                                 close_memory, size_memory, nullptr, nullptr));
}

// A TIFF being read, with the bytes it needs to live.
struct OpenTiff {
  std::unique_ptr<MemoryFile> memory;
  TiffFile file;
  TIFF* get() const { return file.get(); }
};

OpenTiff open(const Source& source) {
  listen();
  OpenTiff tiff;
  if (source.in_memory()) {
    tiff.memory = std::make_unique<MemoryFile>(MemoryFile{*source.bytes(), 0});
    tiff.file = open_memory(*tiff.memory, "rm");
  } else {
    tiff.file.reset(TIFFOpen(source.name().c_str(), "rm"));
  }
  if (!tiff.file) throw FormatError(last_message.empty() ? "no usable TIFF file" : last_message);
  return tiff;
}

double resolution(TIFF* tiff) {
  float across = 0;
  uint16_t unit = RESUNIT_INCH;
  if (!TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &across)) return 0;
  TIFFGetFieldDefaulted(tiff, TIFFTAG_RESOLUTIONUNIT, &unit);
  if (unit == RESUNIT_NONE) return 0;
  return unit == RESUNIT_CENTIMETER ? across * 2.54 : across;
}

// Plain bitonal and gray pages are read row by row, which is quick and keeps bitonal bitonal.
bool read_bitonal(TIFF* tiff, int width, int height, bool zero_is_white, TiffRead& read) {
  Bitonal picture(width, height);
  std::vector<uint8_t> row(static_cast<size_t>(TIFFScanlineSize(tiff)));
  const uint8_t tail = static_cast<uint8_t>(width % 8 ? 0xff << (8 - width % 8) : 0xff);
  for (int y = 0; y < height; ++y) {
    if (TIFFReadScanline(tiff, row.data(), static_cast<uint32_t>(y)) < 0) {
      if (y == 0) return false;
      read.cut_short = true;
      break;
    }
    uint8_t* to = picture.row(y);
    for (int b = 0; b < picture.stride(); ++b) {
      to[b] = zero_is_white ? row[static_cast<size_t>(b)]
                            : static_cast<uint8_t>(~row[static_cast<size_t>(b)]);
    }
    to[picture.stride() - 1] &= tail;
  }
  read.picture = std::move(picture);
  return true;
}

bool read_gray(TIFF* tiff, int width, int height, int bytes, bool zero_is_white, TiffRead& read) {
  Gray picture(width, height, 255);
  std::vector<uint8_t> row(static_cast<size_t>(TIFFScanlineSize(tiff)));
  for (int y = 0; y < height; ++y) {
    if (TIFFReadScanline(tiff, row.data(), static_cast<uint32_t>(y)) < 0) {
      if (y == 0) return false;
      read.cut_short = true;
      break;
    }
    for (int x = 0; x < width; ++x) {
      uint8_t v = row[static_cast<size_t>(x)];
      if (bytes == 2) {
        uint16_t wide;
        std::memcpy(&wide, row.data() + 2 * x, 2);
        v = static_cast<uint8_t>(wide >> 8);
      }
      picture.row(y)[x] = zero_is_white ? static_cast<uint8_t>(255 - v) : v;
    }
  }
  read.picture = std::move(picture);
  return true;
}

// Everything else: palettes, RGB, CMYK, YCbCr, tiles, alpha on white.
void read_any(TIFF* tiff, int width, int height, TiffRead& read) {
  std::vector<uint32_t> pixels(static_cast<size_t>(width) * static_cast<size_t>(height));
  if (!TIFFReadRGBAImageOriented(tiff, static_cast<uint32_t>(width), static_cast<uint32_t>(height),
                                 pixels.data(), ORIENTATION_TOPLEFT, 0)) {
    throw FormatError(last_message.empty() ? "the picture cannot be decoded" : last_message);
  }
  Colour colour(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const uint32_t p =
          pixels[static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)];
      const int alpha = static_cast<int>(TIFFGetA(p));
      const auto on_white = [&](uint32_t c) {
        return static_cast<uint8_t>(static_cast<int>(c) + 255 - alpha);
      };
      uint8_t* to = colour.row(y) + 3 * x;
      to[0] = on_white(TIFFGetR(p));
      to[1] = on_white(TIFFGetG(p));
      to[2] = on_white(TIFFGetB(p));
    }
  }
  read.picture = std::move(colour);
}

void describe(TIFF* tiff, const Picture& picture, double dpi) {
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  const bool colour = std::holds_alternative<Colour>(picture);
  TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(width_of(picture)));
  TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(height_of(picture)));
  TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, bitonal ? 1 : 8);
  TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, colour ? 3 : 1);
  TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
  TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(height_of(picture)));
  TIFFSetField(tiff, TIFFTAG_COMPRESSION,
               bitonal ? COMPRESSION_CCITTFAX4 : COMPRESSION_ADOBE_DEFLATE);
  TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC,
               bitonal  ? PHOTOMETRIC_MINISWHITE
               : colour ? PHOTOMETRIC_RGB
                        : PHOTOMETRIC_MINISBLACK);
  if (dpi > 0) {
    TIFFSetField(tiff, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    TIFFSetField(tiff, TIFFTAG_XRESOLUTION, dpi);
    TIFFSetField(tiff, TIFFTAG_YRESOLUTION, dpi);
  }
}

void write_rows(TIFF* tiff, const Picture& picture) {
  std::visit(
      [&](const auto& p) {
        for (int y = 0; y < p.height(); ++y) {
          auto* row = const_cast<uint8_t*>(p.row(y));
          if (TIFFWriteScanline(tiff, row, static_cast<uint32_t>(y)) < 0) {
            throw OutputError("the TIFF picture could not be written: " + last_message);
          }
        }
      },
      picture);
}

}  // namespace

int count_tiff_pages(const Source& source) {
  const OpenTiff tiff = open(source);
  return static_cast<int>(TIFFNumberOfDirectories(tiff.get()));
}

TiffRead read_tiff(const Source& source, int page, double pixel_limit) {
  const OpenTiff tiff = open(source);
  if (!TIFFSetDirectory(tiff.get(), static_cast<uint16_t>(page))) {
    throw FormatError("page " + std::to_string(page + 1) + " cannot be found in the file");
  }
  uint32_t width = 0, height = 0;
  uint16_t bits = 1, samples = 1, photometric = PHOTOMETRIC_MINISWHITE;
  TIFFGetField(tiff.get(), TIFFTAG_IMAGEWIDTH, &width);
  TIFFGetField(tiff.get(), TIFFTAG_IMAGELENGTH, &height);
  TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_BITSPERSAMPLE, &bits);
  TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_SAMPLESPERPIXEL, &samples);
  TIFFGetField(tiff.get(), TIFFTAG_PHOTOMETRIC, &photometric);
  if (width == 0 || height == 0) throw FormatError("the picture has no pixels");
  if (static_cast<double>(width) * height > pixel_limit) {
    throw FormatError("the picture is " + std::to_string(width) + " x " + std::to_string(height) +
                          " pixels, over the limit",
                      ErrorCode::kTooManyPixels);
  }
  TiffRead read;
  read.dpi = resolution(tiff.get());
  const int w = static_cast<int>(width), h = static_cast<int>(height);
  const bool plain =
      samples == 1 && !TIFFIsTiled(tiff.get()) &&
      (photometric == PHOTOMETRIC_MINISWHITE || photometric == PHOTOMETRIC_MINISBLACK);
  const bool zero_is_white = photometric == PHOTOMETRIC_MINISWHITE;
  if (plain && bits == 1 && read_bitonal(tiff.get(), w, h, zero_is_white, read)) return read;
  if (plain && (bits == 8 || bits == 16) &&
      read_gray(tiff.get(), w, h, bits / 8, zero_is_white, read)) {
    return read;
  }
  read_any(tiff.get(), w, h, read);
  return read;
}

void write_tiff(const std::string& path, const Picture& picture, double dpi) {
  listen();
  const TiffFile tiff(TIFFOpen(path.c_str(), "w"));
  if (!tiff) throw OutputError(path + ": cannot be written: " + last_message);
  describe(tiff.get(), picture, dpi);
  write_rows(tiff.get(), picture);
}

std::optional<CodedImage> single_g4_strip(const Source& source, int page) {
  const OpenTiff held = open(source);
  TIFF* tiff = held.get();
  uint16_t compression = 0, photometric = 0, order = FILLORDER_MSB2LSB;
  uint32_t width = 0, height = 0;
  const bool fits = TIFFSetDirectory(tiff, static_cast<tdir_t>(page)) &&
                    TIFFGetField(tiff, TIFFTAG_COMPRESSION, &compression) &&
                    compression == COMPRESSION_CCITTFAX4 &&
                    TIFFGetField(tiff, TIFFTAG_PHOTOMETRIC, &photometric) &&
                    photometric == PHOTOMETRIC_MINISWHITE && !TIFFIsTiled(tiff) &&
                    TIFFNumberOfStrips(tiff) == 1;
  if (!fits) return std::nullopt;
  TIFFGetField(tiff, TIFFTAG_IMAGEWIDTH, &width);
  TIFFGetField(tiff, TIFFTAG_IMAGELENGTH, &height);
  TIFFGetFieldDefaulted(tiff, TIFFTAG_FILLORDER, &order);
  CodedImage image;
  image.coding = Coding::kG4;
  image.bitonal = true;
  image.width = static_cast<int>(width);
  image.height = static_cast<int>(height);
  image.bytes.resize(static_cast<size_t>(TIFFRawStripSize(tiff, 0)));
  const auto size = static_cast<tmsize_t>(image.bytes.size());
  if (TIFFReadRawStrip(tiff, 0, image.bytes.data(), size) != size) return std::nullopt;
  if (order == FILLORDER_LSB2MSB) TIFFReverseBits(image.bytes.data(), size);
  return image;
}

std::vector<uint8_t> encode_g4(const Bitonal& picture) {
  listen();
  MemoryFile file;
  Picture whole = picture.clone();
  {
    const TiffFile tiff = open_memory(file, "w");
    describe(tiff.get(), whole, 0);
    write_rows(tiff.get(), whole);
  }
  file.at = 0;
  const TiffFile tiff = open_memory(file, "r");
  std::vector<uint8_t> coded(static_cast<size_t>(TIFFRawStripSize(tiff.get(), 0)));
  if (TIFFReadRawStrip(tiff.get(), 0, coded.data(), static_cast<tmsize_t>(coded.size())) < 0) {
    throw OutputError("the bitonal picture could not be coded: " + last_message);
  }
  return coded;
}

Bitonal decode_g4(const std::vector<uint8_t>& bytes, int width, int height) {
  listen();
  MemoryFile file;
  {
    const TiffFile tiff = open_memory(file, "w");
    TIFFSetField(tiff.get(), TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(width));
    TIFFSetField(tiff.get(), TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(height));
    TIFFSetField(tiff.get(), TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(height));
    TIFFSetField(tiff.get(), TIFFTAG_BITSPERSAMPLE, 1);
    TIFFSetField(tiff.get(), TIFFTAG_SAMPLESPERPIXEL, 1);
    TIFFSetField(tiff.get(), TIFFTAG_COMPRESSION, COMPRESSION_CCITTFAX4);
    TIFFSetField(tiff.get(), TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISWHITE);
    std::vector<uint8_t> copy = bytes;
    if (TIFFWriteRawStrip(tiff.get(), 0, copy.data(), static_cast<tmsize_t>(copy.size())) < 0)
      throw FormatError("the picture's group 4 data cannot be read");
  }
  file.at = 0;
  const TiffFile tiff = open_memory(file, "r");
  TiffRead read;
  if (!tiff || !read_bitonal(tiff.get(), width, height, true, read))
    throw FormatError("the picture's group 4 data cannot be read");
  return std::move(std::get<Bitonal>(read.picture));
}

}  // namespace burnisher
