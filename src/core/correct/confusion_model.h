// What the recogniser tends to misread, and how far its own certainty can be trusted: learnt from
// rendered lines by `burnisher train --suspects`, kept beside the model as JSON.
#pragma once

#include <array>
#include <map>
#include <string>
#include <vector>

namespace burnisher::correct {

// One or two characters that are read as one or two others, and how unlikely that is.
struct Confusion {
  std::u32string truth, read;
  double cost = 0;  // -ln of its share of all the times `truth` stood there
};

// What is known of a word, in numbers (see features.h), and the weight of each in telling wrong
// words from right ones: logistic regression.
constexpr size_t kFeatures = 19;
using FeatureVector = std::array<double, kFeatures>;

struct ConfusionModel {
  std::vector<Confusion> confusions;
  FeatureVector weights{};
  double limit = 0.5;                         // a word more likely wrong than this is a suspect
  std::map<std::string, std::string> record;  // how they were learnt

  double error_probability(const FeatureVector& features) const;  // 0-1
};

// The learnt confusions that concern letters (or figures that stand for some), and what looks
// alike in print whatever reads it.
std::vector<Confusion> misreadings_of_letters(const ConfusionModel& confusion_model);

// Throws InputError/FormatError naming the file.
ConfusionModel read_confusion_model(const std::string& path);
std::string write_confusion_model(const ConfusionModel& confusion_model);

}  // namespace burnisher::correct
