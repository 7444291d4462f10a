#include "score/faults.h"

#include <gtest/gtest.h>

namespace burnisher::score {
namespace {

Document document_of(const std::vector<std::pair<std::string, BlockKind>>& words) {
  Document document;
  document.pages.push_back({"a.png", 1, 100, 100});
  for (const auto& [text, kind] : words) {
    document.text += text + " ";
    document.words.push_back({text, 0.9, kind, 0, {0, 0, 9, 9}});
  }
  return document;
}

TEST(Faults, AreCountedByTheKindOfTheirBlock) {
  const Document read = document_of(
      {{"Larnp", BlockKind::kHeading}, {"lit", BlockKind::kText}, {"1", BlockKind::kText}});
  Document truth;
  truth.text = "Lamp lit 4";
  const Faults faults = faults_in(read, truth);
  EXPECT_EQ(faults.kinds.at(BlockKind::kHeading).errors, 2);
  EXPECT_EQ(faults.kinds.at(BlockKind::kText).errors, 1);
  EXPECT_EQ(faults.words.at({U'4', U'1'}), std::vector<size_t>{2});
}

TEST(Faults, GoByTheKindsOfTheTruthWhereItHasSome) {
  const Document read = document_of({{"Wick", BlockKind::kText}, {"oi1", BlockKind::kText}});
  const Document truth = document_of({{"Wick", BlockKind::kText}, {"oil", BlockKind::kTable}});
  const Faults faults = faults_in(read, truth);
  EXPECT_EQ(faults.kinds.at(BlockKind::kText).errors, 0);
  EXPECT_EQ(faults.kinds.at(BlockKind::kTable).errors, 1);
  EXPECT_EQ(faults.kinds.at(BlockKind::kTable).characters, 3);
}

TEST(Faults, WhatIsMissingBelongsToTheWordBesideIt) {
  const Document read = document_of({{"Oi", BlockKind::kText}});
  Document truth;
  truth.text = "Oil";
  EXPECT_EQ(faults_in(read, truth).words.at({U'l', 0}), std::vector<size_t>{0});
  EXPECT_TRUE(faults_in(Document{"Oi", {}, {}}, truth).kinds.empty());
}

}  // namespace
}  // namespace burnisher::score
