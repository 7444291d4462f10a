// What tells whether a file or a setting is still what it was: XXH3, 128 bits (Collet 2019). Quick,
// and no guard against forgery.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace burnisher::job {

// 32 hexadecimal digits.
std::string digest_of(std::string_view bytes);
// Of a whole file. Throws InputError.
std::string digest_of_file(const std::string& path);

// What the file system says of a file without reading it. While that stays, so does its digest.
struct FileStamp {
  int64_t size = -1;     // bytes; -1: not there
  int64_t modified = 0;  // nanoseconds

  bool there() const { return size >= 0; }
  bool operator==(const FileStamp& other) const {
    return size == other.size && modified == other.modified;
  }
};
FileStamp stamp_of(const std::string& path);

}  // namespace burnisher::job
