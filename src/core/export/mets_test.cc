#include "export/mets.h"

#include <gtest/gtest.h>

#include <pugixml.hpp>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;

TEST(Mets, NamesFilesPagesAndHeadings) {
  testing::TemporaryFolder folder;
  write_file(folder.file("log 1.jpg"), std::string("scan"));
  Page first = page_of({line_at({"Oil", "&", "wicks"}, 50, 100)});
  first.blocks[0].kind = BlockKind::kHeading;
  first.blocks[0].level = 2;
  Page second = first;
  second.blocks[0].level = 3;
  exporting::Mets mets({folder.file("a.mets"), false}, {"Log", "J. Dunmore", "en", "1923"},
                       {folder.file("log.pdf")});
  mets.add(first, {folder.file("log 1.jpg"), folder.file("p1.png"), folder.file("p1.xml")}, "xii");
  mets.add(second, {folder.file("log 1.jpg"), "", folder.file("p2.xml")}, "");
  mets.finish();

  pugi::xml_document document;
  ASSERT_TRUE(document.load_file(folder.file("a.mets").c_str()));
  const auto root = document.child("mets");
  const auto scans = root.child("fileSec").find_child_by_attribute("USE", "scan");
  const auto scan = scans.child("file");
  EXPECT_FALSE(scan.next_sibling("file"));  // both pages come from one scan
  EXPECT_STREQ(scan.attribute("MIMETYPE").value(), "image/jpeg");
  EXPECT_EQ(scan.attribute("SIZE").as_int(), 4);
  EXPECT_STREQ(scan.attribute("CHECKSUM").value(), "c4b3b3ae");
  EXPECT_STREQ(scan.child("FLocat").attribute("xlink:href").value(), "log%201.jpg");
  const auto object = root.find_child_by_attribute("structMap", "TYPE", "PHYSICAL").child("div");
  EXPECT_STREQ(object.child("fptr").attribute("FILEID").value(), "document-1");
  const auto page = object.child("div");
  EXPECT_STREQ(page.attribute("ORDERLABEL").value(), "xii");
  EXPECT_STREQ(page.next_sibling("div").attribute("ORDER").value(), "2");
  const auto text = root.find_child_by_attribute("structMap", "TYPE", "LOGICAL").child("div");
  EXPECT_STREQ(text.child("div").attribute("LABEL").value(), "Oil & wicks");
  EXPECT_TRUE(text.child("div").child("div"));  // of the next level
  EXPECT_STREQ(root.child("structLink").last_child().attribute("xlink:to").value(), "leaf-2");
}

TEST(Mets, NothingIsReplaced) {
  testing::TemporaryFolder folder;
  exporting::Mets({folder.file("a.mets"), false}, {}, {}).finish();
  EXPECT_THROW(exporting::Mets({folder.file("a.mets"), false}, {}, {}), OutputError);
}

}  // namespace
}  // namespace burnisher
