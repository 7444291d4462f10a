// Printed rules: lines of tables and forms, boxes, underlines, ruled paper.
#pragma once

#include <vector>

#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::clean {

// What becomes of rules.
enum class Rules {
  kKeep,    // they stay, also for reading
  kUnread,  // layout and reading don't see them; the delivered pictures keep them
  kRemove,  // they go from the delivered pictures, too
};

struct FoundRules {
  std::vector<Component> list;  // boxes; upright ones are higher than wide
  Bitonal pixels;               // what of them can go without eating letters
};

// Long runs of ink of even, small thickness, level or upright, straight or with a slow drift. Their
// pixels are those whose run across the rule is hardly longer than the rule is thick: where a
// letter crosses, the run is longer and stays.
FoundRules rules_of(const Bitonal& ink, double text_height);

}  // namespace burnisher::clean
