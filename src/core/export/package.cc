#include "export/package.h"

#include <zip.h>

#include "base/error.h"

namespace burnisher::exporting {
namespace {

constexpr uint16_t kTime = 0, kDate = 1 << 5 | 1;  // 1 January 1980, every time the same

[[noreturn]] void fail() {
  throw OutputError("the document cannot be put together; is memory short?");
}

std::string bytes_of(zip_source_t* source) {
  zip_stat_t size;
  std::string bytes;
  if (zip_source_stat(source, &size) == 0 && zip_source_open(source) == 0) {
    bytes.resize(size.size);
    if (zip_source_read(source, bytes.data(), size.size) != static_cast<zip_int64_t>(size.size))
      bytes.clear();
    zip_source_close(source);
  }
  if (bytes.empty()) fail();
  return bytes;
}

}  // namespace

Package::Package(const std::string& kind) {
  add_as_it_is("mimetype", kind);
}

void Package::add(const std::string& name, std::string content) {
  entries_.push_back({name, std::move(content), false});
}

void Package::add_as_it_is(const std::string& name, std::string content) {
  entries_.push_back({name, std::move(content), true});
}

std::string Package::bytes() const {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* memory = zip_source_buffer_create(nullptr, 0, 0, &error);
  zip_t* zip = memory == nullptr ? nullptr : zip_open_from_source(memory, ZIP_TRUNCATE, &error);
  if (zip == nullptr) fail();
  zip_source_keep(memory);
  bool good = true;
  for (const Entry& entry : entries_) {
    zip_source_t* source = zip_source_buffer(zip, entry.content.data(), entry.content.size(), 0);
    const zip_int64_t at = zip_file_add(zip, entry.name.c_str(), source, ZIP_FL_ENC_GUESS);
    good = good && at >= 0;
    if (at < 0) break;
    const auto index = static_cast<zip_uint64_t>(at);
    zip_set_file_compression(zip, index, entry.stored ? ZIP_CM_STORE : ZIP_CM_DEFLATE, 0);
    zip_file_set_dostime(zip, index, kTime, kDate, 0);
  }
  if (!good || zip_close(zip) != 0) {
    zip_discard(zip);
    zip_source_free(memory);
    fail();
  }
  std::string result = bytes_of(memory);
  zip_source_free(memory);
  return result;
}

}  // namespace burnisher::exporting
