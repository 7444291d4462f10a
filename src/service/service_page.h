// The page of the service for a person: drop a scan, see how it goes, take the result. It loads
// nothing but itself.
#pragma once

namespace burnisher::service {

extern const char* const kServicePage;

}  // namespace burnisher::service
