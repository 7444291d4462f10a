// What goes over the wire, as text.
#pragma once

#include <httplib.h>

#include <string>
#include <vector>
#include "base/json.h"

namespace burnisher::service {

std::string dumped(const nlohmann::ordered_json& all);

// The media type of a result by its ending, as in ".pdf".
std::string type_of(const std::string& ending);

// A body as it came, whatever its type is said to be: the library would take no more than 8 KB of
// what a careless client sends as a form. `parts`: gets those of multipart/form-data; may be null.
// Throws HttpProblem.
std::string body_of(const httplib::Request& request, const httplib::ContentReader& reader,
                    std::vector<httplib::MultipartFormData>* parts = nullptr);

// Messages of the program without what means nothing outside: folders of the store, options of the
// command line.
std::string as_seen_outside(std::string text, const std::string& folder);

}  // namespace burnisher::service
