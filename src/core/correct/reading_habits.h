// What the recogniser tends to misread, and how far its own certainty can be trusted: learnt from
// rendered lines by `burnisher train --suspects`, kept beside the model as JSON.
#pragma once

#include <array>
#include <map>
#include <string>
#include <vector>

namespace burnisher::correct {

// One or two characters that are read as one or two others, and how unlikely that is.
struct Misreading {
  std::u32string truth, read;
  double cost = 0;  // -ln of its share of all the times `truth` stood there
};

// What is known of a word, in numbers (see sight.h), and the weight of each in telling wrong words
// from right ones: logistic regression.
constexpr size_t kSightSize = 19;
using Sight = std::array<double, kSightSize>;

struct ReadingHabits {
  std::vector<Misreading> misreadings;
  Sight weights{};
  double limit = 0.5;                         // a word more likely wrong than this is a suspect
  std::map<std::string, std::string> record;  // how they were learnt

  double doubt(const Sight& sight) const;  // 0-1
};

// Throws InputError/FormatError naming the file.
ReadingHabits read_habits(const std::string& path);
std::string write_habits(const ReadingHabits& habits);

}  // namespace burnisher::correct
