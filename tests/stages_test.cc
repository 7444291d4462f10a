// The stages one by one against the whole way in one go, on the demo scans.
#include <gtest/gtest.h>

#include <filesystem>
#include <regex>

#include "base/files.h"
#include "program.h"
#include "raster/png.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using testing::TemporaryFolder;

std::vector<std::string> demo_scans() {
  std::vector<std::string> names;
  for (const auto& entry : fs::directory_iterator(BURNISHER_DEMO_SCANS)) {
    const std::string ending = entry.path().extension();
    if (ending != ".txt" && ending != ".md") names.push_back(entry.path().filename());
  }
  std::sort(names.begin(), names.end());
  return names;
}

// PAGE XML without the names of the picture and of the way to the scan, which differ by folder.
std::string without_places(const std::string& xml) {
  static const std::regex places("imageFilename=\"[^\"]*\"| relative:[^;]*;");
  return std::regex_replace(xml, places, "");
}

std::vector<std::string> xml_in(const std::string& folder) {
  std::vector<std::string> files;
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (entry.path().extension() == ".xml") files.push_back(entry.path());
  }
  std::sort(files.begin(), files.end());
  return files;
}

class Stages : public ::testing::TestWithParam<std::string> {};

TEST_P(Stages, OneByOneGiveTheSameTextAndPageXmlToTheByte) {
  const std::string scan = std::string(BURNISHER_DEMO_SCANS) + "/" + GetParam();
  TemporaryFolder folder;
  const Outcome whole = in(folder, "$B run " + scan + " --out whole.txt --job job --lang en");
  ASSERT_LE(whole.code, 1) << whole.err;
  const Outcome stages =
      in(folder,
         "$B clean " + scan +
             " --out-dir pages && $B segment pages/*.png --out-dir layout && "
             "$B recognise pages/*.png --layout layout --out-dir read --lang en && "
             "for f in read/*.xml; do $B correct $f --out-dir checked --lang en || exit 9; done && "
             "$B export checked/*.xml --images pages --out stages.txt --lang en");
  ASSERT_EQ(stages.code, 0) << stages.err;
  EXPECT_EQ(content_of(folder.file("stages.txt")), content_of(folder.file("whole.txt")));
  const auto of_job = xml_in(folder.file("job")), of_stages = xml_in(folder.file("checked"));
  ASSERT_EQ(of_job.size(), of_stages.size());
  for (size_t i = 0; i < of_job.size(); ++i) {
    EXPECT_EQ(without_places(content_of(of_job[i])), without_places(content_of(of_stages[i])))
        << of_stages[i];
  }
}

INSTANTIATE_TEST_SUITE_P(OfTheDemo, Stages, ::testing::ValuesIn(demo_scans()),
                         [](const auto& scan) {
                           return std::regex_replace(scan.param, std::regex("[^A-Za-z0-9]"), "_");
                         });

// A page picture that somebody changed is taken as it is now.
TEST(StagesByHand, APictureThatWasPaintedOnIsReadAsItIs) {
  TemporaryFolder folder;
  log_page(folder, "log.png", 1.5);
  ASSERT_EQ(in(folder, "$B clean log.png --out-dir pages").code, 0);
  testing::PrintedPage other(1000, 400);
  other.print({"Another page altogether", 60, 200, 50});
  write_file(folder.file("pages/log.png"), write_png(other.picture(), 300));
  const Outcome o = in(folder,
                       "$B recognise pages/log.png --out-dir read --lang en && "
                       "$B export read/log.xml --images pages --out log.txt");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(content_of(folder.file("log.txt")), "Another page altogether"));
}

}  // namespace
}  // namespace burnisher::tests
