#include "base/files.h"

#include <fmt/core.h>

#include <fcntl.h>
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

// Gives the file its name. Without `overwrite`, a name that was taken meanwhile is left alone: the
// kernel sees to that where the file system can rename so (2) or has hard links; on others the gap
// between looking and renaming stays open. False with errno set.
bool put_in_place(const std::string& from, const std::string& to, bool overwrite) {
  if (overwrite) return rename(from.c_str(), to.c_str()) == 0;
  if (renameat2(AT_FDCWD, from.c_str(), AT_FDCWD, to.c_str(), RENAME_NOREPLACE) == 0) return true;
  if (errno == EEXIST) return false;
  if (link(from.c_str(), to.c_str()) == 0) {
    unlink(from.c_str());
    return true;
  }
  if (errno == EEXIST) return false;
  std::error_code status;
  if (std::filesystem::exists(to, status)) {
    errno = EEXIST;
    return false;
  }
  return rename(from.c_str(), to.c_str()) == 0;
}

}  // namespace

void check_target(const std::string& path, bool overwrite) {
  std::error_code status;
  if (!overwrite && std::filesystem::exists(path, status))
    throw OutputError(path + ": is there already and was left alone", ErrorCode::kTargetExists);
}

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

PendingFile::PendingFile(const Sink& sink)
    : sink_(sink),
      temporary_(
          temporary_name(sink.bytes() == nullptr
                             ? sink.name()
                             : (std::filesystem::temp_directory_path() / "burnisher").string())) {
  if (sink.bytes() == nullptr) check_target(sink.name(), sink.overwrite());
  stream_ = std::fopen(temporary_.c_str(), "wb+");
  if (stream_ == nullptr)
    throw OutputError(sink.name() + ": cannot be written: " + std::strerror(errno));
}

PendingFile::~PendingFile() {
  if (stream_ == nullptr) return;
  std::fclose(stream_);
  unlink(temporary_.c_str());
}

void PendingFile::fail(const std::string& what) {
  throw OutputError(sink_.name() + ": " + what + ": " + std::strerror(errno));
}

void PendingFile::write(std::string_view bytes) {
  if (bytes.empty()) return;  // a view of nothing may point nowhere
  if (std::fwrite(bytes.data(), 1, bytes.size(), stream_) != bytes.size()) {
    fail("writing stopped");
  }
}

void PendingFile::keep() {
  // Others write on the stream, too, and don't all tell when that fails: it is remembered there.
  if (std::fflush(stream_) != 0 || std::ferror(stream_) != 0 || fsync(fileno(stream_)) != 0)
    fail("writing stopped");
  std::FILE* stream = stream_;
  stream_ = nullptr;
  if (std::fclose(stream) != 0) {
    unlink(temporary_.c_str());
    fail("writing stopped");
  }
  if (sink_.bytes() != nullptr) {
    const std::vector<uint8_t> bytes = read_file(temporary_);
    unlink(temporary_.c_str());
    sink_.bytes()->assign(bytes.begin(), bytes.end());
    return;
  }
  if (!put_in_place(temporary_, sink_.name(), sink_.overwrite())) {
    const int cause = errno;
    unlink(temporary_.c_str());
    errno = cause;
    fail("cannot be put in place");
  }
}

void write_file(const std::string& path, std::string_view bytes, bool overwrite) {
  PendingFile file(path, overwrite);
  file.write(bytes);
  file.keep();
}

void write_file(const std::string& path, const std::vector<uint8_t>& bytes, bool overwrite) {
  write_file(path, {reinterpret_cast<const char*>(bytes.data()), bytes.size()}, overwrite);
}

std::string relative_path(const std::string& path, const std::string& folder) {
  std::error_code status;
  const auto from = std::filesystem::absolute(folder, status).lexically_normal();
  const auto to = std::filesystem::absolute(path, status).lexically_normal();
  return status ? "" : to.lexically_relative(from).generic_string();
}

std::string stem_of(const std::string& path) {
  return std::filesystem::path(path).stem();
}

std::string bytes_text(size_t bytes) {
  if (bytes < 1000) return fmt::format("{} bytes", bytes);
  if (bytes < 1000000) return fmt::format("{} KB", (bytes + 500) / 1000);
  return fmt::format("{:.1f} MB", static_cast<double>(bytes) / 1e6);
}

}  // namespace burnisher
