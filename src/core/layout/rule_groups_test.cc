#include "layout/rule_groups.h"

#include <gtest/gtest.h>

namespace burnisher::layout {
namespace {

Component rule(int x0, int y0, int x1, int y1) {
  return {x0, y0, x1, y1, (x1 - x0) * (y1 - y0)};
}

TEST(MeetingRules, GroupThroughOthersAndLeaveTheRestAlone) {
  const std::vector<Component> rules = {rule(0, 0, 100, 3), rule(98, 0, 101, 200),
                                        rule(103, 199, 300, 202), rule(0, 500, 100, 503)};
  const auto groups = meeting_rules(rules, 5, Meeting::kAnyWay);
  ASSERT_EQ(groups.size(), 2u);
  EXPECT_EQ(groups[0].size(), 3u);
  EXPECT_EQ(groups[1].size(), 1u);
  EXPECT_EQ(meeting_rules(rules, 1, Meeting::kAnyWay).size(), 3u);
}

TEST(MeetingRules, PiecesOfOneRuleMeetOnlyWhenAnyWayCounts) {
  const std::vector<Component> pieces = {rule(0, 0, 100, 3), rule(102, 0, 200, 3)};
  EXPECT_EQ(meeting_rules(pieces, 5, Meeting::kAnyWay).size(), 1u);
  EXPECT_EQ(meeting_rules(pieces, 5, Meeting::kCrosswise).size(), 2u);
}

}  // namespace
}  // namespace burnisher::layout
