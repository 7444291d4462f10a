// A picture in the bytes of its coding, as files hold it.
#pragma once

#include <cstdint>
#include <vector>

namespace burnisher {

// JPEG (ITU-T T.81), JPEG 2000 (T.800), CCITT group 4 (T.6), JBIG2 (T.88) as PDF embeds it, and
// rows of plain samples, deflated (RFC 1950).
enum class Coding { kJpeg, kJpeg2000, kG4, kJbig2, kDeflate };

struct CodedImage {
  Coding coding = Coding::kJpeg;
  int channels = 1;  // 1 gray, 3 sRGB; ignored for bitonal ones
  bool bitonal = false;
  int width = 0, height = 0;
  std::vector<uint8_t> bytes;
  std::vector<uint8_t> globals;  // of JBIG2: what the picture shares with those of other pages
};

}  // namespace burnisher
