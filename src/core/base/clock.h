// The time of day, for records and logs.
#pragma once

#include <string>

namespace burnisher {

// UTC by ISO 8601, to the millisecond: "1904-06-30T12:00:00.250Z".
std::string utc_now();

}  // namespace burnisher
