#include <fmt/core.h>

#include <filesystem>

#include "base/files.h"
#include "clean/clean.h"
#include "cli/commands.h"
#include "export/overlay.h"
#include "layout/segment.h"
#include "layout/stencil.h"
#include "page/page_xml.h"
#include "raster/convert.h"
#include "raster/png.h"

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

int segment_all(SegmentOptions& o, Context& context) {
  namespace fs = std::filesystem;
  fs::create_directories(o.folder);
  Page stencil;
  if (!o.stencil.empty()) stencil = read_page_xml_file(o.stencil).page;
  if (!o.overlays.empty()) fs::create_directories(o.overlays);
  return for_each_page(
      o.inputs, o.pages, o.limits, o.threads, context, [&](const ScanFile& file, int number) {
        const Scan scan = file.read(number);
        // Positions belong to the pictures as they were handed in.
        clean::CleanResult r = std::move(clean::clean(scan, clean::in_place()).front());
        layout::segment(r.ink, r.text_height, o.settings, r.page, r.rules);
        if (!o.stencil.empty()) {
          const layout::StencilFit fit = layout::lay_over(stencil, r.page);
          if (!fit.fits()) {
            context.console.point_out(
                fmt::format("look at page {} of {}: the stencil does not fit, {} of {} lines lie "
                            "outside its blocks",
                            number, file.path(), fit.outside, fit.lines));
          }
        }
        o.kinds.apply(r.page);
        const std::string name = page_name(file, number);
        const std::string image = fs::path(file.path()).filename();
        write_file((fs::path(o.folder) / (name + ".xml")).string(), write_page_xml(r.page, image),
                   o.overwrite);
        if (o.overlays.empty()) return;
        const Picture overlay = exporting::overlay_of(to_gray(r.picture), r.page, {});
        write_file((fs::path(o.overlays) / (name + ".png")).string(), write_png(overlay, 0),
                   o.overwrite);
        write_file((fs::path(o.overlays) / (name + ".svg")).string(),
                   exporting::overlay_svg(to_gray(r.picture), r.page, {}), o.overwrite);
      });
}

}  // namespace

void add_segment(CLI::App& app, Context& context) {
  auto* command =
      app.add_subcommand("segment", "page pictures in, PAGE XML with blocks and lines out");
  auto o = std::make_shared<SegmentOptions>();
  command
      ->add_option("input", o->inputs, "straight page pictures, as `burnisher clean` leaves them")
      ->required();
  command->add_option("--out-dir", o->folder, "NAME.xml goes here")->required()->type_name("DIR");
  command
      ->add_option("--overlay", o->overlays,
                   "pictures with blocks and lines drawn on them go here, as PNG and SVG")
      ->type_name("DIR");
  command
      ->add_option("--stencil", o->stencil,
                   "lay these blocks over every page (see `burnisher stencil`)")
      ->type_name("FILE");
  command->add_option("--pages", o->pages, "pages of every input file, as in 3-7,12")
      ->type_name("RANGE");
  command
      ->add_option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      ->check(CLI::Range(1, 1024));
  command->add_flag("--overwrite", o->overwrite, "replace files that are there already");
  add_layout(*command, o->settings);
  add_kinds(*command, o->kinds);
  add_limits(*command, o->limits);
  add_quiet(*command, context);
  command->footer(
      "Example:\n  burnisher segment pages/*.png --out-dir layout --overlay layout/drawn");
  command->callback(
      [o, &context] { context.action = [o, &context] { return segment_all(*o, context); }; });
}

}  // namespace burnisher::cli
