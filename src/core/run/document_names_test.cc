#include "run/document_names.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher::run {
namespace {

TEST(DocumentNames, FollowThePatternAndTheKinds) {
  RunSettings settings;
  settings.output_folder = "done";
  settings.kinds = {OutputKind::kPdf, OutputKind::kText};
  settings.delivery.name = "{box}-{stem}";
  EXPECT_FALSE(joined(settings));
  const WantedDocuments wanted = wanted_documents(settings, {"a.tif", "a", {{"box", "7"}}, 1});
  ASSERT_EQ(wanted.size(), 2u);
  EXPECT_EQ(wanted[0].second, "done/7-a.pdf");
  EXPECT_EQ(wanted[1].second, "done/7-a.txt");
  settings.outputs = {"all.pdf", "all.epub"};
  EXPECT_TRUE(joined(settings));
  EXPECT_EQ(wanted_documents(settings, {"", "all", {}, 1})[1].second, "all.epub");
}

TEST(DocumentNames, ThatTwoWouldHaveAreRefused) {
  RunSettings settings;
  settings.output_folder = "done";
  settings.kinds = {OutputKind::kPdf};
  ScanList scans;
  scans.files = {"here/a.tif", "there/b.tif"};
  EXPECT_NO_THROW(keep_names_apart(settings, scans));
  scans.files.push_back("there/a.png");
  EXPECT_THROW(keep_names_apart(settings, scans), SettingsError);
  // Parts of a batch are told apart by what they will be called.
  scans.split = true;
  scans.documents = {{"x-1", "x-1", {{"box", "7"}}, 1}, {"x-2", "x-2", {{"box", "7"}}, 2}};
  settings.delivery.name = "{box}-{n}";
  EXPECT_NO_THROW(keep_names_apart(settings, scans));
  settings.delivery.name = "{box}";
  EXPECT_THROW(keep_names_apart(settings, scans), SettingsError);
}

}  // namespace
}  // namespace burnisher::run
