// Files in and out. A result is written under a temporary name in the same folder, flushed to the
// disk and renamed, so that a kill or a full disk leaves what stood there before.
#pragma once

#include <cstdint>
#include <cstdio>
#include <string>
#include <string_view>
#include <vector>

namespace burnisher {

// Throws InputError naming the path and the cause.
std::vector<uint8_t> read_file(const std::string& path);

// Throws OutputError. `overwrite` false: an existing file is left alone and an error is thrown.
void write_file(const std::string& path, std::string_view bytes, bool overwrite = true);
void write_file(const std::string& path, const std::vector<uint8_t>& bytes, bool overwrite = true);

// Throws OutputError when there is a file of that name and `overwrite` is false: what cannot be
// written is to be known before the work, not after.
void check_target(const std::string& path, bool overwrite);

// Where bytes go: a file, or memory that has a name.
class Sink {
 public:
  Sink(std::string path, bool overwrite) : name_(std::move(path)), overwrite_(overwrite) {}
  // `bytes` gets the result when it is complete; it must live until then.
  Sink(std::string name, std::string& bytes)
      : name_(std::move(name)), overwrite_(true), bytes_(&bytes) {}

  const std::string& name() const { return name_; }  // of files, the path
  bool overwrite() const { return overwrite_; }
  std::string* bytes() const { return bytes_; }  // null: a file

 private:
  std::string name_;
  bool overwrite_;
  std::string* bytes_ = nullptr;
};

// A file being written under a temporary name; `keep()` puts it in place. Without `keep()` it is
// removed.
class PendingFile {
 public:
  explicit PendingFile(const Sink& sink);
  PendingFile(const std::string& path, bool overwrite) : PendingFile(Sink(path, overwrite)) {}
  ~PendingFile();
  PendingFile(const PendingFile&) = delete;
  PendingFile& operator=(const PendingFile&) = delete;

  const std::string& temporary_path() const { return temporary_; }
  std::FILE* stream() { return stream_; }
  void write(std::string_view bytes);
  void keep();

 private:
  [[noreturn]] void fail(const std::string& what);

  Sink sink_;
  std::string temporary_;  // what goes to memory waits in a file of the system's temporary folder
  std::FILE* stream_ = nullptr;
};

// Where `path` lies as seen from `folder`, with slashes; "" where no such way can be told.
std::string relative_path(const std::string& path, const std::string& folder);

// File name without folders and ending.
std::string stem_of(const std::string& path);

// A number of bytes as people say it: "512 bytes", "84 KB", "1.7 MB".
std::string bytes_text(size_t bytes);

}  // namespace burnisher
