#include "base/source.h"

#include <algorithm>
#include <cstdio>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"

namespace burnisher {

std::shared_ptr<const std::vector<uint8_t>> Source::bytes() const {
  return bytes_ ? bytes_ : std::make_shared<const std::vector<uint8_t>>(read_file(name_));
}

std::vector<uint8_t> Source::head(size_t count) const {
  if (bytes_) {
    const size_t size = std::min(count, bytes_->size());
    return {bytes_->begin(), bytes_->begin() + static_cast<long>(size)};
  }
  std::error_code status;
  if (!std::filesystem::exists(name_, status)) throw InputError(name_ + ": there is no such file");
  if (std::filesystem::is_directory(name_, status))
    throw InputError(name_ + ": is a folder, not a file");
  std::FILE* stream = std::fopen(name_.c_str(), "rb");
  if (stream == nullptr) throw InputError(name_ + ": cannot be opened; check its permissions");
  std::vector<uint8_t> bytes(count);
  bytes.resize(std::fread(bytes.data(), 1, count, stream));
  std::fclose(stream);
  return bytes;
}

}  // namespace burnisher
