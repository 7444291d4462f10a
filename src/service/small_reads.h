// Small pictures read in the process itself, with networks that stay loaded.
#pragma once

#include <memory>
#include <string>

#include "run/run.h"

namespace burnisher::service {

class SmallReads {
 public:
  // `settings`: with bundles and the page network's file. Opens them; throws what that throws.
  explicit SmallReads(const run::RunSettings& settings);
  ~SmallReads();

  // {"text", "confidence", "width", "height", "lines": [{"text", "box", "words": [{"text", "box",
  // "confidence"}]}]}; boxes are [x, y, width, height] in pixels of the picture. Safe to call from
  // many threads. Throws InputError/FormatError.
  std::string read(const std::string& bytes) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::service
