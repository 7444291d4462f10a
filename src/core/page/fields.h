// Descriptive fields of a document beyond its title, author, date and language.
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace burnisher {

// Names and values. Names are elements of Dublin Core 1.1 (ISO 15836), such as "publisher".
using DescriptiveFields = std::vector<std::pair<std::string, std::string>>;

// Whether Dublin Core has an element of that name.
bool is_dublin_core(const std::string& name);

}  // namespace burnisher
