#include <fmt/core.h>

#include <filesystem>
#include <optional>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "page/as_stored.h"
#include "pagefile/page_file.h"
#include "pagefile/page_xml.h"
#include "recognise/recognise.h"
#include "run/page_queue.h"
#include "run/stages.h"

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

std::string result_of(const RecogniseOptions& o, const std::string& name) {
  return (fs::path(o.folder) / (name + ".xml")).string();
}

// A page that was read, on its way to its file.
struct Read {
  Page page;
  std::string image, result;
};

// The page with blocks and lines: from --layout, or as they are found now.
clean::CleanResult laid_out(const RecogniseOptions& o, const run::StageSettings& stages,
                            const layout::PageNetwork& network, const ScanFile& file, int number,
                            const Scan& scan) {
  if (o.layouts.empty()) {
    clean::CleanResult r = cleaned_picture(file, number, scan);
    run::segment_stage(run::maps_of(network, stages.segment, r), stages, r);
    return r;
  }
  const fs::path xml = fs::path(o.layouts) / (page_name(file, number) + ".xml");
  if (!fs::exists(xml))
    throw InputError(xml.string() + ": there is no PAGE XML for " + file.path());
  const Page page = read_page_xml_file(xml).page;
  if (page.width != width_of(scan.picture) || page.height != height_of(scan.picture)) {
    throw FormatError(fmt::format("{}: is for a picture of {} x {} pixels, but {} has {} x {}",
                                  xml.string(), page.width, page.height, file.path(),
                                  width_of(scan.picture), height_of(scan.picture)));
  }
  return run::taken_up(scan, page, scan_path(page, xml.string(), ""), o.limits);
}

int recognise_all(RecogniseOptions& o, Context& context) {
  std::vector<recognise::Bundle> bundles = context.models.bundles(split(o.model));
  prefer_speakers(o.reading, bundles);
  const recognise::Recogniser recogniser(bundles, o.reading.precision_wanted());
  const layout::PageNetwork network(layout::read_page_model(context.models.page_model()));
  run::StageSettings stages;
  stages.segment = o.settings;
  choose_languages(o.reading, bundles, stages.recognise, context);
  make_folder(o.folder);
  stages.reading_settles_rows = o.layouts.empty();
  // Pages are written in order: what repeats from page to page shows only then.
  int unwritten = 0;
  run::PageQueue<Read> queue([](Read& read) -> Page& { return read.page; },
                             [&](Read& read) {
                               round_as_stored(read.page);
                               read.page.relative_file = relative_path(read.page.file, o.folder);
                               try {
                                 write_file(read.result, write_page_xml(read.page, read.image),
                                            o.overwrite);
                               } catch (const Error& cause) {
                                 context.console.warn(told(cause));
                                 ++unwritten;
                               }
                             });
  const int code = for_each_page_in_order<Read>(
      {o.inputs, "", o.limits, o.threads}, context,
      [&](const ScanFile& file, int number) {
        check_target(result_of(o, page_name(file, number)), o.overwrite);
      },
      [&](const ScanFile& file, int number) {
        const Scan scan = file.read(number);
        clean::CleanResult r = laid_out(o, stages, network, file, number, scan);
        run::recognise_stage(recogniser, stages, r);
        return Read{std::move(r.page), fs::path(file.path()).filename(),
                    result_of(o, page_name(file, number))};
      },
      [&](Read& read) { queue.push(std::move(read)); });
  queue.flush();
  return unwritten > 0 && code == kAllDone ? kSomeLeft : code;
}

void describe(Command& command, Context& context) {
  auto o = std::make_shared<RecogniseOptions>();
  command.option("input", o->inputs, "straight page pictures, as `burnisher clean` leaves them")
      .required();
  command
      .option("--layout", o->layouts,
              "folder with NAME.xml (PAGE XML) that says where the lines are")
      .type_name("DIR");
  command.option("--out-dir", o->folder, "NAME.xml with words goes here")
      .required()
      .type_name("DIR");
  command.option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      .between(1, 1024);
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_layout(command, o->settings);
  add_limits(command, o->limits);
  add_reading(command, o->reading);
  add_model(command, context, o->model);
  add_quiet(command, context);
  command.examples("Example:\n  burnisher recognise pages/*.png --layout layout --out-dir read");
  command.action([o, &context] { return recognise_all(*o, context); });
}

}  // namespace

void add_recognise(CommandLine& line, Context& context) {
  Command command =
      line.root().command("recognise", "page pictures (and PAGE XML) in, PAGE XML with words out");
  command.alias("recognize");
  describe(command, context);
}

}  // namespace burnisher::cli
