#include <fmt/core.h>

#include <filesystem>
#include <optional>

#include "base/files.h"
#include "cli/commands.h"
#include "export/overlay.h"
#include "pagefile/page_file.h"
#include "pagefile/page_xml.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "run/stages.h"

namespace burnisher::cli {
namespace {

struct SegmentOptions {
  std::vector<std::string> inputs;
  std::string folder, overlays, stencil, pages;
  int threads = 0;
  bool overwrite = false;
  layout::SegmentSettings settings;
  KindChoice kinds;
  ScanLimits limits;
};

std::string xml_of(const SegmentOptions& o, const std::string& name) {
  return (std::filesystem::path(o.folder) / (name + ".xml")).string();
}

void segment_one(const SegmentOptions& o, const run::StageSettings& stages,
                 const layout::PageNetwork& network, const ScanFile& file, int number,
                 Context& context) {
  const Scan scan = file.read(number);
  const std::string name = page_name(file, number);
  // Positions belong to the pictures as they were handed in.
  clean::CleanResult r = cleaned_picture(file, number, scan);
  const std::string misfit =
      run::segment_stage(run::maps_of(network, stages.segment, r), stages, r);
  if (!misfit.empty())
    context.console.point_out(
        fmt::format("look at page {} of {}: {}", number, file.path(), misfit));
  o.kinds.apply(r.page);
  const std::string image = std::filesystem::path(file.path()).filename();
  r.page.relative_file = relative_path(r.page.file, o.folder);
  write_file(xml_of(o, name), write_page_xml(r.page, image), o.overwrite);
  if (o.overlays.empty()) return;
  const std::string drawn = (std::filesystem::path(o.overlays) / name).string();
  const Picture overlay = exporting::overlay_of(to_gray(r.picture), r.page, {});
  write_file(drawn + ".png", write_png(overlay, 0), o.overwrite);
  write_file(drawn + ".svg", exporting::overlay_svg(to_gray(r.picture), r.page, {}), o.overwrite);
}

int segment_all(SegmentOptions& o, Context& context) {
  make_folder(o.folder);
  if (!o.overlays.empty()) make_folder(o.overlays);
  const layout::PageNetwork network(layout::read_page_model(context.models.page_model()));
  run::StageSettings stages;
  stages.segment = o.settings;
  if (!o.stencil.empty()) stages.stencils.push_back(read_page_xml_file(o.stencil).page);
  return for_each_page(
      {o.inputs, o.pages, o.limits, o.threads}, context,
      [&](const ScanFile& file, int number) {
        check_target(xml_of(o, page_name(file, number)), o.overwrite);
      },
      [&](const ScanFile& file, int number) {
        segment_one(o, stages, network, file, number, context);
      });
}

}  // namespace

void add_segment(CommandLine& line, Context& context) {
  Command command =
      line.root().command("segment", "page pictures in, PAGE XML with blocks and lines out");
  auto o = std::make_shared<SegmentOptions>();
  command.option("input", o->inputs, "straight page pictures, as `burnisher clean` leaves them")
      .required();
  command.option("--out-dir", o->folder, "NAME.xml goes here").required().type_name("DIR");
  command
      .option("--overlay", o->overlays,
              "pictures with blocks and lines drawn on them go here, as PNG and SVG")
      .type_name("DIR");
  command
      .option("--stencil", o->stencil, "lay these blocks over every page (see `burnisher stencil`)")
      .type_name("FILE");
  command.option("--pages", o->pages, "pages of every input file, as in 3-7,12").type_name("RANGE");
  command.option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      .between(1, 1024);
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_layout(command, o->settings);
  add_kinds(command, o->kinds);
  add_limits(command, o->limits);
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher segment pages/*.png --out-dir layout --overlay layout/drawn");
  command.action([o, &context] { return segment_all(*o, context); });
}

}  // namespace burnisher::cli
