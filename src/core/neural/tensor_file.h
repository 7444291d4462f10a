// The model file's container: safetensors (an open layout: eight bytes little-endian header length,
// a JSON header with name, type, shape and place of every tensor and a table of strings, then the
// raw tensors). F32 and F16 are understood.
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

// Throws InputError/FormatError naming the file.
TensorFile read_tensor_file(const std::string& path);

// `half`: tensors of two and more dimensions are stored as F16, half the size.
void write_tensor_file(const std::string& path, const TensorFile& file, bool half);

}  // namespace burnisher::neural
