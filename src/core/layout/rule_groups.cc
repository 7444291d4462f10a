#include "layout/rule_groups.h"

namespace burnisher::layout {
namespace {

bool is_level(const Component& rule) {
  return rule.width() > rule.height();
}

}  // namespace

std::vector<std::vector<Component>> meeting_rules(const std::vector<Component>& rules, double reach,
                                                  Meeting meeting) {
  std::vector<std::vector<Component>> groups;
  std::vector<bool> seen(rules.size(), false);
  for (size_t i = 0; i < rules.size(); ++i) {
    if (seen[i]) continue;
    seen[i] = true;
    std::vector<Component> group{rules[i]};
    for (size_t g = 0; g < group.size(); ++g) {
      for (size_t k = 0; k < rules.size(); ++k) {
        const Component a = group[g], &b = rules[k];
        const bool touch = a.x0 - reach < b.x1 && b.x0 - reach < a.x1 && a.y0 - reach < b.y1 &&
                           b.y0 - reach < a.y1;
        const bool fit = meeting == Meeting::kAnyWay || is_level(a) != is_level(b);
        if (seen[k] || !touch || !fit) continue;
        seen[k] = true;
        group.push_back(b);
      }
    }
    groups.push_back(std::move(group));
  }
  return groups;
}

}  // namespace burnisher::layout
