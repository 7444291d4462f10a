#include <fmt/core.h>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "cli/remedies.h"
#include "correct/changes.h"
#include "correct/correct.h"
#include "pagefile/page_file.h"

namespace burnisher::cli {
namespace {

struct CorrectOptions {
  std::vector<std::string> inputs;
  LexiconOptions lexicon;
  ResultPlace place;
  std::string repair = "safe", changes;
  correct::CorrectSettings settings;
};

int correct_all(CorrectOptions& o, Context& context) {
  o.place.check();
  if (!o.changes.empty()) check_target(o.changes, o.place.overwrite);
  PageFiles read = read_page_files(o.inputs, context.console);
  if (read.files.empty()) return kNothing;
  const auto lexicon = o.lexicon.open();
  o.settings.repair = repair_named(o.repair);
  o.settings.languages = split(o.lexicon.languages);
  std::vector<Page*> pages;
  for (PageFile& file : read.files) {
    for (Page& page : file.pages) pages.push_back(&page);
  }
  const correct::ConfusionModel confusions =
      context.models.confusion_model_for({pages.begin(), pages.end()});
  const correct::CorrectReport report = correct::correct(pages, *lexicon, confusions, o.settings);
  size_t kept = 0;
  for (const PageFile& file : read.files)
    kept += o.place.write(file.path, written(file), context.console);
  if (kept == 0) return kNothing;
  read.failed = read.failed || kept < read.files.size();
  if (!o.changes.empty())
    write_file(o.changes, correct::changes_table(report.changes), o.place.overwrite);
  context.console.say(
      fmt::format("{} {}, {} words: {} suspects ({} unsure, {} unknown, {} odd), {} mended",
                  pages.size(), pages.size() == 1 ? "page" : "pages", report.words, report.suspects,
                  report.unsure, report.unknown, report.odd, report.changes.size()));
  for (const std::string& language : report.without_dictionary)
    context.console.point_out(missing_dictionary(language));
  refresh_indexes(o.inputs, context.console);
  return read.failed ? kSomeLeft : kAllDone;
}

}  // namespace

void add_correct(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "correct", "read pages in, the same with suspects marked and safe repairs made out");
  auto o = std::make_shared<CorrectOptions>();
  command
      .option("input", o->inputs,
              "PAGE XML or ALTO files or folders of them, together one document")
      .required();
  o->place.add(command);
  add_repair(command, o->repair);
  add_suspect_limit(command, o->settings);
  add_lexicon_options(command, o->lexicon);
  command.option("--changes", o->changes, "write the repairs here, as a table (TSV)")
      .type_name("FILE");
  add_models_folder(command, context);
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher correct read/ --out-dir checked --changes changes.tsv\n"
      "  burnisher correct checked/ --repair off --overwrite      takes repairs back");
  command.action([o, &context] { return correct_all(*o, context); });
}

}  // namespace burnisher::cli
