#include <fmt/core.h>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "correct/changes.h"
#include "correct/correct.h"
#include "page/page_file.h"

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
  const std::vector<std::string> paths = page_files(o.inputs);
  o.place.check();
  const auto lexicon = o.lexicon.open();
  const correct::ReadingHabits habits = correct::read_habits(shipped_habits());
  o.settings.repair = repair_named(o.repair);
  o.settings.languages = split(o.lexicon.languages);
  std::vector<PageFile> files;
  bool failed = false;
  for (const std::string& path : paths) {
    try {
      files.push_back(read_page_file(path));
    } catch (const Error& cause) {
      context.console.warn(cause.what());
      failed = true;
    }
  }
  if (files.empty()) return kNothing;
  std::vector<Page*> pages;
  for (PageFile& file : files) {
    for (Page& page : file.pages) pages.push_back(&page);
  }
  const correct::CorrectReport report = correct::correct(pages, *lexicon, habits, o.settings);
  for (const PageFile& file : files) o.place.write(file.path, written(file));
  if (!o.changes.empty())
    write_file(o.changes, correct::changes_table(report.changes), o.place.overwrite);
  context.console.say(
      fmt::format("{} {}, {} words: {} suspects ({} unsure, {} unknown, {} odd), {} mended",
                  pages.size(), pages.size() == 1 ? "page" : "pages", report.words, report.suspects,
                  report.unsure, report.unknown, report.odd, report.changes.size()));
  for (const std::string& language : report.without_dictionary)
    context.console.point_out(missing_dictionary(language));
  return failed ? kSomeLeft : kAllDone;
}

}  // namespace

void add_correct(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand(
      "correct", "read pages in, the same with suspects marked and safe repairs made out");
  auto o = std::make_shared<CorrectOptions>();
  command
      ->add_option("input", o->inputs,
                   "PAGE XML or ALTO files or folders of them, together one document")
      ->required();
  o->place.add(*command);
  add_repair(*command, o->repair);
  add_doubt(*command, o->settings);
  add_lexicon_options(*command, o->lexicon);
  command->add_option("--changes", o->changes, "write the repairs here, as a table (TSV)")
      ->type_name("FILE");
  add_quiet(*command, context);
  command->footer(
      "Examples:\n  burnisher correct read/ --out-dir checked --changes changes.tsv\n"
      "  burnisher correct checked/ --repair off --overwrite      takes repairs back");
  command->callback(
      [o, &context] { context.action = [o, &context] { return correct_all(*o, context); }; });
}

}  // namespace burnisher::cli
