// The model file's container: safetensors (an open layout: eight bytes little-endian header length,
// a JSON header with name, type, shape and place of every tensor and a table of strings, then the
// raw tensors). F32 and F16 are understood. A large file may come in parts: where the metadata of
// NAME.safetensors say "parts": "3", NAME.2.safetensors and NAME.3.safetensors hold the rest, and a
// tensor that stands in several parts goes on with further rows (scripts/part-model cuts one).
#pragma once

#include <map>
#include <string>
#include <vector>

namespace burnisher::neural {

struct Tensor {
  std::vector<int> shape;
  std::vector<float> values;  // row-major
};

struct TensorFile {
  std::map<std::string, Tensor> tensors;
  std::map<std::string, std::string> metadata;
};

// With all its parts. Throws InputError/FormatError naming the file.
TensorFile read_tensor_file(const std::string& path);

// Itself, and the other parts that lie beside it.
std::vector<std::string> parts_of(const std::string& path);

// In one part. `half`: tensors of two and more dimensions are stored as F16, half the size.
void write_tensor_file(const std::string& path, const TensorFile& file, bool half);

}  // namespace burnisher::neural
