// Reading as a whole, held against what it was: nothing that was won is lost unseen.
#include <gtest/gtest.h>

#include <algorithm>

#include "base/edit_distance.h"
#include "base/files.h"
#include "base/unicode.h"
#include "intake/scan_file.h"
#include "judged.h"
#include "layout/page_network.h"
#include "recognise/bundle.h"
#include "run/stages.h"

namespace burnisher::judged {
namespace {

const std::string kFolder = BURNISHER_JUDGED, kModels = BURNISHER_MODELS_FOLDER;

const Judgement& today() {
  static const Judgement judgement = judge(kFolder, kModels);
  return judgement;
}

void hold_against_floors(const Measures& measures, const std::string& of) {
  int held = 0;
  for (const auto& [name, floor] : read_floors(kFolder + "/floors.tsv")) {
    const bool painted = name.find("painted") != std::string::npos;
    if (painted != (of == "geometry")) continue;
    const auto found = std::find_if(measures.begin(), measures.end(),
                                    [&](const auto& one) { return one.first == name; });
    ASSERT_NE(found, measures.end()) << name << " is not measured any more";
    EXPECT_GE(found->second, floor) << name;
    ++held;
  }
  EXPECT_EQ(held, static_cast<int>(measures.size())) << "a measure has no floor";
}

TEST(JudgedPages, NothingFallsBelowItsFloor) {
  hold_against_floors(today().measures, "reading");
}

TEST(JudgedPages, NorDoesTheGeometryAlone) {
  hold_against_floors(judge_geometry(kFolder), "geometry");
}

// The version of reading is a digest of as_read.txt. On a processor that reads in other numbers
// than the one it was made on, the text may differ in one character of a thousand.
TEST(JudgedPages, WhatIsReadIsTheVersionOfReading) {
  const std::vector<uint8_t> bytes = read_file(kFolder + "/as_read.txt");
  const std::string kept(bytes.begin(), bytes.end());
  const size_t end = kept.find('\n');
  const std::string made_with = kept.substr(0, end), text = kept.substr(end + 1);
  const bool same_kind = made_with == "# read with " + kind_of_processor();
  const char* const renew =
      "what is read has changed: a job read before must know. If it is meant, renew the version: "
      "build/judged_pages renew tests/judged models";
  if (same_kind) {
    EXPECT_TRUE(today().as_read == text) << renew;
    return;
  }
  const auto a = decode_utf8(today().as_read), b = decode_utf8(text);
  EXPECT_LE(edit_distance(a, b), static_cast<int>(b.size() / 1000)) << renew;
}

std::vector<char32_t> read_in(recognise::Precision precision, const std::string& name) {
  static const layout::PageNetwork network(layout::read_page_model(kModels + "/pages.safetensors"));
  const recognise::Recogniser recogniser(recognise::bundles_in(kModels), precision);
  const Scan scan = ScanFile(kFolder + "/" + name + ".jpg", {}).read(1);
  run::CleanedScan read = run::clean_and_segment(scan, network, &recogniser, {});
  std::string text;
  for (clean::CleanResult& part : read.pages) {
    run::recognise_stage(recogniser, {}, part);
    for (const Block& block : part.page.blocks)
      for (const Line& line : block.lines) text += line.text() + "\n";
  }
  return decode_utf8(text);
}

TEST(JudgedPages, BytesReadWhatFloatsRead) {
  if (recognise::precision_of_processor() != recognise::Precision::kInt8)
    GTEST_SKIP() << "this processor reads in floats anyway";
  size_t characters = 0;
  int differing = 0;
  for (const char* name : {"book-1", "book-2", "letter-3", "listing-1", "spread-3"}) {
    const auto bytes = read_in(recognise::Precision::kInt8, name),
               floats = read_in(recognise::Precision::kFloat32, name);
    characters += floats.size();
    differing += edit_distance(bytes, floats);
  }
  EXPECT_GT(characters, 3000u);
  EXPECT_LE(differing, static_cast<int>(characters / 1000));
}

}  // namespace
}  // namespace burnisher::judged
