#include "base/json.h"

namespace burnisher {

Json parse_json(std::string_view text) {
  return Json::parse(text.begin(), text.end());
}

OrderedJson parse_ordered_json(std::string_view text) {
  return OrderedJson::parse(text.begin(), text.end());
}

Json json_or_discarded(std::string_view text) {
  return Json::parse(text.begin(), text.end(), nullptr, false);
}

OrderedJson ordered_json_or_discarded(std::string_view text) {
  return OrderedJson::parse(text.begin(), text.end(), nullptr, false);
}

std::string json_text(const Json& json, int indent) {
  return json.dump(indent, ' ', false, Json::error_handler_t::replace);
}

std::string json_text(const OrderedJson& json, int indent) {
  return json.dump(indent, ' ', false, OrderedJson::error_handler_t::replace);
}

}  // namespace burnisher
