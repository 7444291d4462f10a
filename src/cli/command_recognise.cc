#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "clean/clean.h"
#include "cli/commands.h"
#include "layout/document.h"
#include "layout/segment.h"
#include "page/page_xml.h"
#include "raster/convert.h"
#include "recognise/noise.h"
#include "recognise/recognise.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct RecogniseOptions {
  std::vector<std::string> inputs;
  std::string folder, layouts, model;
  ReadingOptions reading;
  int threads = 0;
  bool overwrite = false;
  layout::SegmentSettings settings;
  ScanLimits limits;
};

// The blocks and lines of the page picture: from its PAGE XML where there is one, else found now.
Page laid_out(const RecogniseOptions& o, const ScanFile& file, int number, const Scan& scan) {
  const fs::path xml = fs::path(o.layouts) / (page_name(file, number) + ".xml");
  if (!o.layouts.empty()) {
    if (!fs::exists(xml))
      throw InputError(xml.string() + ": there is no PAGE XML for " + file.path());
    Page page = read_page_xml_file(xml).page;
    if (page.width != width_of(scan.picture) || page.height != height_of(scan.picture)) {
      throw FormatError(fmt::format("{}: is for a picture of {} x {} pixels, but {} has {} x {}",
                                    xml.string(), page.width, page.height, file.path(),
                                    width_of(scan.picture), height_of(scan.picture)));
    }
    return page;
  }
  clean::CleanResult r = std::move(clean::clean(scan, clean::in_place()).front());
  layout::segment(r.ink, r.text_height, o.settings, r.page, r.rules);
  return std::move(r.page);
}

int recognise_all(RecogniseOptions& o, Context& context) {
  const recognise::Recogniser recogniser(model_to_use(o.model), shipped_languages(),
                                         o.reading.arithmetic_wanted());
  recognise::RecogniseSettings settings;
  const std::vector<std::string> tags = split(o.reading.languages);
  check_languages(tags, context.console);
  choose_languages(tags, settings, context.console);
  settings.modern_s = o.reading.modern_s();
  fs::create_directories(o.folder);
  return for_each_page(
      o.inputs, "", o.limits, o.threads, context, [&](const ScanFile& file, int number) {
        const Scan scan = file.read(number);
        Page page = laid_out(o, file, number, scan);
        const Gray gray = to_gray(scan.picture);
        recogniser.read(gray, Affine{}, settings, page);
        recognise::set_noise_aside(page);
        recogniser.settle(gray, Affine{}, settings, page);
        layout::settle_kinds(page);
        const fs::path out = fs::path(o.folder) / (page_name(file, number) + ".xml");
        write_file(out.string(), write_page_xml(page, fs::path(file.path()).filename()),
                   o.overwrite);
      });
}

void describe(CLI::App& command, Context& context) {
  auto o = std::make_shared<RecogniseOptions>();
  command
      .add_option("input", o->inputs, "straight page pictures, as `burnisher clean` leaves them")
      ->required();
  command
      .add_option("--layout", o->layouts,
                  "folder with NAME.xml (PAGE XML) that says where the lines are")
      ->type_name("DIR");
  command.add_option("--out-dir", o->folder, "NAME.xml with words goes here")
      ->required()
      ->type_name("DIR");
  command
      .add_option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      ->check(CLI::Range(1, 1024));
  command.add_flag("--overwrite", o->overwrite, "replace files that are there already");
  add_layout(command, o->settings);
  add_limits(command, o->limits);
  add_reading(command, o->reading);
  add_model(command, o->model);
  add_quiet(command, context);
  command.footer("Example:\n  burnisher recognise pages/*.png --layout layout --out-dir read");
  command.callback(
      [o, &context] { context.action = [o, &context] { return recognise_all(*o, context); }; });
}

}  // namespace

void add_recognise(CLI::App& app, Context& context) {
  auto* command =
      app.add_subcommand("recognise", "page pictures (and PAGE XML) in, PAGE XML with words out");
  command->alias("recognize");
  describe(*command, context);
}

}  // namespace burnisher::cli
