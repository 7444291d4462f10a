#include "report/html.h"

#include <fmt/core.h>

#include <cctype>

#include "base/base64.h"
#include "raster/jpeg.h"
#include "raster/png.h"

namespace burnisher::report {

std::string html_page(const std::string& title, const std::string& style, const std::string& body) {
  return fmt::format(
      "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n"
      "<meta name=\"viewport\" content=\"width=device-width\">\n<title>{}</title>\n<style>\n"
      "body {{ font: 15px/1.45 'DejaVu Sans', Verdana, sans-serif; margin: 1.5rem; color: #222; "
      "background: #faf9f6; }}\nh1 {{ font-size: 1.35rem; font-weight: 600; }}\n"
      "img {{ display: block; max-width: 100%; }}\n{}</style>\n</head>\n<body>\n{}</body>\n"
      "</html>\n",
      escaped(title), style, body);
}

std::string address_of(const std::string& path) {
  std::string address;
  for (const char c : path) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain = std::isalnum(byte) || std::string("-_./~").find(c) != std::string::npos;
    address += plain ? std::string(1, c) : fmt::format("%{:02X}", byte);
  }
  return address;
}

std::string within_script(const std::string& json) {
  std::string safe;
  for (const char c : json) safe += c == '<' ? std::string("\\u003c") : std::string(1, c);
  return safe;
}

std::string html_picture(const Picture& picture, const std::string& alt) {
  std::vector<uint8_t> bytes = write_png(picture, 0);
  const char* type = "png";
  if (const auto* gray = std::get_if<Gray>(&picture)) {
    std::vector<uint8_t> jpeg = write_jpeg(*gray, 72);
    if (2 * jpeg.size() < bytes.size()) {
      bytes = std::move(jpeg);
      type = "jpeg";
    }
  }
  return fmt::format("<img src=\"data:image/{};base64,{}\" width=\"{}\" height=\"{}\" alt=\"{}\">",
                     type, base64(bytes), width_of(picture), height_of(picture), escaped(alt));
}

}  // namespace burnisher::report
