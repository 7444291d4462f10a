#include "export/spreadsheet.h"

#include <gtest/gtest.h>

namespace burnisher::exporting {
namespace {

TEST(NumberIn, TakesWhatCanOnlyBeANumber) {
  const struct {
    const char* text;
    double value;
  } cases[] = {{"582", 582},           {"4.85", 4.85}, {"1,234.50", 1234.5},
               {"1.234,50", 1234.5},   {"-12", -12},   {"−7.5", -7.5},
               {"1,234,567", 1234567}, {"0.5", 0.5},   {"12,5", 12.5}};
  for (const auto& c : cases) {
    ASSERT_TRUE(number_in(c.text).has_value()) << c.text;
    EXPECT_DOUBLE_EQ(*number_in(c.text), c.value) << c.text;
  }
}

TEST(NumberIn, LeavesEverythingElseAsText) {
  EXPECT_FALSE(exporting::number_in(std::string(400, '1')).has_value());
  for (const char* text : {"007", "3/4", "03.04.", "1,234", "1.234", "12 m", "", "-", "1.2.3",
                           "12.03.1887", "I2", "1e5", "+"})
    EXPECT_FALSE(number_in(text).has_value()) << text;
}

TEST(Csv, QuotesWhatNeedsIt) {
  Block table;
  const char* texts[] = {"Line, 24 mm", "the \"Reef\"", "plain"};
  for (int i = 0; i < 3; ++i) {
    Line line;
    line.words.push_back({texts[i], {}, 1, {}});
    table.lines.push_back(line);
    Cell cell;
    cell.column = i;
    cell.lines = {i};
    table.cells.push_back(cell);
  }
  EXPECT_EQ(csv_of(table), "\"Line, 24 mm\",\"the \"\"Reef\"\"\",plain\r\n");
}

}  // namespace
}  // namespace burnisher::exporting
