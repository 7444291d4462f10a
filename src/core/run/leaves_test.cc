#include "run/leaves.h"

#include <gtest/gtest.h>

#include "base/files.h"
#include "raster/png.h"
#include "testing/printed_leaf.h"

namespace burnisher::run {
namespace {

using burnisher::testing::printed_leaf;
using burnisher::testing::PrintedLeaf;
using burnisher::testing::TemporaryFolder;

class Leaves : public ::testing::Test {
 protected:
  void put(const std::string& name, const Gray& picture) {
    write_file(folder_.file(name), write_png(Picture(picture.clone()), 200), false);
  }
  ScanList listed(const std::vector<std::string>& names) const {
    std::vector<std::string> paths;
    for (const std::string& name : names) paths.push_back(folder_.file(name));
    ScanList scans = scans_in(paths, "", {});
    set_beside(scans);
    return scans;
  }

  TemporaryFolder folder_;
  const PrintedLeaf leaf_ = printed_leaf(0.25);
};

TEST_F(Leaves, AScanLosesWhatTheOneBeforeOrAfterItLetsThrough) {
  put("1.png", leaf_.front_scan);
  put("2.png", leaf_.back_scan);
  const ScanList scans = listed({"1.png", "2.png"});
  for (size_t i = 0; i < 2; ++i) {
    ASSERT_EQ(scans.tasks[i].beside.size(), 1u);
    const Scan scan = scan_of(scans.tasks[i]);
    ASSERT_EQ(scan.notes.size(), 1u) << i;
    EXPECT_NE(scan.notes[0].find("shone through"), std::string::npos);
    EXPECT_NE(scan.notes[0].find(i == 0 ? "2.png" : "1.png"), std::string::npos);
    EXPECT_NE(std::get<Gray>(scan.picture).samples(),
              (i == 0 ? leaf_.front_scan : leaf_.back_scan).samples());
  }
}

TEST_F(Leaves, ABrokenNeighbourLeavesTheScanAsItIs) {
  put("1.png", leaf_.front_scan);
  put("2.png", leaf_.back_scan);
  const ScanList scans = listed({"1.png", "2.png"});
  const std::vector<uint8_t> bytes = read_file(folder_.file("2.png"));
  write_file(folder_.file("2.png"), {bytes.begin(), bytes.begin() + 60}, true);
  const Scan scan = scan_of(scans.tasks[0]);
  EXPECT_TRUE(scan.notes.empty());
  EXPECT_EQ(std::get<Gray>(scan.picture).samples(), leaf_.front_scan.samples());
}

TEST_F(Leaves, WithoutNeighboursNothingIsTakenOut) {
  put("1.png", leaf_.front_scan);
  ScanList scans = listed({"1.png"});
  EXPECT_TRUE(scans.tasks[0].beside.empty());
  EXPECT_EQ(std::get<Gray>(scan_of(scans.tasks[0]).picture).samples(), leaf_.front_scan.samples());
}

}  // namespace
}  // namespace burnisher::run
