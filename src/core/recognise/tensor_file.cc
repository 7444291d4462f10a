#include "recognise/tensor_file.h"

#include <cmath>
#include <cstring>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::recognise {
namespace {

using nlohmann::json;

constexpr size_t kLongestHeader = 16 << 20;

float from_half(uint16_t half) {
  const int exponent = (half >> 10) & 31, fraction = half & 1023;
  const float sign = (half & 0x8000) ? -1.f : 1.f;
  if (exponent == 0) return sign * std::ldexp(static_cast<float>(fraction), -24);
  if (exponent == 31) return fraction ? NAN : sign * INFINITY;
  return sign * std::ldexp(static_cast<float>(1024 + fraction), exponent - 25);
}

// Rounds to the nearest; beyond the range is the largest finite value.
uint16_t to_half(float value) {
  const uint16_t sign = std::signbit(value) ? 0x8000 : 0;
  const float size = std::min(std::fabs(value), 65504.f);
  if (!(size > 0)) return sign;
  int exponent;
  std::frexp(size, &exponent);  // size = m * 2^exponent, m in [0.5, 1)
  const int shift = std::max(exponent, -13);
  const auto steps = static_cast<int>(std::nearbyint(std::ldexp(size, 11 - shift)));
  // `steps` counts units of 2^(shift-11); 1024 of them are the hidden bit.
  return static_cast<uint16_t>(sign | (steps + ((shift + 13) << 10)));
}

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
  for (size_t i = 0; i < count; ++i) {
    const uint8_t* from = data + begin + i * width;
    if (width == 2) {
      tensor.values[i] = from_half(static_cast<uint16_t>(from[0] | from[1] << 8));
    } else {
      std::memcpy(&tensor.values[i], from, 4);
    }
  }
  return tensor;
}

}  // namespace

TensorFile read_tensor_file(const std::string& path) {
  const std::vector<uint8_t> bytes = read_file(path);
  try {
    uint64_t length = 0;
    if (bytes.size() < 8) throw FormatError("the file is too short");
    std::memcpy(&length, bytes.data(), 8);
    if (length > kLongestHeader || length > bytes.size() - 8) {
      throw FormatError("the header ends early");
    }
    const char* text = reinterpret_cast<const char*>(bytes.data()) + 8;
    const json header = json::parse(text, text + length);
    TensorFile file;
    for (const auto& [name, entry] : header.items()) {
      if (name == "__metadata__") {
        file.metadata = entry.get<std::map<std::string, std::string>>();
      } else {
        file.tensors[name] =
            read_tensor(entry, bytes.data() + 8 + length, bytes.size() - 8 - length);
      }
    }
    return file;
  } catch (const json::exception& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  } catch (const FormatError& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  }
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
      const uint16_t h = to_half(v);
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
  std::string text = header.dump();
  text.resize((text.size() + 7) / 8 * 8, ' ');  // the layout wants the tensors aligned
  const uint64_t length = text.size();
  std::string whole(reinterpret_cast<const char*>(&length), 8);
  write_file(path, whole + text + data);
}

}  // namespace burnisher::recognise
