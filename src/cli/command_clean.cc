#include <fmt/core.h>

#include <filesystem>
#include <map>
#include <mutex>

#include "base/files.h"
#include "cli/commands.h"
#include "page/page_xml.h"
#include "raster/png.h"
#include "raster/tiff.h"

namespace burnisher::cli {
namespace {

struct CleanOptions {
  std::vector<std::string> inputs;
  std::string folder, pages, form = "page";
  int threads = 0;
  bool overwrite = false;
  clean::CleanSettings settings;
  ScanLimits limits;
};

// Rows of clean.tsv by input and page, whatever order the pages are finished in.
using Rows = std::map<std::pair<std::string, int>, std::string>;

const char* const kHeader =
    "file\tpage\twidth\theight\tdpi\tdpi_estimated\tskew\tskew_confidence\ttext_"
    "height\tspecks\tink_share\tblank\tnotes\n";

std::string row_of(const Scan& scan, const clean::CleanResult& r) {
  std::string notes;
  for (const std::string& note : r.notes) notes += (notes.empty() ? "" : "; ") + note;
  return fmt::format("{}\t{}\t{}\t{}\t{:.1f}\t{}\t{:.2f}\t{:.2f}\t{:.1f}\t{}\t{:.4f}\t{}\t{}\n",
                     scan.file, scan.page, r.page.width, r.page.height, r.page.dpi,
                     r.dpi_estimated ? "yes" : "no", r.skew, r.skew_confidence, r.text_height,
                     r.specks, r.ink_share, r.blank ? "yes" : "no", notes);
}

void write_bitonal(const std::string& path, const Bitonal& ink, double dpi, bool overwrite) {
  PendingFile file(path, overwrite);
  const Picture picture = ink.clone();
  write_tiff(file.temporary_path(), picture, dpi);
  file.keep();
}

int clean_all(CleanOptions& o, Context& context) {
  std::filesystem::create_directories(o.folder);
  const std::filesystem::path folder(o.folder);
  std::mutex guard;
  Rows rows;
  if (o.settings.dpi > 0) o.limits.pdf_dpi = o.settings.dpi;
  const int code = for_each_page(
      o.inputs, o.pages, o.limits, o.threads, context, [&](const ScanFile& file, int number) {
        const Scan scan = file.read(number);
        const clean::CleanResult r = std::move(clean::clean(scan, o.settings).front());
        const std::string base = folder / page_name(file, number);
        if (o.form != "bitonal")
          write_file(base + ".png", write_png(r.picture, r.page.dpi), o.overwrite);
        if (o.form != "page") write_bitonal(base + ".tif", r.ink, r.page.dpi, o.overwrite);
        const std::string image = page_name(file, number) + (o.form == "bitonal" ? ".tif" : ".png");
        write_file(base + ".xml", write_page_xml(r.page, image), o.overwrite);
        const std::lock_guard<std::mutex> lock(guard);
        rows[{scan.file, scan.page}] = row_of(scan, r);
        for (const std::string& note : r.notes)
          context.console.say(page_name(file, number) + ": " + note);
      });
  std::string table = kHeader;
  for (const auto& [key, row] : rows) table += row;
  if (code != kNothing) write_file((folder / "clean.tsv").string(), table);
  return code;
}

}  // namespace

void add_clean(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand("clean", "scans in, straight and clean page pictures out");
  auto o = std::make_shared<CleanOptions>();
  command->add_option("input", o->inputs, "pictures, PDFs, folders of them")->required();
  command->add_option("--out-dir", o->folder, "NAME.png, NAME.tif, NAME.xml and clean.tsv go here")
      ->required()
      ->type_name("DIR");
  command
      ->add_option("--form", o->form,
                   "page (gray or colour as scanned, PNG), bitonal (TIFF G4), or both")
      ->check(CLI::IsMember({"page", "bitonal", "both"}))
      ->capture_default_str();
  command->add_option("--pages", o->pages, "pages of every input file, as in 3-7,12")
      ->type_name("RANGE");
  command
      ->add_option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      ->check(CLI::Range(1, 1024));
  command->add_flag("--overwrite", o->overwrite, "replace files that are there already");
  command
      ->add_option("--turn", o->settings.turn,
                   "turn every page counter-clockwise by 0, 90, 180 or 270 degrees")
      ->check(CLI::IsMember({0, 90, 180, 270}))
      ->capture_default_str();
  add_cleaning(*command, o->settings);
  add_limits(*command, o->limits);
  add_quiet(*command, context);
  command->footer("Example:\n  burnisher clean box3.tif --out-dir pages --form both");
  command->callback(
      [o, &context] { context.action = [o, &context] { return clean_all(*o, context); }; });
}

}  // namespace burnisher::cli
