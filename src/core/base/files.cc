#include "base/files.h"

#include <fmt/core.h>

#include <sys/stat.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <cstring>
#include <filesystem>

#include "base/error.h"

namespace burnisher {
namespace {

std::string temporary_name(const std::string& path) {
  static std::atomic<int> counter{0};
  return path + ".part-" + std::to_string(getpid()) + "-" + std::to_string(counter++);
}

}  // namespace

std::vector<uint8_t> read_file(const std::string& path) {
  std::error_code status;
  if (std::filesystem::is_directory(path, status)) {
    throw InputError(path + ": is a folder, not a file");
  }
  std::FILE* stream = std::fopen(path.c_str(), "rb");
  if (stream == nullptr) throw InputError(path + ": " + std::strerror(errno));
  std::vector<uint8_t> bytes;
  const auto size = std::filesystem::file_size(path, status);
  if (!status) bytes.reserve(static_cast<size_t>(size));
  uint8_t block[65536];
  for (size_t got; (got = std::fread(block, 1, sizeof block, stream)) > 0;) {
    bytes.insert(bytes.end(), block, block + got);
  }
  const bool failed = std::ferror(stream) != 0;
  std::fclose(stream);
  if (failed) throw InputError(path + ": reading stopped with an error: " + std::strerror(errno));
  return bytes;
}

PendingFile::PendingFile(const std::string& path, bool overwrite)
    : path_(path), temporary_(temporary_name(path)), overwrite_(overwrite) {
  std::error_code status;
  if (!overwrite && std::filesystem::exists(path, status)) {
    throw OutputError(path + ": is there already and was left alone (--overwrite replaces it)");
  }
  stream_ = std::fopen(temporary_.c_str(), "wb+");
  if (stream_ == nullptr) throw OutputError(path + ": cannot be written: " + std::strerror(errno));
}

PendingFile::~PendingFile() {
  if (stream_ == nullptr) return;
  std::fclose(stream_);
  unlink(temporary_.c_str());
}

void PendingFile::fail(const std::string& what) {
  throw OutputError(path_ + ": " + what + ": " + std::strerror(errno));
}

void PendingFile::write(std::string_view bytes) {
  if (bytes.empty()) return;  // a view of nothing may point nowhere
  if (std::fwrite(bytes.data(), 1, bytes.size(), stream_) != bytes.size()) {
    fail("writing stopped");
  }
}

void PendingFile::keep() {
  if (std::fflush(stream_) != 0 || fsync(fileno(stream_)) != 0) fail("writing stopped");
  std::FILE* stream = stream_;
  stream_ = nullptr;
  if (std::fclose(stream) != 0) {
    unlink(temporary_.c_str());
    fail("writing stopped");
  }
  // link() fails when the name was taken meanwhile, rename() would replace it silently.
  const bool placed = overwrite_ ? rename(temporary_.c_str(), path_.c_str()) == 0
                                 : link(temporary_.c_str(), path_.c_str()) == 0;
  const int cause = errno;
  if (!placed || !overwrite_) unlink(temporary_.c_str());
  errno = cause;
  if (!placed) fail("cannot be put in place");
}

void write_file(const std::string& path, std::string_view bytes, bool overwrite) {
  PendingFile file(path, overwrite);
  file.write(bytes);
  file.keep();
}

void write_file(const std::string& path, const std::vector<uint8_t>& bytes, bool overwrite) {
  write_file(path, {reinterpret_cast<const char*>(bytes.data()), bytes.size()}, overwrite);
}

std::string bytes_text(size_t bytes) {
  if (bytes < 1000) return fmt::format("{} bytes", bytes);
  if (bytes < 1000000) return fmt::format("{} KB", (bytes + 500) / 1000);
  return fmt::format("{:.1f} MB", static_cast<double>(bytes) / 1e6);
}

}  // namespace burnisher
