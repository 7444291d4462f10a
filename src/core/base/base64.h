// Bytes as text, for pictures inside HTML (RFC 4648).
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace burnisher {

std::string base64(const std::vector<uint8_t>& bytes);

}  // namespace burnisher
