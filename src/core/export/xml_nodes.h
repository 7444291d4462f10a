// XML documents put together node by node (pugixml), so that what comes out is sound whatever the
// text is.
#pragma once

#include <initializer_list>
#include <pugixml.hpp>
#include <sstream>
#include <string>
#include <utility>

#include "base/unicode.h"

namespace burnisher::exporting {

using Attributes = std::initializer_list<std::pair<const char*, std::string>>;

// A new last child of `parent` with these attributes and this text.
inline pugi::xml_node add_node(pugi::xml_node parent, const char* name, Attributes attributes = {},
                               const std::string& text = "") {
  auto node = parent.append_child(name);
  for (const auto& [key, value] : attributes)
    node.append_attribute(key) = sound_utf8(value).c_str();
  if (!text.empty()) node.append_child(pugi::node_pcdata).set_value(sound_utf8(text).c_str());
  return node;
}

// Text behind what is in the node already.
inline void add_text(pugi::xml_node node, const std::string& text) {
  if (!text.empty()) node.append_child(pugi::node_pcdata).set_value(sound_utf8(text).c_str());
}

// A document begun with its declaration.
inline void begin_xml(pugi::xml_document& document) {
  auto declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
}

inline std::string saved(const pugi::xml_document& document) {
  std::ostringstream out;
  document.save(out, "", pugi::format_raw, pugi::encoding_utf8);
  return out.str();
}

}  // namespace burnisher::exporting
