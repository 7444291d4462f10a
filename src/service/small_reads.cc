#include "service/small_reads.h"

#include <cmath>
#include "base/json.h"

#include "export/text.h"
#include "run/read_scan.h"
#include "run/steps.h"

namespace burnisher::service {
namespace {

using nlohmann::ordered_json;

ordered_json box_json(const Box& b) {
  return {std::lround(b.x0), std::lround(b.y0), std::lround(b.width()), std::lround(b.height())};
}

}  // namespace

struct SmallReads::State {
  run::RunSettings settings;
  run::Readers readers;
  explicit State(const run::RunSettings& s) : settings(s), readers(settings) {}
};

SmallReads::SmallReads(const run::RunSettings& settings)
    : state_(std::make_unique<State>(settings)) {
  state_->readers.network();
  state_->readers.recogniser();
}

SmallReads::~SmallReads() = default;

std::string SmallReads::read(const std::string& bytes) const {
  const State& s = *state_;
  const run::ScanTask task{std::make_shared<const ScanFile>(
      Source("the picture", {bytes.begin(), bytes.end()}), s.settings.limits)};
  run::ScanInHand hand = run::scan_in_hand(task, s.readers.pixels());
  const run::ReadScan read =
      run::read_scan(s.readers.network(), s.readers.recogniser(), s.settings.stages, false, hand);
  std::string text;
  double sum = 0, letters = 0;
  ordered_json lines = ordered_json::array();
  for (const run::ReadPage& one : read.pages) {
    text += exporting::text_of(one.page);
    for (const Block& block : one.page.blocks) {
      if (block.kind == BlockKind::kNoise) continue;
      for (const Line& line : block.lines) {
        ordered_json words = ordered_json::array();
        for (const Word& word : line.words) {
          words.push_back({{"text", word.text},
                           {"box", box_json(placed(word.box, one.page, Positions::kScan))},
                           {"confidence", std::round(1000 * word.confidence) / 1000}});
          const auto length = static_cast<double>(word.text.size());
          sum += length * word.confidence;
          letters += length;
        }
        if (!words.empty())
          lines.push_back({{"text", line.text()},
                           {"box", box_json(placed(line.box, one.page, Positions::kScan))},
                           {"words", words}});
      }
    }
  }
  const ordered_json all = {
      {"text", text},
      {"confidence", letters > 0 ? std::round(1000 * sum / letters) / 1000 : 0},
      {"width", width_of(hand.scan.picture)},
      {"height", height_of(hand.scan.picture)},
      {"lines", lines}};
  return json_text(all);
}

}  // namespace burnisher::service
