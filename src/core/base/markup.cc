#include "base/markup.h"

#include "base/unicode.h"

namespace burnisher {

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : sound_utf8(text)) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else
      out += c;
  }
  return out;
}

}  // namespace burnisher
