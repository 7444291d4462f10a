#include "recognise/model.h"

#include <sstream>
#include "base/json.h"

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

using nlohmann::json;

const char* const kFormat = "burnisher-model-1";

}  // namespace

std::vector<ConvShape> chain(const NetworkPlan& plan, int height, int classes) {
  std::vector<ConvShape> layers;
  const auto add = [&](const std::string& name, int out) -> ConvShape& {
    ConvShape layer;
    layer.name = name;
    layer.in = layers.empty() ? 1 : layers.back().out;
    layer.out = out;
    layers.push_back(layer);
    return layers.back();
  };
  for (size_t i = 0; i < plan.stem.size(); ++i) {
    ConvShape& layer = add("stem" + std::to_string(i + 1), plan.stem[i]);
    layer.stride_h = 2;
    layer.stride_w = i < 2 ? 2 : 1;
    height = (height + 1) / 2;
  }
  ConvShape& collapse = add("collapse", plan.context);
  collapse.kernel_h = height;
  collapse.pad_h = 0;
  for (size_t i = 0; i < plan.dilations.size(); ++i) {
    ConvShape& layer = add("context" + std::to_string(i + 1), plan.context);
    layer.kernel_h = 1;
    layer.pad_h = 0;
    layer.dilation_w = plan.dilations[i];
    layer.residual = true;
  }
  ConvShape& head = add("head", classes);
  head.kernel_h = head.kernel_w = 1;
  head.pad_h = 0;
  head.normalised = false;
  return layers;
}

namespace {

void check_scripts(const Model& model) {
  const size_t scripts = model.scripts().size();
  if (scripts == 0) return;
  const auto size_of = [&](const char* name) {
    const auto found = model.tensors.find(name);
    return found == model.tensors.end() ? 0 : found->second.values.size();
  };
  if (size_of("scripts.weight") != (scripts + 1) * static_cast<size_t>(model.plan.context) ||
      size_of("scripts.bias") != scripts + 1)
    throw FormatError("what tells its scripts apart does not fit the network");
}

}  // namespace

std::vector<std::string> Model::scripts() const {
  std::vector<std::string> codes;
  const auto found = record.find("scripts");
  std::istringstream list(found == record.end() ? "" : found->second);
  for (std::string code; std::getline(list, code, ',');) codes.push_back(code);
  return codes;
}

Symbols Model::symbols() const {
  Symbols symbols;
  const auto found = record.find("symbols");
  if (found == record.end()) return symbols;
  const json table = parse_json(found->second);
  for (const auto& [symbol, text] : table.items()) {
    const std::vector<char32_t> character = decode_utf8(symbol);
    std::vector<char32_t> characters = decode_utf8(text.get<std::string>());
    if (character.size() != 1 || characters.empty() || alphabet.class_of(character[0]) == 0)
      throw FormatError("its symbols make no sense");
    symbols[character[0]] = std::move(characters);
  }
  return symbols;
}

void Model::set_symbols(const Symbols& symbols) {
  json table = json::object();
  for (const auto& [symbol, text] : symbols) table[encode_utf8(symbol)] = encode_utf8(text);
  if (table.empty())
    record.erase("symbols");
  else
    record["symbols"] = json_text(table);
}

Model read_model(const std::string& path) {
  neural::TensorFile file = neural::read_tensor_file(path);
  try {
    if (file.metadata["format"] != kFormat) {
      throw FormatError("it is a tensor file, but no Burnisher model");
    }
    Model model;
    const json shape = parse_json(file.metadata.at("network"));
    model.plan.stem = shape.at("stem").get<std::vector<int>>();
    model.plan.context = shape.at("context");
    model.plan.dilations = shape.at("dilations").get<std::vector<int>>();
    const json frame = parse_json(file.metadata.at("frame"));
    model.frame.height = frame.at("height");
    model.frame.x_height = frame.at("x_height");
    model.frame.baseline = frame.at("baseline");
    model.alphabet = Alphabet(file.metadata.at("alphabet"));
    if (model.plan.stem.size() < 2 || model.frame.height < 8 || model.frame.height > 512) {
      throw FormatError("the network's shape makes no sense");
    }
    model.layers = chain(model.plan, model.frame.height, model.alphabet.class_count());
    model.tensors = std::move(file.tensors);
    for (const char* own : {"format", "network", "frame", "alphabet"}) file.metadata.erase(own);
    model.record = std::move(file.metadata);
    neural::check_tensors(model.layers, model.tensors);
    check_scripts(model);
    model.symbols();
    return model;
  } catch (const std::exception& cause) {
    throw FormatError(path + ": no usable model file: " + cause.what());
  }
}

void write_model(const std::string& path, const Model& model, bool half) {
  neural::TensorFile file;
  file.tensors = model.tensors;
  file.metadata = model.record;
  file.metadata["format"] = kFormat;
  file.metadata["network"] = json_text(json{{"stem", model.plan.stem},
                                            {"context", model.plan.context},
                                            {"dilations", model.plan.dilations}});
  file.metadata["frame"] = json_text(json{{"height", model.frame.height},
                                          {"x_height", model.frame.x_height},
                                          {"baseline", model.frame.baseline}});
  file.metadata["alphabet"] = model.alphabet.utf8();
  neural::write_tensor_file(path, file, half);
}

}  // namespace burnisher::recognise
