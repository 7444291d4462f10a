// How small bitonal pages become, and how fast: each page alone and all of them with shared
// symbols, against CCITT G4.
//   ink_bench PICTURE...      bitonal TIFFs and PNGs, every page of them
#include <fmt/core.h>

#include <chrono>
#include <vector>

#include "base/error.h"
#include "intake/scan_file.h"
#include "jbig2/jbig2.h"
#include "raster/convert.h"
#include "raster/tiff.h"

using namespace burnisher;

namespace {

struct Coded {
  size_t bytes;
  double seconds;
};

template <typename Coder>
Coded timed(Coder coder) {
  const auto start = std::chrono::steady_clock::now();
  const size_t bytes = coder();
  return {bytes, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count()};
}

size_t size_of(const jbig2::CodedPages& coded) {
  size_t bytes = coded.globals.size();
  for (const auto& page : coded.pages) bytes += page.size();
  return bytes;
}

double saved(size_t bytes, size_t of) {
  return 100.0 - 100.0 * static_cast<double>(bytes) / static_cast<double>(of);
}

void print_row(const std::string& name, const Coded& g4, const Coded& plain, const Coded& symbols) {
  fmt::print("| {} | {} | {} | {:.1f} | {} | {:.1f} | {:.0f} | {:.0f} |\n", name, g4.bytes,
             plain.bytes, saved(plain.bytes, g4.bytes), symbols.bytes,
             saved(symbols.bytes, g4.bytes), 1000 * plain.seconds, 1000 * symbols.seconds);
}

}  // namespace

int main(int argc, char** argv) {
  std::vector<Bitonal> pages;
  std::vector<std::string> names;
  try {
    for (int i = 1; i < argc; ++i) {
      const ScanFile file(argv[i], ScanLimits());
      for (int page = 1; page <= file.page_count(); ++page) {
        pages.push_back(to_bitonal(to_gray(file.read(page).picture), 128));
        names.push_back(fmt::format("{} {}", argv[i], page));
      }
    }
  } catch (const Error& error) {
    fmt::print(stderr, "{}\n", error.what());
    return 1;
  }
  fmt::print("| page | G4 | one region | saved % | symbols | saved % | ms | ms |\n");
  fmt::print("|---|---|---|---|---|---|---|---|\n");
  Coded g4{}, plain{};
  for (size_t i = 0; i < pages.size(); ++i) {
    const Coded a = timed([&] { return encode_g4(pages[i]).size(); });
    const Coded b = timed([&] { return jbig2::encode_page(pages[i]).size(); });
    const Coded c = timed([&] { return size_of(jbig2::encode_pages({&pages[i]})); });
    print_row(names[i], a, b, c);
    g4 = {g4.bytes + a.bytes, g4.seconds + a.seconds};
    plain = {plain.bytes + b.bytes, plain.seconds + b.seconds};
  }
  std::vector<const Bitonal*> all;
  for (const Bitonal& page : pages) all.push_back(&page);
  const Coded shared = timed([&] { return size_of(jbig2::encode_pages(all)); });
  print_row("all, symbols shared", g4, plain, shared);
  return 0;
}
