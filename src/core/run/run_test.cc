#include <gtest/gtest.h>

#include "base/error.h"
#include "run/checks.h"
#include "run/run.h"

namespace burnisher::run {
namespace {

Page page_of_words(double confidence, double clarity) {
  Line line;
  line.words = {{"clear", {50, 60, 140, 98}, confidence, {}, clarity},
                {"text", {155, 60, 227, 98}, confidence, {}, clarity}};
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

TEST(OutputKind, IsToldByEndingOrName) {
  EXPECT_EQ(output_kind_of("a/b.pdf"), OutputKind::kPdf);
  EXPECT_EQ(output_kind_of("a.alto.xml"), OutputKind::kAlto);
  EXPECT_EQ(output_kind_named("alto"), OutputKind::kAlto);
  EXPECT_THROW(output_kind_of("a.docx"), SettingsError);
  EXPECT_THROW(output_kind_named("word"), SettingsError);
}

}  // namespace
}  // namespace burnisher::run
