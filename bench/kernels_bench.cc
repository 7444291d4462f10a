// The hot loops one by one, each beside a bound it can be held against: decoding the page's JPEG
// for whole-page operations, the frames a second of real time for reading.
//   kernels_bench MODEL

#include <benchmark/benchmark.h>

#include <memory>

#include "base/random.h"
#include "clean/background.h"
#include "clean/binarise.h"
#include "clean/clean.h"
#include "clean/mend.h"
#include "raster/components.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/warp.h"
#include "recognise/decode.h"
#include "recognise/network.h"
#include "recognise/posteriors.h"
#include "recognise/strip.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

constexpr int kWidth = 2480, kHeight = 3508;  // A4 at 300 dpi

std::string model_path;

const Gray& page() {
  static const Gray picture = [] {
    testing::PrintedPage printed(kWidth, kHeight);
    printed.print_column(testing::prose(50, 70), 250, 300, 46, 60);
    Gray gray = printed.picture();
    Random random(1);
    for (uint8_t& v : gray.samples()) v = static_cast<uint8_t>(std::max(0, v - random.index(24)));
    return gray;
  }();
  return picture;
}

void per_pixel(benchmark::State& state) {
  state.SetBytesProcessed(state.iterations() * static_cast<int64_t>(kWidth) * kHeight);
}

void DecodeJpeg(benchmark::State& state) {
  const auto bytes = write_jpeg(page(), 70);
  for (auto _ : state) benchmark::DoNotOptimize(read_jpeg(bytes, 1e9));
  per_pixel(state);
}

void Binarise(benchmark::State& state) {
  clean::BinariseSettings settings;
  settings.method = state.range(0) ? clean::BinariseMethod::kAuto : clean::BinariseMethod::kGlobal;
  for (auto _ : state) benchmark::DoNotOptimize(clean::binarise(page(), settings, 300));
  per_pixel(state);
}

void FindComponents(benchmark::State& state) {
  const Bitonal ink = to_bitonal(page(), 128);
  for (auto _ : state) benchmark::DoNotOptimize(components_of(ink));
  per_pixel(state);
}

void LevelPage(benchmark::State& state) {
  const Affine turn = Affine::turn(1.0);
  for (auto _ : state) benchmark::DoNotOptimize(warped(page(), turn, kWidth, kHeight, 255));
  per_pixel(state);
}

// What a pass over the page costs at the least: reading it and writing it once.
void CopyPage(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(page().clone());
  per_pixel(state);
}

Bitonal page_ink() {
  return clean::binarise(page(), {}, 300);
}

void MeasurePage(benchmark::State& state) {
  for (auto _ : state) benchmark::DoNotOptimize(clean::measure(page(), 300, {}));
  per_pixel(state);
}

void EvenOut(benchmark::State& state) {
  for (auto _ : state) {
    Gray even = page().clone();
    clean::even_out(clean::paper_of(even, 21), even);
    benchmark::DoNotOptimize(even);
  }
  per_pixel(state);
}

void Despeckle(benchmark::State& state) {
  const Bitonal ink = page_ink();
  for (auto _ : state) {
    Bitonal out = ink.clone();
    benchmark::DoNotOptimize(clean::despeckle({}, 21, out));
  }
  per_pixel(state);
}

void FindRules(benchmark::State& state) {
  const Bitonal ink = page_ink();
  for (auto _ : state) benchmark::DoNotOptimize(clean::rules_of(ink, 21));
  per_pixel(state);
}

void Mend(benchmark::State& state) {
  const Bitonal ink = page_ink();
  for (auto _ : state) {
    Bitonal out = ink.clone();
    benchmark::DoNotOptimize(clean::mend(21, out));
  }
  per_pixel(state);
}

// The whole stage, on a page that stands straight and on one that is crooked.
void CleanPage(benchmark::State& state) {
  Scan scan;
  scan.stated_dpi = 300;
  const Affine turn = Affine::turn(static_cast<double>(state.range(0)) / 10);
  scan.picture = warped(page(), turn, kWidth, kHeight, 240);
  for (auto _ : state) benchmark::DoNotOptimize(clean::clean(scan, {}));
  per_pixel(state);
}

void CutStrip(benchmark::State& state) {
  const recognise::StripFrame frame;
  const recognise::StripMap map({{{250, 300}, {2200, 302}}, 21}, frame, 0.6, 0.6);
  for (auto _ : state) benchmark::DoNotOptimize(recognise::extract_strip(page(), map, frame));
  state.counters["lines"] =
      benchmark::Counter(static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}

// Lines of 900 strip pixels, about 65 characters, in batches as the program makes them.
void ReadLines(benchmark::State& state) {
  const recognise::Model model = recognise::read_model(model_path);
  const recognise::Network network(
      model, state.range(1) == 0 ? recognise::Precision::kFloat32 : recognise::Precision::kInt8);
  const recognise::StripMap map({{{250, 300}, {1560, 300}}, 21}, model.frame, 0, 0);
  const Gray strip = extract_strip(page(), map, model.frame);
  const std::vector<const Gray*> batch(static_cast<size_t>(state.range(0)), &strip);
  for (auto _ : state) {
    for (const auto& scores : network.read(batch))
      benchmark::DoNotOptimize(best_path(recognise::Posteriors(scores), model.alphabet));
  }
  state.counters["lines"] = benchmark::Counter(
      static_cast<double>(state.iterations() * state.range(0)), benchmark::Counter::kIsRate);
}

BENCHMARK(DecodeJpeg)->Unit(benchmark::kMillisecond);
BENCHMARK(Binarise)->ArgName("auto")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);
BENCHMARK(FindComponents)->Unit(benchmark::kMillisecond);
BENCHMARK(LevelPage)->Unit(benchmark::kMillisecond);
BENCHMARK(CopyPage)->Unit(benchmark::kMillisecond);
BENCHMARK(MeasurePage)->Unit(benchmark::kMillisecond);
BENCHMARK(EvenOut)->Unit(benchmark::kMillisecond);
BENCHMARK(Despeckle)->Unit(benchmark::kMillisecond);
BENCHMARK(FindRules)->Unit(benchmark::kMillisecond);
BENCHMARK(Mend)->Unit(benchmark::kMillisecond);
BENCHMARK(CleanPage)->ArgName("tenths_of_a_degree")->Arg(0)->Arg(12)->Unit(benchmark::kMillisecond);
BENCHMARK(CutStrip)->Unit(benchmark::kMillisecond);
BENCHMARK(ReadLines)
    ->ArgNames({"batch", "bytes"})
    ->ArgsProduct({{1, 7}, {0, 1}})
    ->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace burnisher

int main(int argc, char** argv) {
  benchmark::Initialize(&argc, argv);
  if (argc != 2) {
    std::fprintf(stderr, "usage: kernels_bench MODEL\n");
    return 2;
  }
  burnisher::model_path = argv[1];
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
