// The page for people who go through what waits: a list, and a document opened from it. It loads
// nothing but itself and what the service has of the document.
#pragma once

namespace burnisher::service {

extern const char* const kWaitingPage;

}  // namespace burnisher::service
