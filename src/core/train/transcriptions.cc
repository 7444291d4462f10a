#include "train/transcriptions.h"

#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "clean/clean.h"
#include "intake/inputs.h"
#include "layout/segment.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "raster/convert.h"

namespace burnisher::train {
namespace {

namespace fs = std::filesystem;

Page page_of(const std::string& xml) {
  const auto bytes = read_file(xml);
  const std::string head(bytes.begin(),
                         bytes.begin() + static_cast<long>(std::min<size_t>(bytes.size(), 2000)));
  if (head.find("<alto") == std::string::npos) return read_page_xml_file(xml).page;
  std::vector<Page> pages = read_alto_file(xml);
  if (pages.size() != 1)
    throw FormatError(
        fmt::format("{}: holds {} pages; one for each picture is wanted", xml, pages.size()));
  return std::move(pages.front());
}

void add_lines(const std::string& name, const Gray& picture, const std::string& xml,
               std::vector<train::Example>& examples) {
  const Page page = page_of(xml);
  if (page.width > 0 && (page.width != picture.width() || page.height != picture.height())) {
    throw FormatError(fmt::format("{}: is for a picture of {} x {} pixels, but {} has {} x {}", xml,
                                  page.width, page.height, name, picture.width(),
                                  picture.height()));
  }
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      if (line.words.empty() || line.baseline.size() < 2 || line.x_height <= 1) continue;
      examples.push_back(
          train::example_of(name, picture, {line.baseline, line.x_height}, line.text()));
    }
  }
}

// The picture's one line: the longest that layout finds.
void add_line(const std::string& name, const Scan& scan, const Gray& picture,
              const std::string& text_file, const layout::PageNetwork* network,
              std::vector<train::Example>& examples) {
  const auto bytes = read_file(text_file);
  clean::CleanResult r = std::move(clean::clean(scan, clean::in_place()).front());
  layout::SegmentSettings settings;
  settings.columns = 1;
  settings.tables = false;
  const layout::PageMaps maps = network != nullptr && r.text_height > 0
                                    ? layout::look_at(*network, picture, r.text_height)
                                    : layout::PageMaps();
  layout::segment(r.ink, maps, r.text_height, settings, r.page, r.rules);
  const Line* longest = nullptr;
  for (const Block& block : r.page.blocks) {
    for (const Line& line : block.lines) {
      if (longest == nullptr || line.box.width() > longest->box.width()) longest = &line;
    }
  }
  if (longest == nullptr || longest->x_height <= 1)
    throw FormatError(name + ": no line was found in the picture");
  examples.push_back(train::example_of(name, picture, {longest->baseline, longest->x_height},
                                       std::string(bytes.begin(), bytes.end())));
}

}  // namespace

std::vector<train::Example> read_transcriptions(const std::string& folder, const ScanLimits& limits,
                                                const layout::PageNetwork* network,
                                                Progress& progress) {
  std::vector<train::Example> examples;
  for (const std::string& path : collect_inputs(folder)) {
    const std::string stem = fs::path(path).replace_extension("").string();
    const bool page = fs::exists(stem + ".xml"), line = fs::exists(stem + ".txt");
    try {
      if (!page && !line)
        throw InputError(path + ": has neither " + stem + ".xml nor .txt beside it; left out");
      const Scan scan = ScanFile(path, limits).read(1);
      const Gray picture = to_gray(scan.picture);
      if (page)
        add_lines(path, picture, stem + ".xml", examples);
      else
        add_line(path, scan, picture, stem + ".txt", network, examples);
    } catch (const Error& cause) {
      progress.warn(cause.what());
    }
  }
  if (examples.empty())
    throw InputError(folder + ": holds no transcribed lines (pictures with NAME.xml or NAME.txt)");
  return examples;
}

}  // namespace burnisher::train
