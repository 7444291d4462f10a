#include "base/markup.h"

namespace burnisher {

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else if (static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t')
      out += c;
  }
  return out;
}

}  // namespace burnisher
