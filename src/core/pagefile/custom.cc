#include "pagefile/custom.h"

#include <fmt/core.h>

#include <cmath>
#include <cstring>

#include "base/error.h"
#include "base/numbers.h"
#include "base/unicode.h"

namespace burnisher {
namespace {

std::string trimmed(const std::string& text) {
  const auto first = text.find_first_not_of(" \t\r\n"), last = text.find_last_not_of(" \t\r\n");
  return first == std::string::npos ? "" : text.substr(first, last - first + 1);
}

int hex_digit(char c) {
  if (c >= '0' && c <= '9') return c - '0';
  if (c >= 'A' && c <= 'F') return c - 'A' + 10;
  if (c >= 'a' && c <= 'f') return c - 'a' + 10;
  return -1;
}

std::string unescaped(const std::string& value) {
  std::string text;
  for (size_t i = 0; i < value.size(); ++i) {
    const int high = value[i] == '%' && i + 2 < value.size() ? hex_digit(value[i + 1]) : -1;
    const int low = high >= 0 ? hex_digit(value[i + 2]) : -1;
    if (low >= 0) {
      text += static_cast<char>(16 * high + low);
      i += 2;
    } else {
      text += value[i];
    }
  }
  return text;
}

std::string escaped(const std::string& text) {
  std::string out;
  const auto escape = [&](char c) {
    out += fmt::format("%{:02X}", static_cast<unsigned>(static_cast<unsigned char>(c)));
  };
  for (size_t i = 0; i < text.size();) {
    const size_t length = utf8_length_at(text, i);
    if (length == 0) {
      escape(text[i++]);
      continue;
    }
    // Spaces at the ends would be taken for room round the value.
    const bool edge = text[i] == ' ' && (i == 0 || i + 1 == text.size());
    if (length == 1 && (static_cast<unsigned char>(text[i]) < 0x20 || text[i] == 0x7F || edge ||
                        std::strchr("%;{}", text[i]) != nullptr))
      escape(text[i]);
    else
      out += text.substr(i, length);
    i += length;
  }
  return out;
}

}  // namespace

Custom::Custom(const std::string& attribute) {
  for (size_t at = 0; at < attribute.size();) {
    const size_t open = attribute.find('{', at);
    const size_t close = open == std::string::npos ? open : attribute.find('}', open);
    if (close == std::string::npos) return;
    auto& values = entries_[trimmed(attribute.substr(at, open - at))];
    for (size_t from = open + 1; from < close;) {
      const size_t end = std::min(attribute.find(';', from), close);
      const size_t colon = attribute.find(':', from);
      if (colon < end) {
        values[trimmed(attribute.substr(from, colon - from))] =
            unescaped(trimmed(attribute.substr(colon + 1, end - colon - 1)));
      }
      from = end + 1;
    }
    at = close + 1;
  }
}

const std::string* Custom::find(const std::string& name, const std::string& key) const {
  const auto entry = entries_.find(name);
  if (entry == entries_.end()) return nullptr;
  const auto value = entry->second.find(key);
  return value == entry->second.end() ? nullptr : &value->second;
}

std::string Custom::text(const std::string& name, const std::string& key) const {
  const std::string* value = find(name, key);
  return value == nullptr ? "" : *value;
}

std::vector<std::pair<std::string, std::string>> Custom::all(const std::string& name) const {
  const auto entry = entries_.find(name);
  if (entry == entries_.end()) return {};
  return {entry->second.begin(), entry->second.end()};
}

std::optional<double> Custom::number(const std::string& name, const std::string& key) const {
  const std::string* value = find(name, key);
  if (value == nullptr) return std::nullopt;
  const std::optional<double> number = number_in(*value);
  if (!number || std::fabs(*number) > kLargestNumber)
    throw FormatError(fmt::format("{} of \"{}\" makes no sense as {}", name, key, *value));
  return number;
}

std::string custom_entry(const std::string& name,
                         const std::vector<std::pair<std::string, std::string>>& values) {
  std::string entry = name + " {";
  for (size_t i = 0; i < values.size(); ++i)
    entry += (i > 0 ? " " : "") + values[i].first + ":" + escaped(values[i].second) + ";";
  return entry + "}";
}

std::string exact(double value) {
  return fmt::format("{}", value);
}
std::string exact(float value) {
  return fmt::format("{}", value);
}

}  // namespace burnisher
