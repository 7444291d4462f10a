#include "neural/tensor_file.h"

#include <Eigen/Core>
#include <algorithm>
#include <cstring>
#include <filesystem>

#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/parallel.h"

namespace burnisher::neural {
namespace {

using nlohmann::json;

constexpr size_t kLongestHeader = 16 << 20;  // bytes
constexpr float kLargestHalf = 65504;        // finite half float

size_t count_of(const std::vector<int>& shape) {
  size_t count = 1;
  for (int n : shape) count *= static_cast<size_t>(n);
  return count;
}

Tensor read_tensor(const json& entry, const uint8_t* data, size_t size) {
  Tensor tensor;
  tensor.shape = entry.at("shape").get<std::vector<int>>();
  for (int n : tensor.shape) {
    if (n < 0 || n > 1 << 24) throw FormatError("a tensor has an absurd shape");
  }
  const size_t begin = entry.at("data_offsets").at(0), end = entry.at("data_offsets").at(1);
  const std::string type = entry.at("dtype");
  const size_t width = type == "F16" ? 2 : type == "F32" ? 4 : 0;
  const size_t count = count_of(tensor.shape);
  if (width == 0) throw FormatError("tensor type " + type + " (F16 and F32 are understood)");
  if (begin > end || end > size || end - begin != count * width) {
    throw FormatError("the tensors end early");
  }
  tensor.values.resize(count);
  if (width == 4) {
    std::memcpy(tensor.values.data(), data + begin, 4 * count);
    return tensor;
  }
  std::vector<Eigen::half> halves(count);
  std::memcpy(halves.data(), data + begin, 2 * count);
  std::copy(halves.begin(), halves.end(), tensor.values.begin());
  return tensor;
}

constexpr int kMostParts = 99;

std::string part_of(const std::string& path, int number) {
  std::filesystem::path part = path;
  const std::string ending = part.extension();
  return part.replace_extension().string() + "." + std::to_string(number) + ending;
}

// How many parts the file says that it has, and nothing of that in its metadata any more.
int parts_in(TensorFile& file) {
  const auto found = file.metadata.find("parts");
  if (found == file.metadata.end()) return 1;
  const int parts = std::atoi(found->second.c_str());
  if (parts < 1 || parts > kMostParts) throw FormatError("it cannot have so many parts");
  file.metadata.erase(found);
  return parts;
}

// Further tensors, or further rows of those that are there.
void append(TensorFile&& part, TensorFile& file) {
  for (auto& [name, tensor] : part.tensors) {
    Tensor& whole = file.tensors[name];
    if (whole.shape.empty()) {
      whole = std::move(tensor);
      continue;
    }
    if (whole.shape.size() != tensor.shape.size() ||
        !std::equal(whole.shape.begin() + 1, whole.shape.end(), tensor.shape.begin() + 1))
      throw FormatError("the parts of " + name + " do not fit together");
    whole.shape[0] += tensor.shape[0];
    whole.values.insert(whole.values.end(), tensor.values.begin(), tensor.values.end());
  }
}

TensorFile read_part(const std::string& path) {
  const std::vector<uint8_t> bytes = read_file(path);
  try {
    uint64_t length = 0;
    if (bytes.size() < 8) throw FormatError("the file is too short");
    std::memcpy(&length, bytes.data(), 8);
    if (length > kLongestHeader || length > bytes.size() - 8) {
      throw FormatError("the header ends early");
    }
    const char* text = reinterpret_cast<const char*>(bytes.data()) + 8;
    const json header = parse_json(std::string_view(text, length));
    TensorFile file;
    std::vector<std::pair<const json*, Tensor*>> tensors;
    for (const auto& [name, entry] : header.items()) {
      if (name == "__metadata__")
        file.metadata = entry.get<std::map<std::string, std::string>>();
      else
        tensors.emplace_back(&entry, &file.tensors[name]);
    }
    parallel_each(static_cast<int>(tensors.size()), [&](int i) {
      const auto& [entry, tensor] = tensors[static_cast<size_t>(i)];
      *tensor = read_tensor(*entry, bytes.data() + 8 + length, bytes.size() - 8 - length);
    });
    return file;
  } catch (const json::exception& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  } catch (const FormatError& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  }
}

}  // namespace

TensorFile read_tensor_file(const std::string& path) {
  TensorFile file = read_part(path);
  try {
    const int parts = parts_in(file);
    for (int number = 2; number <= parts; ++number) append(read_part(part_of(path, number)), file);
  } catch (const FormatError& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  }
  return file;
}

std::vector<std::string> parts_of(const std::string& path) {
  std::vector<std::string> files = {path};
  std::error_code failed;
  for (int number = 2; std::filesystem::exists(part_of(path, number), failed); ++number)
    files.push_back(part_of(path, number));
  return files;
}

void write_tensor_file(const std::string& path, const TensorFile& file, bool half) {
  json header;
  header["__metadata__"] = file.metadata;
  std::string data;
  for (const auto& [name, tensor] : file.tensors) {
    const bool small = half && tensor.shape.size() >= 2;
    const size_t begin = data.size();
    for (float v : tensor.values) {
      char raw[4];
      // Beyond the range is the largest finite value.
      const Eigen::half h(std::clamp(v, -kLargestHalf, kLargestHalf));
      if (small)
        std::memcpy(raw, &h, 2);
      else
        std::memcpy(raw, &v, 4);
      data.append(raw, small ? 2 : 4);
    }
    header[name] = {{"dtype", small ? "F16" : "F32"},
                    {"shape", tensor.shape},
                    {"data_offsets", {begin, data.size()}}};
  }
  std::string text = json_text(header);
  text.resize((text.size() + 7) / 8 * 8, ' ');  // the layout wants the tensors aligned
  const uint64_t length = text.size();
  std::string whole(reinterpret_cast<const char*>(&length), 8);
  write_file(path, whole + text + data);
}

}  // namespace burnisher::neural
