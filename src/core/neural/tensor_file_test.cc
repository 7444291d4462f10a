#include "neural/tensor_file.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher::neural {
namespace {

using testing::TemporaryFolder;

TEST(TensorFile, RoundTripFullAndHalf) {
  TemporaryFolder folder;
  TensorFile file;
  file.tensors["m"] = {{2, 3}, {0.f, 1.5f, -2.25f, 65504.f, 6e-8f, 1e-3f}};
  file.tensors["v"] = {{2}, {0.1f, -7.3e-5f}};
  file.metadata["note"] = "Skerrow — a \"model\"";
  write_tensor_file(folder.file("a"), file, false);
  const TensorFile full = read_tensor_file(folder.file("a"));
  EXPECT_EQ(full.tensors.at("m").values, file.tensors["m"].values);
  EXPECT_EQ(full.metadata.at("note"), file.metadata["note"]);
  write_tensor_file(folder.file("b"), file, true);
  const TensorFile half = read_tensor_file(folder.file("b"));
  EXPECT_EQ(half.tensors.at("v").values, file.tensors["v"].values);  // vectors stay exact
  for (size_t i = 0; i < 6; ++i) {
    const float wanted = file.tensors["m"].values[i];
    EXPECT_NEAR(half.tensors.at("m").values[i], wanted, std::fabs(wanted) / 2048 + 3e-8);
  }
}

TEST(TensorFile, PartsAreReadAsOneFile) {
  TemporaryFolder folder;
  TensorFile first, second;
  first.tensors["rows"] = {{2, 2}, {1, 2, 3, 4}};
  first.metadata = {{"parts", "2"}, {"note", "Skerrow"}};
  second.tensors["rows"] = {{1, 2}, {5, 6}};
  second.tensors["more"] = {{1}, {7}};
  const std::string path = folder.file("net.safetensors");
  write_tensor_file(path, first, false);
  EXPECT_THROW(read_tensor_file(path), InputError);  // the second is missing
  write_tensor_file(folder.file("net.2.safetensors"), second, false);
  const TensorFile whole = read_tensor_file(path);
  EXPECT_EQ(whole.tensors.at("rows").shape, (std::vector<int>{3, 2}));
  EXPECT_EQ(whole.tensors.at("rows").values, (std::vector<float>{1, 2, 3, 4, 5, 6}));
  EXPECT_EQ(whole.tensors.at("more").values, std::vector<float>{7});
  EXPECT_EQ(whole.metadata, (std::map<std::string, std::string>{{"note", "Skerrow"}}));
  EXPECT_EQ(parts_of(path).size(), 2u);
  second.tensors["rows"] = {{1, 3}, {5, 6, 7}};
  write_tensor_file(folder.file("net.2.safetensors"), second, false);
  EXPECT_THROW(read_tensor_file(path), FormatError);
  first.metadata["parts"] = "1000";
  write_tensor_file(path, first, false);
  EXPECT_THROW(read_tensor_file(path), FormatError);
}

TEST(TensorFile, DamageIsRefusedWithTheFilesName) {
  TemporaryFolder folder;
  TensorFile file;
  file.tensors["m"] = {{4, 4}, std::vector<float>(16, 1.f)};
  write_tensor_file(folder.file("good"), file, false);
  const auto good = read_file(folder.file("good"));
  const auto expect_refused = [&](std::vector<uint8_t> bytes) {
    write_file(folder.file("bad"), bytes);
    try {
      read_tensor_file(folder.file("bad"));
      ADD_FAILURE() << "accepted " << bytes.size() << " bytes";
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find("bad"), std::string::npos);
    }
  };
  for (size_t size : {size_t{0}, size_t{7}, size_t{30}, good.size() - 1}) {
    expect_refused({good.begin(), good.begin() + static_cast<long>(size)});
  }
  auto wild = good;
  wild[3] = 0xff;  // a header length far beyond the file
  expect_refused(wild);
}

}  // namespace
}  // namespace burnisher::neural
