#include <gtest/gtest.h>

#include "base/error.h"
#include "run/checks.h"
#include "run/run.h"

namespace burnisher::run {
namespace {

Page page_of_words(double confidence, double network_confidence) {
  Line line;
  line.words = {{"clear", {50, 60, 140, 98}, confidence, {}, network_confidence},
                {"text", {155, 60, 227, 98}, confidence, {}, network_confidence}};
  Page page;
  page.blocks.emplace_back();
  page.blocks.back().lines = {line};
  return page;
}

TEST(Checks, BadlyReadPagesWantAPerson) {
  EXPECT_TRUE(reasons_to_look(page_of_words(0.95, 0.95), 0.75).empty());
  EXPECT_EQ(reasons_to_look(page_of_words(0.4, 0.4), 0.75).size(), 1u);
  EXPECT_TRUE(reasons_to_look(Page{}, 0.75).empty());
}

TEST(Checks, ALanguageThatLikesWhatItSeesDoesNotMakeAPageReadable) {
  EXPECT_EQ(reasons_to_look(page_of_words(0.95, 0.4), 0.75).size(), 1u);
}

TEST(Hold, RulesAreReadOrRefused) {
  const auto rules = hold_rules("suspects>2%, unsure>7.5%,no-text,wrong-language");
  ASSERT_EQ(rules.size(), 4u);
  EXPECT_NEAR(rules[1].limit, 0.075, 1e-9);
  EXPECT_TRUE(hold_rules("").empty());
  for (const char* bad : {"suspects", "suspects>x%", "suspects>2", "words>2%", "no-text,"})
    EXPECT_THROW(hold_rules(std::string(bad) + (bad[0] == 'n' ? ",x" : "")), SettingsError) << bad;
}

TEST(Hold, PagesBeyondALimitWait) {
  Page page = page_of_words(0.9, 0.9);
  page.blocks[0].lines[0].words[0].reasons = kUnknown;
  EXPECT_EQ(reasons_to_hold(hold_rules("suspects>60%"), page, {}).size(), 0u);
  const auto reasons = reasons_to_hold(hold_rules("suspects>40%"), page, {});
  ASSERT_EQ(reasons.size(), 1u);
  EXPECT_EQ(reasons[0], "suspect words 50.0 % (limit 40 %)");
  page.blocks[0].lines[0].words[0].glyphs = {{U'c', {}, 0.5}, {U'l', {}, 0.99}};
  EXPECT_EQ(reasons_to_hold(hold_rules("unsure>40%"), page, {}).size(), 1u);
  EXPECT_EQ(reasons_to_hold(hold_rules("no-text"), Page{}, {false, false}).size(), 1u);
  EXPECT_EQ(reasons_to_hold(hold_rules("no-text"), Page{}, {true, false}).size(), 0u);
  EXPECT_EQ(reasons_to_hold(hold_rules("wrong-language"), page, {false, true}).size(), 1u);
}

RunReport report_with(const std::vector<PageReport>& pages,
                      const std::vector<std::string>& written) {
  RunReport report;
  report.pages = pages;
  report.written = written;
  return report;
}

TEST(RunReports, AreWellWhenNothingIsLeftToDo) {
  PageReport good, look, held;
  look.look = {"hardly readable"};
  held.held = {"suspect words 5.0 % (limit 2 %)"};
  EXPECT_TRUE(report_with({good}, {"a.pdf"}).all_well());
  EXPECT_FALSE(report_with({good, look}, {"a.pdf"}).all_well());
  RunReport waiting = report_with({held}, {"a.pdf"});
  waiting.waiting = {"a.pdf"};
  EXPECT_FALSE(waiting.all_well());
  RunReport problem = report_with({good}, {"a.pdf"});
  problem.problems = {{"b.tif: is not there"}};
  EXPECT_FALSE(problem.all_well());
  EXPECT_FALSE(problem.nothing_done());
  EXPECT_TRUE(report_with({}, {}).nothing_done());
}

TEST(OutputKind, IsToldByEndingOrName) {
  EXPECT_EQ(output_kind_of("a/b.pdf"), OutputKind::kPdf);
  EXPECT_EQ(output_kind_of("a.alto.xml"), OutputKind::kAlto);
  EXPECT_EQ(output_kind_named("alto"), OutputKind::kAlto);
  EXPECT_THROW(output_kind_of("a.docx"), SettingsError);
  EXPECT_THROW(output_kind_named("word"), SettingsError);
  for (const OutputKind kind : {OutputKind::kPdf, OutputKind::kText, OutputKind::kAlto,
                                OutputKind::kCsv, OutputKind::kXlsx})
    EXPECT_EQ(output_kind_of(std::string("a") + ending_of(kind)), kind);
}

}  // namespace
}  // namespace burnisher::run
