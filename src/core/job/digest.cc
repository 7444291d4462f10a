#include "job/digest.h"

#include <fmt/core.h>
#include <sys/stat.h>
#include <xxhash.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <vector>

#include "base/error.h"

namespace burnisher::job {
namespace {

constexpr size_t kBlock = 1 << 18;  // bytes read at a time

std::string hexadecimal(const XXH128_hash_t& hash) {
  return fmt::format("{:016x}{:016x}", hash.high64, hash.low64);
}

}  // namespace

std::string digest_of(std::string_view bytes) {
  return hexadecimal(XXH3_128bits(bytes.data(), bytes.size()));
}

std::string digest_of_file(const std::string& path) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"),
                                                             std::fclose);
  if (file == nullptr) throw InputError(path + ": " + std::strerror(errno));
  const std::unique_ptr<XXH3_state_t, XXH_errorcode (*)(XXH3_state_t*)> state(XXH3_createState(),
                                                                              XXH3_freeState);
  XXH3_128bits_reset(state.get());
  std::vector<char> block(kBlock);
  for (size_t got; (got = std::fread(block.data(), 1, block.size(), file.get())) > 0;)
    XXH3_128bits_update(state.get(), block.data(), got);
  if (std::ferror(file.get()) != 0)
    throw InputError(path + ": reading stopped with an error: " + std::strerror(errno));
  return hexadecimal(XXH3_128bits_digest(state.get()));
}

FileStamp stamp_of(const std::string& path) {
  struct stat about {};
  if (stat(path.c_str(), &about) != 0 || !S_ISREG(about.st_mode)) return {};
  return {about.st_size, about.st_mtim.tv_sec * 1'000'000'000LL + about.st_mtim.tv_nsec};
}

}  // namespace burnisher::job
