// Where bytes come from: a file, or memory that has a name.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace burnisher {

class Source {
 public:
  Source(std::string path) : name_(std::move(path)) {}  // every path is one
  Source(const char* path) : name_(path) {}
  Source(std::string name, std::vector<uint8_t> bytes)
      : name_(std::move(name)),
        bytes_(std::make_shared<const std::vector<uint8_t>>(std::move(bytes))) {}

  // For messages and results; of files, the path.
  const std::string& name() const { return name_; }
  bool in_memory() const { return bytes_ != nullptr; }
  // Throws InputError naming it.
  std::shared_ptr<const std::vector<uint8_t>> bytes() const;
  // The first `count` bytes at most.
  std::vector<uint8_t> head(size_t count) const;

 private:
  std::string name_;
  std::shared_ptr<const std::vector<uint8_t>> bytes_;
};

}  // namespace burnisher
