#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <optional>

#include "base/error.h"
#include "base/files.h"
#include "base/parallel.h"
#include "cli/commands.h"
#include "cli/delivery_options.h"
#include "cli/fields.h"
#include "pagefile/page_file.h"
#include "report/delivery_report.h"
#include "run/checks.h"
#include "run/document_set.h"
#include "run/kept_places.h"
#include "run/steps.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct ExportOptions {
  std::vector<std::string> inputs, outputs, fields;
  std::string images, positions = "page", languages, keep;
  DeliveryOptions delivery;
  LexiconOptions lexicon;
  KindChoice kinds;
  ScanLimits limits;
};

struct Wanted : run::Wanted {
  bool thumbnail = false;
};

struct Made {
  run::FinishedPage page;
  std::shared_ptr<const Gray> thumbnail;
  std::optional<Problem> failure;
};

// A facsimile shows the scan itself, where it was when it was read or among the pictures.
run::SharedPicture facsimile_of(const ExportOptions& o, const PageFile& read) {
  const Page& page = read.pages.front();
  const std::string scan = scan_path(page, read.path, o.images);
  if (scan.empty()) {
    throw InputError(read.path + ": its scan " + page.file + " is not there; a facsimile needs it",
                     ErrorCode::kScanMissing);
  }
  if (page.part == 2) return nullptr;  // on the sheet of the left page
  const ScanFile file(scan, o.limits);
  return run::picture_of(file, file.read(page.number), o.delivery.delivery.pdf.picture);
}

bool has_pictures(const Page& page) {
  return std::any_of(page.blocks.begin(), page.blocks.end(),
                     [](const Block& b) { return b.kind == BlockKind::kPicture; });
}

bool is_blank(const Page& page) {
  return !page.has_words() && !has_pictures(page);
}

struct Leaf {
  std::string path;
  bool replaced = false;
  std::vector<int> blocks = {};  // that are kept; none: all
};

Made finished(const ExportOptions& o, const Leaf& from, const Wanted& wanted) {
  const std::string& path = from.path;
  PageFile read = read_page_file(path);
  if (read.format != PageFile::Format::kPageXml)
    throw FormatError(path + ": is ALTO; documents are made of PAGE XML and page pictures");
  run::keep_blocks(from.blocks, read.pages.front());
  const pdf::PictureSettings& settings = o.delivery.delivery.pdf.picture;
  Page& leaf = read.pages.front();
  const bool facsimile = settings.face == pdf::PageFace::kFacsimile;
  const bool cut = wanted.illustrations && has_pictures(leaf);
  std::optional<Picture> picture;
  if (cut || wanted.thumbnail || (wanted.picture && !facsimile))
    picture = page_picture(read, o.images, o.limits);
  if (picture && !from.blocks.empty()) run::clear_outside(leaf, *picture);
  Made made;
  run::FinishedPage& page = made.page;
  if (wanted.thumbnail) made.thumbnail = run::thumbnail_of(*picture);
  if (cut) page.illustrations = run::illustrations_of(*picture, leaf, settings);
  if (wanted.picture && facsimile)
    page.picture = facsimile_of(o, read);
  else if (wanted.picture)
    page.picture = run::picture_of(std::move(*picture), leaf, settings);
  page.page_file = path;
  if (!read.image_name.empty() && fs::exists(picture_path(read, o.images)))
    page.picture_file = picture_path(read, o.images);
  page.page = std::move(read.pages.front());
  page.blank = is_blank(page.page);
  o.kinds.apply(page.page);
  return made;
}

// Another picture in a page's place, with nothing read on it.
Made unread(const ExportOptions& o, const std::string& path, const Wanted& wanted) {
  const ScanFile file(path, o.limits);
  const Scan scan = file.read(1);
  Made made;
  run::FinishedPage& page = made.page;
  page.page.file = path;
  page.page.width = width_of(scan.picture);
  page.page.height = height_of(scan.picture);
  if (scan.stated_dpi > 0) page.page.dpi = scan.stated_dpi;
  if (wanted.thumbnail) made.thumbnail = run::thumbnail_of(scan.picture);
  if (wanted.picture) page.picture = run::picture_of(file, scan, o.delivery.delivery.pdf.picture);
  return made;
}

std::vector<Leaf> leaves_of(const ExportOptions& o, std::vector<Problem>& problems) {
  std::vector<Leaf> leaves;
  for (const std::string& path : page_files(o.inputs, problems)) leaves.push_back({path, false});
  const int count = static_cast<int>(leaves.size());
  for (const Replacement& wanted : o.delivery.delivery.replacements) {
    if (wanted.page > count)
      throw SettingsError("replace-page", fmt::format("{}={}: there is no such page, there are {}",
                                                      wanted.page, wanted.file, count));
    leaves[static_cast<size_t>(wanted.page - 1)] = {wanted.file, true};
  }
  std::vector<Leaf> ordered;
  if (!o.keep.empty()) {
    for (const run::KeptPage& kept : run::kept_places(o.keep, count)) {
      ordered.push_back(leaves[static_cast<size_t>(kept.page - 1)]);
      ordered.back().blocks = kept.blocks;
    }
    return ordered;
  }
  if (o.delivery.delivery.order.empty()) return leaves;
  for (const int page : page_order(o.delivery.delivery.order, count))
    ordered.push_back(leaves[static_cast<size_t>(page - 1)]);
  return ordered;
}

// Pages are made side by side and go into the documents in order.
class Exporter {
 public:
  Exporter(const ExportOptions& options, const WordCheck& is_word, Context& context)
      : o_(options), is_word_(is_word), context_(context) {}

  int go() {
    run::WantedDocuments wanted;
    needed_.thumbnail = !o_.delivery.report.empty();
    for (const std::string& path : o_.outputs) {
      const run::OutputKind kind = run::output_kind_of(path);
      check_target(path, o_.delivery.delivery.overwrite);
      wanted.emplace_back(kind, path);
      needed_.add(kind);
    }
    leaves_ = leaves_of(o_, report_.problems);
    const run::Origin origin{stem_of(o_.outputs.front()), "", "", run::paths_of(wanted), is_word_};
    documents_.emplace(wanted, origin, o_.delivery.delivery, report_.problems);
    in_order(
        static_cast<int>(leaves_.size()),
        [&](int i) { return made(leaves_[static_cast<size_t>(i)]); },
        [&](Made& made) { take(made); });
    if (documents_->pages() > 0) finish();
    for (const Problem& problem : report_.problems) context_.console.warn(told(problem));
    if (!o_.delivery.report.empty() && !report_.nothing_done())
      write_file(o_.delivery.report, report::delivery_report(report_),
                 o_.delivery.delivery.overwrite);
    if (report_.nothing_done()) return kNothing;
    return report_.problems.empty() ? kAllDone : kSomeLeft;
  }

 private:
  Made made(const Leaf& leaf) const {
    try {
      return leaf.replaced ? unread(o_, leaf.path, needed_) : finished(o_, leaf, needed_);
    } catch (const std::exception& cause) {
      Made failed;
      failed.page.page.file = leaf.path;
      failed.failure = problem_of(cause);
      return failed;
    }
  }

  void take(const Made& made) {
    report(made);
    ++taken_;
    if (made.failure) {
      report_.problems.push_back(*made.failure);
    } else if (made.page.blank && o_.delivery.delivery.drop_blank) {
      context_.console.say(made.page.page.file + ": blank; left out");
    } else {
      documents_->add(made.page,
                      made.page.page_file.empty() ? made.page.page.file : made.page.page_file);
    }
    context_.console.advance("pages", taken_, static_cast<double>(leaves_.size()));
  }

  void finish() {
    for (const run::DocumentSet::Written& written :
         documents_->finish(run::source_bytes_of(report_.pages))) {
      context_.console.say("written: " + written.path);
      report_.written.push_back(written.path);
      if (written.remark.empty()) continue;
      report_.remarks.emplace_back(written.path, written.remark);
      context_.console.say(written.path + ": " + written.remark);
    }
  }

  void report(const Made& made) {
    run::PageReport page = run::report_of(made.page.page);
    page.thumbnail = made.thumbnail;
    page.blank = made.page.blank;
    page.failed = made.failure.has_value();
    page.look = page.failed ? std::vector<std::string>{told(*made.failure)}
                            : run::reasons_to_look(made.page.page, run::RunSettings().look_below);
    report_.pages.push_back(std::move(page));
  }

  const ExportOptions& o_;
  WordCheck is_word_;
  Context& context_;
  std::vector<Leaf> leaves_;
  std::optional<run::DocumentSet> documents_;
  Wanted needed_;
  run::RunReport report_;
  int taken_ = 0;
};

// What was left out would be there all the same.
void check_kept(const ExportOptions& o) {
  if (o.keep.empty()) return;
  if (!o.delivery.delivery.order.empty())
    throw SettingsError(
        "keep", o.keep + ": says the order of the pages too; --order is not needed with it");
  if (o.delivery.delivery.pdf.picture.face == pdf::PageFace::kFacsimile)
    throw SettingsError("keep",
                        o.keep + ": a facsimile shows the scan as it is; another --face is needed");
  for (const std::string& path : o.outputs)
    if (run::output_kind_of(path) == run::OutputKind::kMets)
      throw SettingsError("keep", o.keep + ": " + path + " names the files of whole pages");
}

int export_all(ExportOptions& o, Context& context) {
  const std::vector<std::string> languages = split(o.languages);
  check_languages(languages);
  const auto lexicon = o.lexicon.open();
  o.delivery.settle(languages);
  run::describe(fields_named(o.fields), o.delivery.delivery.pdf.about);
  check_kept(o);
  o.delivery.delivery.positions = o.positions == "scan" ? Positions::kScan : Positions::kPage;
  return Exporter(o, word_check(lexicon.get(), languages), context).go();
}

}  // namespace

void add_export(CommandLine& line, Context& context) {
  Command command = line.root().command("export", "PAGE XML and page pictures in, documents out");
  auto o = std::make_shared<ExportOptions>();
  command
      .option("input", o->inputs,
              "PAGE XML files, one a page, in order, or folders of them, as a job")
      .required();
  command
      .option(
          "--out", o->outputs,
          "the ending says the kind: .pdf .txt .md .epub .odt .xml (ALTO) .html (hOCR) .tsv .json "
          "(words) .csv .xlsx (tables) .mets (what belongs together)")
      .required()
      .type_name("FILE")
      .take_all();
  command.option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      .type_name("DIR");
  command
      .option("--positions", o->positions,
              "positions in ALTO count in pixels of the page or of the scan")
      .one_of({"page", "scan"})
      .default_shown();
  command.option("--lang", o->languages, "languages of the text, as in en,de").type_name("TAGS");
  o->delivery.add(command);
  add_field(command, o->fields);
  command
      .option("--keep", o->keep,
              "only these pages, and of some only these blocks (numbered as in PAGE XML), as in "
              "2:3+4,6-8; the rest is in neither text nor picture")
      .type_name("PLACES");
  add_word_lists(command, o->lexicon);
  add_kinds(command, o->kinds);
  add_limits(command, o->limits);
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher export read/*.xml --images pages --out box3.pdf\n"
      "  burnisher export box3 --out box3.pdf --overwrite\n"
      "  burnisher export log --out log.pdf --archive --title \"Keeper's log\" --labels "
      "1-6:i,7-:1\n"
      "  burnisher export log --out log.md --drop-blank");
  command.action([o, &context] { return export_all(*o, context); });
}

}  // namespace burnisher::cli
