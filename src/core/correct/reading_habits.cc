#include "correct/reading_habits.h"

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

double ReadingHabits::doubt(const Sight& sight) const {
  double sum = 0;
  for (size_t i = 0; i < kSightSize; ++i) sum += weights[i] * sight[i];
  return 1 / (1 + std::exp(-sum));
}

ReadingHabits read_habits(const std::string& path) {
  const auto bytes = read_file(path);
  ReadingHabits habits;
  try {
    const auto json = nlohmann::json::parse(bytes.begin(), bytes.end());
    for (const auto& row : json.at("misreadings"))
      habits.misreadings.push_back({characters_of(row.at(0)), characters_of(row.at(1)), row.at(2)});
    const auto& weights = json.at("weights");
    if (weights.size() != kSightSize)
      throw FormatError(path + ": has " + std::to_string(weights.size()) + " weights instead of " +
                        std::to_string(kSightSize) + "; learn it anew with this version");
    for (size_t i = 0; i < kSightSize; ++i) habits.weights[i] = weights[i];
    habits.limit = json.at("limit");
    habits.record = json.at("record").get<std::map<std::string, std::string>>();
  } catch (const nlohmann::json::exception& cause) {
    throw FormatError(path + ": no reading habits: " + cause.what());
  }
  return habits;
}

std::string write_habits(const ReadingHabits& habits) {
  nlohmann::json misreadings = nlohmann::json::array();
  for (const Misreading& m : habits.misreadings)
    misreadings.push_back({utf8_of(m.truth), utf8_of(m.read), std::round(100 * m.cost) / 100});
  std::string text = "{\"limit\": " + nlohmann::json(habits.limit).dump() +
                     ",\n\"record\": " + nlohmann::json(habits.record).dump() +
                     ",\n\"weights\": " + nlohmann::json(habits.weights).dump() +
                     ",\n\"misreadings\": [\n";
  for (size_t i = 0; i < misreadings.size(); ++i)
    text += misreadings[i].dump() + (i + 1 < misreadings.size() ? ",\n" : "\n");
  return text + "]}\n";
}

}  // namespace burnisher::correct
