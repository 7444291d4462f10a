#include "correct/confusion_model.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"

namespace burnisher::correct {
namespace {

std::u32string characters_of(const std::string& text) {
  const std::vector<char32_t> list = decode_utf8(text);
  return {list.begin(), list.end()};
}

std::string utf8_of(const std::u32string& text) {
  return encode_utf8(std::vector<char32_t>(text.begin(), text.end()));
}

}  // namespace

double ConfusionModel::error_probability(const FeatureVector& features) const {
  double sum = 0;
  for (size_t i = 0; i < kFeatures; ++i) sum += weights[i] * features[i];
  return 1 / (1 + std::exp(-sum));
}

ConfusionModel read_confusion_model(const std::string& path) {
  const auto bytes = read_file(path);
  ConfusionModel confusion_model;
  try {
    const auto json = nlohmann::json::parse(bytes.begin(), bytes.end());
    for (const auto& row : json.at("confusions"))
      confusion_model.confusions.push_back(
          {characters_of(row.at(0)), characters_of(row.at(1)), row.at(2)});
    const auto& weights = json.at("weights");
    if (weights.size() != kFeatures)
      throw FormatError(path + ": has " + std::to_string(weights.size()) + " weights instead of " +
                        std::to_string(kFeatures) + "; learn it anew with this version");
    for (size_t i = 0; i < kFeatures; ++i) confusion_model.weights[i] = weights[i];
    confusion_model.limit = json.at("limit");
    confusion_model.record = json.at("record").get<std::map<std::string, std::string>>();
  } catch (const nlohmann::json::exception& cause) {
    throw FormatError(path + ": no reading confusion_model: " + cause.what());
  }
  return confusion_model;
}

std::string write_confusion_model(const ConfusionModel& confusion_model) {
  nlohmann::json confusions = nlohmann::json::array();
  for (const Confusion& m : confusion_model.confusions)
    confusions.push_back({utf8_of(m.truth), utf8_of(m.read), std::round(100 * m.cost) / 100});
  std::string text = "{\"limit\": " + nlohmann::json(confusion_model.limit).dump() +
                     ",\n\"record\": " + nlohmann::json(confusion_model.record).dump() +
                     ",\n\"weights\": " + nlohmann::json(confusion_model.weights).dump() +
                     ",\n\"confusions\": [\n";
  for (size_t i = 0; i < confusions.size(); ++i)
    text += confusions[i].dump() + (i + 1 < confusions.size() ? ",\n" : "\n");
  return text + "]}\n";
}

}  // namespace burnisher::correct
