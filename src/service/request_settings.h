// Settings that may come from outside: some options of `run`, none of which is a path.
#pragma once

#include <string>
#include <vector>

namespace burnisher::service {

// {"lang": "en,de", "even": true, "field": ["box=7"]} as arguments. "": none. Throws HttpProblem
// (422) for what is not allowed, with what is.
std::vector<std::string> arguments_of(const std::string& json);

// Those of them that say what documents are to be like, which `export` knows too.
std::vector<std::string> delivery_arguments(const std::vector<std::string>& arguments);

// The names that are allowed, for the description of the interface.
std::vector<std::string> allowed_settings();

}  // namespace burnisher::service
