// JSON (RFC 8259) by nlohmann's library. What is costly to compile, reading text and writing it, is
// compiled once, in json.cc.
#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace burnisher {

using Json = nlohmann::json;                 // members by name
using OrderedJson = nlohmann::ordered_json;  // members as they were put in

// Both throw Json::exception where the text is none.
Json parse_json(std::string_view text);
OrderedJson parse_ordered_json(std::string_view text);
// Where it is none, is_discarded() is true of the result.
Json json_or_discarded(std::string_view text);
OrderedJson ordered_json_or_discarded(std::string_view text);

// Of the bytes of a file.
inline std::string_view view_of(const std::vector<uint8_t>& bytes) {
  return {reinterpret_cast<const char*>(bytes.data()), bytes.size()};
}
inline Json parse_json(const std::vector<uint8_t>& bytes) {
  return parse_json(view_of(bytes));
}
inline Json json_or_discarded(const std::vector<uint8_t>& bytes) {
  return json_or_discarded(view_of(bytes));
}
inline OrderedJson ordered_json_or_discarded(const std::vector<uint8_t>& bytes) {
  return ordered_json_or_discarded(view_of(bytes));
}

// `indent`: spaces a level; below 0 all in one line. Bytes that are no UTF-8 are replaced.
std::string json_text(const Json& json, int indent = -1);
std::string json_text(const OrderedJson& json, int indent = -1);

}  // namespace burnisher
