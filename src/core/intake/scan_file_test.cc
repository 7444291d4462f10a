#include "intake/scan_file.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/files.h"
#include "intake/inputs.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

TEST(ScanFile, KindsAreToldByContentNotByName) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("really.tif"), write_png(Picture(Gray(20, 10, 200)), 0));
  const ScanFile file(folder.file("really.tif"), {});
  const Scan scan = file.read(1);
  EXPECT_EQ(width_of(scan.picture), 20);
  EXPECT_EQ(scan.stated_dpi, 0);
}

TEST(ScanFile, ScreenResolutionsAreNotBelieved) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("a.png"), write_png(Picture(Gray(20, 10, 200)), 72));
  EXPECT_EQ(ScanFile(folder.file("a.png"), {}).read(1).stated_dpi, 0);
}

TEST(ScanFile, BadFilesAreNamed) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("empty.png"), "");
  write_file(folder.file("text.tif"), "this is no picture at all");
  write_file(folder.file("broken.pdf"), "%PDF-1.5 and nothing more");
  for (const char* name : {"empty.png", "text.tif", "broken.pdf", "missing.jpg"}) {
    try {
      ScanFile file(folder.file(name), {});
      FAIL() << name;
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(name), std::string::npos);
    }
  }
}

TEST(ScanFile, ACutJpegIsReadAndSaidOrRefusedWhenStrict) {
  burnisher::testing::TemporaryFolder folder;
  Gray busy(600, 600);
  for (size_t i = 0; i < busy.samples().size(); ++i)
    busy.samples()[i] = static_cast<uint8_t>(i * 2654435761u >> 24);
  auto bytes = write_jpeg(busy, 90);
  bytes.resize(bytes.size() / 2);
  write_file(folder.file("cut.jpg"), bytes);
  const Scan scan = ScanFile(folder.file("cut.jpg"), {}).read(1);
  ASSERT_EQ(scan.notes.size(), 1u);
  EXPECT_NE(scan.notes[0].find("end early"), std::string::npos);
  ScanLimits strict;
  strict.strict = true;
  EXPECT_THROW(ScanFile(folder.file("cut.jpg"), strict).read(1), FormatError);
}

TEST(CollectInputs, FoldersGiveTheirPicturesInOrder) {
  burnisher::testing::TemporaryFolder folder;
  for (const char* name : {"b.PNG", "a.tif", "notes.md"}) write_file(folder.file(name), "x");
  const auto files = collect_inputs(folder.path());
  ASSERT_EQ(files.size(), 2u);
  EXPECT_EQ(files[0], folder.file("a.tif"));
  EXPECT_THROW(collect_inputs(folder.file("nowhere")), InputError);
  burnisher::testing::TemporaryFolder bare;
  EXPECT_THROW(collect_inputs(bare.path()), InputError);
}

}  // namespace
}  // namespace burnisher
