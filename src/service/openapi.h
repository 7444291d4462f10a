// The interface described for programs: OpenAPI 3.
#pragma once

#include <string>

namespace burnisher::service {

std::string openapi_json();

}  // namespace burnisher::service
