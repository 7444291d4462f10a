#include "recognise/numbered_fields.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

using testing::block_of;
using testing::line_at;

TEST(FieldNumber, IsWhatALabelBeginsWith) {
  EXPECT_EQ(field_number("1. Name"), 1);
  EXPECT_EQ(field_number("12) Town or port"), 12);
  for (const char* other :
       {"", "1", "1.", "Name", "1.50 paid", "1905 was", "100. Name", "0. None", "3 lamps", "4. 12"})
    EXPECT_FALSE(field_number(other)) << other;
}

std::string text_of(const Page& page) {
  std::string text;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) text += line.text() + "/";
    text += "|";
  }
  return text;
}

// Two columns of boxes, labels above their entries, read column by column.
Page in_columns() {
  Page page;
  page.blocks = {block_of({line_at("Application for a berth", 100, 50)}),
                 block_of({line_at("1. Name", 100, 100), line_at("VANCE", 100, 130),
                           line_at("3. Town", 100, 200), line_at("Skerrow", 100, 230),
                           line_at("5. Vessel", 100, 300), line_at("Fulmar", 100, 330)}),
                 block_of({line_at("2. First names", 600, 100), line_at("Isidore", 600, 130),
                           line_at("4. Street", 600, 200), line_at("22 Quay", 600, 230)}),
                 block_of({line_at("6. Length", 600, 300), line_at("9 m", 600, 330)}),
                 block_of({line_at("For official use", 100, 500)})};
  return page;
}

TEST(NumberedFields, AreReadInTheOrderOfTheirNumbersEachWithItsEntry) {
  Page page = in_columns();
  EXPECT_TRUE(order_numbered_fields(page));
  EXPECT_EQ(text_of(page),
            "Application for a berth/|1. Name/VANCE/|2. First names/Isidore/|3. Town/Skerrow/|"
            "4. Street/22 Quay/|5. Vessel/Fulmar/|6. Length/9 m/|For official use/|");
  EXPECT_NEAR(bounds(page.blocks[1].outline).x0, 100, 1);
  EXPECT_FALSE(order_numbered_fields(page));  // once is enough
}

TEST(NumberedFields, EntriesBesideTheirLabelsGoWithThem) {
  Page page;
  page.blocks = {block_of({line_at("1. Name", 100, 100), line_at("3. Town", 100, 180),
                           line_at("5. Vessel", 100, 260)}),
                 block_of({line_at("VANCE", 280, 100), line_at("Skerrow", 280, 180),
                           line_at("Fulmar", 280, 260)}),
                 block_of({line_at("2. Given", 600, 100), line_at("4. Quay", 600, 180)}),
                 block_of({line_at("Isidore", 780, 100), line_at("East", 780, 180)})};
  EXPECT_TRUE(order_numbered_fields(page));
  EXPECT_EQ(text_of(page),
            "1. Name/VANCE/|2. Given/Isidore/|3. Town/Skerrow/|4. Quay/East/|5. Vessel/Fulmar/|");
}

TEST(NumberedFields, ALostFullStopAndAFormTakenForATableAreNoMatter) {
  Page page = in_columns();
  page.blocks[1].lines[2] = line_at("3 Town", 100, 200);
  page.blocks[2].lines.push_back(line_at("5 August", 600, 250));  // 5 is another's number
  page.blocks[3] = block_of({line_at("6. Length", 600, 300), line_at("7. Year", 900, 300),
                             line_at("9 m", 600, 330), line_at("1954", 900, 330)});
  page.blocks[3].kind = BlockKind::kTable;
  EXPECT_TRUE(order_numbered_fields(page));
  EXPECT_EQ(text_of(page),
            "Application for a berth/|1. Name/VANCE/|2. First names/Isidore/|3 Town/Skerrow/|"
            "4. Street/22 Quay/5 August/|5. Vessel/Fulmar/|6. Length/9 m/|7. Year/1954/|"
            "For official use/|");
}

TEST(NumberedFields, ListsInColumnsStayAsTheyAre) {
  Page page;
  page.blocks = {block_of({line_at("1. Trim", 100, 100), line_at("2. Wind", 100, 180),
                           line_at("3. Oil", 100, 260)}),
                 block_of({line_at("4. Log", 600, 100), line_at("5. Flag", 600, 180),
                           line_at("6. Lamp", 600, 260)})};
  const std::string before = text_of(page);
  EXPECT_FALSE(order_numbered_fields(page));
  EXPECT_EQ(text_of(page), before);
}

TEST(NumberedFields, AFewNumbersOrTablesAreNoForm) {
  Page few = in_columns();
  few.blocks.erase(few.blocks.begin() + 1);
  EXPECT_FALSE(order_numbered_fields(few));
  Page table = in_columns();
  for (Block& block : table.blocks) block.kind = BlockKind::kTable;
  EXPECT_FALSE(order_numbered_fields(table));
}

}  // namespace
}  // namespace burnisher::recognise
