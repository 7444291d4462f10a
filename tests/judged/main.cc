// The pages that reading is judged by:
//   judged_pages compose FOLDER         composes them anew (tests/judged)
//   judged_pages table FOLDER MODELS    what is measured on them today, as a Markdown table
//   judged_pages pages FOLDER MODELS    characters right on each page, %
//   judged_pages renew FOLDER MODELS    puts down what is read on them today as the version of
//   reading
#include <fmt/core.h>

#include "base/error.h"
#include "base/files.h"
#include "judged.h"

using namespace burnisher;

int main(int argc, char** argv) {
  const std::string what = argc > 1 ? argv[1] : "";
  if (argc < 3 || (argc < 4 && what != "compose")) {
    fmt::print(stderr,
               "usage: judged_pages compose FOLDER | table FOLDER MODELS | pages FOLDER MODELS | "
               "renew FOLDER MODELS\n");
    return 2;
  }
  try {
    const std::string folder = argv[2];
    if (what == "compose") {
      judged::compose_pages(folder);
      return 0;
    }
    const judged::Judgement today = judged::judge(folder, argv[3]);
    if (what == "renew") {
      write_file(folder + "/as_read.txt",
                 "# read with " + judged::kind_of_processor() + "\n" + today.as_read);
      return 0;
    }
    if (what == "pages") {
      for (const auto& [name, value] : today.pages) fmt::print("{}\t{:.2f}\n", name, 100 * value);
      return 0;
    }
    judged::Measures measures = today.measures;
    for (const auto& one : judged::judge_geometry(folder)) measures.push_back(one);
    const judged::Measures floors = judged::read_floors(folder + "/floors.tsv");
    fmt::print("| measure | today % | floor % |\n|---|---|---|\n");
    for (const auto& [name, value] : measures) {
      std::string floor;
      for (const auto& [of, least] : floors)
        if (of == name) floor = fmt::format("{:.1f}", 100 * least);
      fmt::print("| {} | {:.2f} | {} |\n", name, 100 * value, floor);
    }
  } catch (const Error& error) {
    fmt::print(stderr, "judged_pages: {}\n", error.what());
    return 1;
  }
  return 0;
}
