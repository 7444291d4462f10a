#include "intake/own_coding.h"

#include "raster/jpeg2000.h"
#include "raster/tiff.h"

namespace burnisher {
namespace {

int big_endian(const uint8_t* at) {
  return at[0] << 8 | at[1];
}

// The frame of a JPEG (T.81, B.2.2): its size and components. Nothing when it is none a PDF can
// hold as it is.
std::optional<CodedImage> jpeg_as_it_is(std::vector<uint8_t> bytes) {
  if (bytes.size() < 4 || bytes[0] != 0xFF || bytes[1] != 0xD8) return std::nullopt;
  for (size_t at = 2; at + 9 < bytes.size();) {
    if (bytes[at] != 0xFF) return std::nullopt;
    const int marker = bytes[at + 1];
    const bool frame = marker >= 0xC0 && marker <= 0xC2;  // baseline, extended, progressive
    if (!frame) {
      at += 2 + static_cast<size_t>(big_endian(&bytes[at + 2]));
      continue;
    }
    CodedImage image;
    image.height = big_endian(&bytes[at + 5]);
    image.width = big_endian(&bytes[at + 7]);
    image.channels = bytes[at + 9];
    // Inks of four-colour print belong to no screen; such pictures are coded anew.
    if (bytes[at + 4] != 8 || (image.channels != 1 && image.channels != 3)) return std::nullopt;
    image.bytes = std::move(bytes);
    return image;
  }
  return std::nullopt;
}

}  // namespace

std::optional<CodedImage> own_coding(const Source& source, int page) {
  const std::vector<uint8_t> head = source.head(64);
  const bool jpeg = head.size() > 1 && head[0] == 0xFF && head[1] == 0xD8;
  if (jpeg) return jpeg_as_it_is(*source.bytes());
  if (is_jpeg2000(head.data(), head.size())) {
    const auto bytes = source.bytes();
    const Jpeg2000Frame frame = jpeg2000_frame(*bytes);
    if (!frame.boxed) return std::nullopt;
    return CodedImage{Coding::kJpeg2000, frame.channels, false, frame.width,
                      frame.height,      *bytes,         {}};
  }
  const bool tiff = head.size() > 1 && (head[0] == 'I' || head[0] == 'M') && head[0] == head[1];
  return tiff ? single_g4_strip(source, page - 1) : std::nullopt;
}

}  // namespace burnisher
