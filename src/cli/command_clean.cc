#include <fmt/core.h>

#include <filesystem>
#include <map>
#include <mutex>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "clean/print_ink.h"
#include "cli/commands.h"
#include "cli/recipes.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"
#include "raster/tiff.h"
#include "report/comparison.h"
#include "run/leaves.h"
#include "run/stages.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct CleanOptions {
  std::vector<std::string> inputs, sheets;
  std::string folder, pages, form = "page", picture = "png", turn = "auto", vary, model;
  int threads = 0, try_page = 0;
  bool overwrite = false, leaves = false;
  clean::CleanSettings settings;
  ScanLimits limits;
};

// What one scan came to.
struct Cleaned {
  int turn = 0;
  double turn_confidence = 0;
  std::vector<clean::CleanResult> pages;
};

// By input, page and side, whatever order the pages are finished in.
template <typename T>
using InOrder = std::map<std::tuple<std::string, int, int>, T>;

const char* const kHeader =
    "file\tpage\tside\twidth\theight\tdpi\tdpi_estimated\torientation\torientation_confidence\tskew"
    "\tskew_confidence\tperspective\tcurl\tcropped\tinverse\tx_"
    "height\tholes\tspecks\trules\tbridges\tink_"
    "share\t"
    "blank\tnotes\n";

std::string yes(bool v) {
  return v ? "yes" : "no";
}

std::string row_of(const Cleaned& scan, const clean::CleanResult& r) {
  std::string notes;
  for (const std::string& note : r.notes) notes += (notes.empty() ? "" : "; ") + note;
  const char* sides[] = {"", "left", "right"};
  return fmt::format(
      "{}\t{}\t{}\t{}\t{}\t{:.1f}\t{}\t{}\t{:.2f}\t{:.2f}\t{:.2f}\t{:.1f}\t{:.1f}\t{}\t{}\t{:.1f}"
      "\t{}\t{}\t"
      "{}\t{}\t{:.5f}\t{}\t{}\n",
      r.page.file, r.page.number, sides[r.page.part], r.page.width, r.page.height, r.page.dpi,
      yes(r.dpi_estimated), scan.turn, scan.turn_confidence, r.skew, r.skew_confidence,
      r.perspective, r.curl, yes(r.cropped), yes(r.inverse), r.text_height, r.holes, r.specks,
      r.rules.size(), r.bridges, r.ink_share, yes(r.blank), notes);
}

void write_picture(const std::string& path, const Picture& picture, double dpi, bool overwrite) {
  PendingFile file(path, overwrite);
  write_tiff(file.temporary_path(), picture, dpi);
  file.keep();
}

class Cleaner {
 public:
  Cleaner(CleanOptions& options, Context& context) : o_(options), context_(context) {
    if (o_.settings.dpi > 0) o_.limits.pdf_dpi = o_.settings.dpi;
    if (o_.leaves) {
      scans_ = run::scans_in(o_.inputs, o_.pages, o_.limits);
      run::set_beside(scans_);
    }
    if (o_.turn != "auto") o_.settings.turn = integer_in(o_.turn).value_or(0);
    if (o_.turn == "auto") {
      network_ = std::make_unique<layout::PageNetwork>(
          layout::read_page_model(context.models.page_model()));
      const std::string model = o_.model.empty() ? context.models.shipped_model() : o_.model;
      if (!model.empty()) recogniser_ = std::make_unique<recognise::Recogniser>(model);
    }
  }

  Cleaned clean(const Scan& scan, const clean::CleanSettings& settings, bool keep_steps) const {
    run::StageSettings stages;
    stages.clean = settings;
    Cleaned result;
    if (network_ == nullptr) {
      result.turn = settings.turn;
      result.pages = clean::clean(scan, settings, keep_steps);
      return result;
    }
    run::CleanedScan cleaned =
        run::clean_and_segment(scan, *network_, recogniser_.get(), stages, keep_steps);
    result.turn = cleaned.turn;
    result.turn_confidence = cleaned.sure;
    result.pages = std::move(cleaned.pages);
    for (clean::CleanResult& page : result.pages) page.page.blocks.clear();
    return result;
  }

  int all() {
    make_folder(o_.folder);
    const int code = for_each_page(
        {o_.inputs, o_.pages, o_.limits, o_.threads}, context_,
        [&](const ScanFile& file, int number) { check_targets(page_name(file, number)); },
        [&](const ScanFile& file, int number) { one(file, number); });
    std::string table = kHeader;
    for (const auto& [key, row] : rows_) table += row;
    if (code != kNothing) write_file((fs::path(o_.folder) / "clean.tsv").string(), table);
    std::vector<report::Comparison> comparisons;
    for (auto& [key, comparison] : comparisons_) comparisons.push_back(std::move(comparison));
    write_sheets(comparisons);
    return code;
  }

  // One page with several values of one setting.
  int tried() {
    if (o_.vary.empty() || o_.sheets.empty())
      throw SettingsError(
          "--try needs --vary KEY=VALUE,VALUE... with the setting to try, and --sheet FILE for the "
          "comparison");
    const size_t equals = o_.vary.find('=');
    if (equals == std::string::npos)
      throw SettingsError("--vary " + o_.vary +
                          ": KEY=VALUE,VALUE is expected, as in specks=2px,4px");
    const std::string key = o_.vary.substr(0, equals);
    varied(key, split(o_.vary.substr(equals + 1)).front());  // a wrong one is told before any work
    report::Comparison comparison;
    int code = for_each_page(
        {{o_.inputs.front()}, std::to_string(o_.try_page), o_.limits, 1}, context_,
        [](const ScanFile&, int) {},
        [&](const ScanFile& file, int number) {
          const Scan scan = scan_of(file, number);
          std::vector<report::Variant> variants;
          for (const std::string& value : split(o_.vary.substr(equals + 1))) {
            clean::CleanSettings settings = varied(key, value);
            variants.push_back({key + " = " + value, {}});
            variants.back().cleaned = std::move(clean(scan, settings, false).pages.front());
          }
          comparison = {fmt::format("{}, page {}: {}", file.path(), number, o_.vary),
                        report::panels_of(variants)};
        });
    if (code == kNothing) {
      context_.console.warn(fmt::format("{} has no page {}", o_.inputs.front(), o_.try_page));
      return code;
    }
    std::vector<report::Comparison> one;
    one.push_back(std::move(comparison));
    write_sheets(one);
    return code;
  }

 private:
  Scan scan_of(const ScanFile& file, int number) const {
    for (const run::ScanTask& task : scans_.tasks)
      if (task.page == number && task.file->path() == file.path()) return run::scan_of(task);
    return file.read(number);
  }

  void one(const ScanFile& file, int number) {
    const Scan scan = scan_of(file, number);
    const bool keep_steps = !o_.sheets.empty();
    const Cleaned cleaned = clean(scan, o_.settings, keep_steps);
    for (const clean::CleanResult& r : cleaned.pages) {
      const std::string name = page_name(file, number) + side_suffix(r.page.part);
      write_page(r, name);
      const std::lock_guard<std::mutex> lock(guard_);
      const std::tuple key{scan.file, scan.page, r.page.part};
      rows_[key] = row_of(cleaned, r);
      if (keep_steps) comparisons_[key] = {name, report::panels_of(scan, r)};
      if (cleaned.turn != 0)
        context_.console.say(
            fmt::format("{}: turned by {} degrees counter-clockwise", name, cleaned.turn));
      for (const std::string& note : r.notes) context_.console.say(name + ": " + note);
    }
  }

  // Of a spread the left page's name is looked at: both are written or none.
  void check_targets(const std::string& name) const {
    for (const std::string& page : {name, name + side_suffix(1)})
      check_target((fs::path(o_.folder) / (page + ".xml")).string(), o_.overwrite);
  }

  void write_page(const clean::CleanResult& r, const std::string& name) const {
    const std::string base = fs::path(o_.folder) / name;
    std::string image;
    Page page = r.page;
    if (o_.form != "page") {
      image = name + (o_.form == "both" && o_.picture == "tiff" ? "-ink.tif" : ".tif");
      clean::PrintedPage printed = clean::printed_page(r);
      if (o_.form == "bitonal") page = printed.page;
      write_picture((fs::path(o_.folder) / image).string(), std::move(printed.ink),
                    printed.page.dpi, o_.overwrite);
    }
    if (o_.form != "bitonal") {
      image = name + (o_.picture == "tiff" ? ".tif" : ".png");
      if (o_.picture == "tiff")
        write_picture(base + ".tif", r.picture, r.page.dpi, o_.overwrite);
      else
        write_file(base + ".png", write_png(r.picture, r.page.dpi), o_.overwrite);
    }
    page.relative_file = relative_path(page.file, o_.folder);
    write_file(base + ".xml", write_page_xml(page, image), o_.overwrite);
  }

  // The settings with one of them changed, by the same options that the command has.
  clean::CleanSettings varied(const std::string& key, const std::string& value) const {
    clean::CleanSettings settings = o_.settings;
    CommandLine settings_line("settings", "");
    Command parser = settings_line.root();
    add_cleaning(parser, settings);
    if (!parser.has_option(key))
      throw SettingsError("--vary " + key + ": there is no setting of that name");
    try {
      if (!parser.is_flag(key)) parser.take({"--" + key + "=" + value});
      if (parser.is_flag(key) && value == "true") parser.take({"--" + key});
    } catch (const SettingsError& wrong) {
      throw SettingsError(fmt::format("--vary {}={}: {}", key, value, wrong.what()));
    }
    return settings;
  }

  void write_sheets(const std::vector<report::Comparison>& comparisons) {
    for (const std::string& path : o_.sheets) {
      if (fs::path(path).extension() == ".png") {
        const Picture picture = report::comparison_picture(comparisons);
        write_file(path, write_png(picture, 0), o_.overwrite);
      } else {
        write_file(path, report::comparison_html(comparisons), o_.overwrite);
      }
      context_.console.say("written: " + path);
    }
  }

  CleanOptions& o_;
  Context& context_;
  std::unique_ptr<layout::PageNetwork> network_;  // none: pages are taken as they stand
  std::unique_ptr<recognise::Recogniser> recogniser_;
  run::ScanList scans_;  // with --leaves
  std::mutex guard_;
  InOrder<std::string> rows_;
  InOrder<report::Comparison> comparisons_;
};

int clean_all(CleanOptions& o, Context& context) {
  for (const std::string& path : o.sheets) {
    const std::string ending = fs::path(path).extension();
    if (ending != ".html" && ending != ".png")
      throw SettingsError("--sheet " + path + ": the ending says what to write, .html or .png");
  }
  if (o.folder.empty() && o.try_page == 0)
    throw SettingsError("say where the pages go: --out-dir DIR");
  Cleaner cleaner(o, context);
  return o.try_page > 0 ? cleaner.tried() : cleaner.all();
}

}  // namespace

void add_clean(CommandLine& line, Context& context) {
  Command command = line.root().command("clean", "scans in, straight and clean page pictures out");
  auto o = std::make_shared<CleanOptions>();
  command.option("input", o->inputs, "pictures, PDFs, folders of them").required();
  command.option("--out-dir", o->folder, "NAME.png, NAME.tif, NAME.xml and clean.tsv go here")
      .type_name("DIR");
  command
      .option(
          "--form", o->form,
          "page (gray or colour as scanned), bitonal (TIFF, Group 4; below 400 dpi at twice the "
          "scan's resolution), or both")
      .one_of({"page", "bitonal", "both"})
      .default_shown();
  command.option("--picture", o->picture, "file type of gray and colour pages")
      .one_of({"png", "tiff"})
      .default_shown();
  command
      .option("--sheet", o->sheets,
              "before and after, step by step, with a magnified detail (.html or .png)")
      .type_name("FILE")
      .take_all();
  command
      .option("--try", o->try_page,
              "don't clean: show this page with the values of --vary side by side in --sheet")
      .positive()
      .type_name("PAGE");
  command.option("--vary", o->vary, "a setting and the values to try, as in specks=0,2px,4px")
      .type_name("KEY=VALUES");
  command.option("--pages", o->pages, "pages of every input file, as in 3-7,12").type_name("RANGE");
  command.option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      .between(1, 1024);
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  command
      .option("--turn", o->turn,
              "turn every page counter-clockwise by 0, 90, 180 or 270 degrees; auto: see by "
              "reading a few lines")
      .one_of({"auto", "0", "90", "180", "270"})
      .default_shown();
  add_recipe(command);
  add_leaves(command, o->leaves);
  add_cleaning(command, o->settings);
  add_limits(command, o->limits);
  add_model(command, context, o->model);
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher clean box3.tif --out-dir pages --form both --sheet pages.html\n"
      "  burnisher clean box3.tif --try 4 --vary specks=0,2px,4px --sheet specks.html");
  command.action([o, &context] { return clean_all(*o, context); });
}

}  // namespace burnisher::cli
