#include <algorithm>
#include "base/json.h"

#include "base/error.h"
#include "layout/page_network.h"

namespace burnisher::layout {
namespace {

using neural::ConvShape;
using nlohmann::json;

const char* const kFormat = "burnisher-page-model-1";

}  // namespace

const std::array<const char*, kPageMaps> kPageMapNames = {
    "core", "baseline", "end",   "border",   "picture", "table",
    "rule", "mark",     "paper", "axis-cos", "axis-sin"};

std::vector<ConvShape> page_layers(const PagePlan& plan) {
  const auto sensible = [](const std::vector<int>& values, int most) {
    return std::all_of(values.begin(), values.end(), [&](int v) { return v > 0 && v <= most; });
  };
  if (plan.channels.size() != 4 || plan.dilations.empty() || !sensible(plan.channels, 1024) ||
      !sensible(plan.dilations, 64))
    throw SettingsError("a page network has four widths (to 1024) and some dilations (to 64)");
  std::vector<ConvShape> layers;
  const auto add = [&](const std::string& name, int out) -> ConvShape& {
    ConvShape layer;
    layer.name = name;
    layer.in = layers.empty() ? 1 : layers.back().out;
    layer.out = out;
    // One page is a batch of its own, and pages differ: running statistics of all would suit none.
    // Channels are not normalised one by one: what is the same all over a page, such as signs of
    // text that stands on its head, would be taken away.
    layer.norm_group = out % 4 == 0 ? 4 : out % 2 == 0 ? 2 : 1;
    layers.push_back(layer);
    return layers.back();
  };
  const auto shrink = [&](const std::string& name, int out) {
    ConvShape& layer = add(name, out);
    layer.stride_h = layer.stride_w = 2;
  };
  const auto look = [&](const std::string& name, int dilation) {
    ConvShape& layer = add(name, layers.back().out);
    layer.dilation_h = layer.dilation_w = layer.pad_h = dilation;
    layer.residual = true;
  };
  const auto widen = [&](const std::string& name, int out, size_t skip) {
    ConvShape& layer = add(name, out);
    layer.doubled = true;
    layer.skip = static_cast<int>(skip);
  };
  const std::vector<int>& c = plan.channels;
  shrink("half", c[0]);
  shrink("quarter", c[1]);
  look("quarter-in", 1);
  const size_t quarter = layers.size() - 1;
  shrink("eighth", c[2]);
  look("eighth-in", 1);
  const size_t eighth = layers.size() - 1;
  shrink("sixteenth", c[3]);
  for (size_t i = 0; i < plan.dilations.size(); ++i)
    look("context" + std::to_string(i + 1), plan.dilations[i]);
  widen("to-eighth", c[2], eighth);
  look("eighth-out", 1);
  widen("to-quarter", c[1], quarter);
  look("quarter-out", 1);
  ConvShape& head = add("head", kPageMaps);
  head.kernel_h = head.kernel_w = 1;
  head.pad_h = 0;
  head.normalised = false;
  return layers;
}

PageModel read_page_model(const std::string& path) {
  neural::TensorFile file = neural::read_tensor_file(path);
  try {
    if (file.metadata["format"] != kFormat)
      throw FormatError("it is a tensor file, but no page model");
    PageModel model;
    const json shape = parse_json(file.metadata.at("network"));
    model.plan.channels = shape.at("channels").get<std::vector<int>>();
    model.plan.dilations = shape.at("dilations").get<std::vector<int>>();
    model.tensors = std::move(file.tensors);
    for (const char* own : {"format", "network"}) file.metadata.erase(own);
    model.record = std::move(file.metadata);
    neural::check_tensors(page_layers(model.plan), model.tensors);
    return model;
  } catch (const std::exception& cause) {
    throw FormatError(path + ": no usable page model: " + cause.what());
  }
}

void write_page_model(const std::string& path, const PageModel& model) {
  neural::TensorFile file;
  file.tensors = model.tensors;
  file.metadata = model.record;
  file.metadata["format"] = kFormat;
  file.metadata["network"] =
      json_text(json{{"channels", model.plan.channels}, {"dilations", model.plan.dilations}});
  neural::write_tensor_file(path, file, true);
}

}  // namespace burnisher::layout
