#include "base/base64.h"

namespace burnisher {

std::string base64(const std::vector<uint8_t>& bytes) {
  static const char kSigns[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string text;
  text.reserve((bytes.size() + 2) / 3 * 4);
  for (size_t i = 0; i < bytes.size(); i += 3) {
    uint32_t three = static_cast<uint32_t>(bytes[i]) << 16;
    if (i + 1 < bytes.size()) three |= static_cast<uint32_t>(bytes[i + 1]) << 8;
    if (i + 2 < bytes.size()) three |= bytes[i + 2];
    text += kSigns[three >> 18];
    text += kSigns[three >> 12 & 63];
    text += i + 1 < bytes.size() ? kSigns[three >> 6 & 63] : '=';
    text += i + 2 < bytes.size() ? kSigns[three & 63] : '=';
  }
  return text;
}

}  // namespace burnisher
