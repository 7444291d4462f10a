#include "correct/confusion_model.h"

#include <cmath>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"

namespace burnisher::correct {
namespace {

// What print makes alike, whatever recogniser reads it; where learnt costs are lower, they count.
struct Alike {
  const char32_t *truth, *read;
};
constexpr Alike kAlike[] = {
    {U"m", U"rn"}, {U"m", U"in"}, {U"m", U"ni"}, {U"m", U"nn"}, {U"rn", U"m"}, {U"in", U"m"},
    {U"d", U"cl"}, {U"cl", U"d"}, {U"d", U"ci"}, {U"h", U"li"}, {U"h", U"b"},  {U"b", U"h"},
    {U"h", U"n"},  {U"n", U"h"},  {U"n", U"u"},  {U"u", U"n"},  {U"n", U"ri"}, {U"w", U"vv"},
    {U"w", U"m"},  {U"u", U"ii"}, {U"u", U"v"},  {U"v", U"u"},  {U"e", U"c"},  {U"c", U"e"},
    {U"e", U"o"},  {U"o", U"e"},  {U"o", U"c"},  {U"c", U"o"},  {U"a", U"o"},  {U"a", U"e"},
    {U"a", U"u"},  {U"t", U"c"},  {U"t", U"r"},  {U"t", U"f"},  {U"f", U"t"},  {U"f", U"ſ"},
    {U"s", U"f"},  {U"l", U"i"},  {U"i", U"l"},  {U"l", U"1"},  {U"l", U"I"},  {U"I", U"l"},
    {U"i", U"1"},  {U"o", U"0"},  {U"O", U"0"},  {U"s", U"5"},  {U"S", U"5"},  {U"b", U"6"},
    {U"B", U"8"},  {U"g", U"9"},  {U"z", U"2"},  {U"ct", U"é"}, {U"fi", U"f"}, {U"fl", U"f"},
    {U"ff", U"f"}, {U"li", U"h"}, {U"y", U"v"},  {U"r", U"t"},  {U"", U"i"},   {U"", U"l"}};
constexpr double kAlikeCost = 6;  // -ln of a change that looks alike but was never counted

bool all_letters(const std::u32string& text) {
  return std::all_of(text.begin(), text.end(), is_letter);
}

}  // namespace

std::vector<Confusion> misreadings_of_letters(const ConfusionModel& confusion_model) {
  std::vector<Confusion> list;
  for (const Confusion& m : confusion_model.confusions) {
    if (all_letters(m.truth) && (all_letters(m.read) || !m.truth.empty())) list.push_back(m);
  }
  for (const Alike& alike : kAlike) {
    const bool learnt = std::any_of(list.begin(), list.end(), [&](const Confusion& m) {
      return m.truth == alike.truth && m.read == alike.read;
    });
    if (!learnt) list.push_back({alike.truth, alike.read, kAlikeCost});
  }
  return list;
}

double ConfusionModel::error_probability(const FeatureVector& features) const {
  double sum = 0;
  for (size_t i = 0; i < kFeatures; ++i) sum += weights[i] * features[i];
  return 1 / (1 + std::exp(-sum));
}

ConfusionModel read_confusion_model(const std::string& path) {
  const auto bytes = read_file(path);
  ConfusionModel confusion_model;
  try {
    const auto json = parse_json(bytes);
    for (const auto& row : json.at("confusions"))
      confusion_model.confusions.push_back({utf32_of(row.at(0).get<std::string>()),
                                            utf32_of(row.at(1).get<std::string>()), row.at(2)});
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
  std::string text = "{\"limit\": " + json_text(nlohmann::json(confusion_model.limit)) +
                     ",\n\"record\": " + json_text(nlohmann::json(confusion_model.record)) +
                     ",\n\"weights\": " + json_text(nlohmann::json(confusion_model.weights)) +
                     ",\n\"confusions\": [\n";
  for (size_t i = 0; i < confusions.size(); ++i)
    text += json_text(confusions[i]) + (i + 1 < confusions.size() ? ",\n" : "\n");
  return text + "]}\n";
}

}  // namespace burnisher::correct
