#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "correct/decisions.h"
#include "correct/replace.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "run/amend_layout.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct AmendOptions {
  std::vector<std::string> inputs, replace;
  std::string images;
  ResultPlace place;
  correct::ReplaceSettings settings;
  bool part = false, dry_run = false;
};

// Without a picture, words are known by their place and their text alone.
Gray picture_of(const PageFile& file, const std::string& images) {
  try {
    return to_gray(page_picture(file, images));
  } catch (const Error&) {
    return {};
  }
}

// Kept in a job, decisions are applied again when its pages are read again.
void keep_in_job(const std::string& folder, const std::vector<correct::Decision>& decisions) {
  const std::string path = (fs::path(folder) / "decisions.tsv").string();
  std::vector<correct::Decision> all;
  if (fs::exists(path)) all = correct::read_decisions(path);
  for (const correct::Decision& d : decisions) {
    const auto same = [&](const correct::Decision& old) {
      return old.file == d.file && old.page == d.page && old.box.x0 == d.box.x0 &&
             old.box.y0 == d.box.y0 && old.read == d.read;
    };
    all.erase(std::remove_if(all.begin(), all.end(), same), all.end());
    all.push_back(d);
  }
  write_file(path, correct::decisions_table(all));
}

void add_to_user_list(const std::vector<std::string>& words, Console& console) {
  if (words.empty()) return;
  correct::WordList list = correct::WordList::read(user_word_list());
  int added = 0;
  for (const std::string& word : words) added += list.add(correct::form_of(word).core);
  if (added == 0) return;
  list.write(user_word_list());
  console.say(
      fmt::format("{} {} added to {}", added, added == 1 ? "word" : "words", user_word_list()));
}

int apply(AmendOptions& o, PageFiles& read, const std::string& table, Context& context) {
  const std::vector<correct::Decision> decisions = correct::read_decisions(table);
  std::vector<bool> taken;
  int applied = 0, already = 0;
  std::vector<std::string> words;
  bool problems = read.failed;
  for (PageFile& file : read.files) {
    std::vector<Page*> pages;
    for (Page& page : file.pages) pages.push_back(&page);
    const correct::Outcome outcome = correct::apply_decisions(
        decisions, [&](size_t) { return picture_of(file, o.images); }, pages, taken);
    applied += outcome.applied;
    already += outcome.already;
    words.insert(words.end(), outcome.lexicon_words.begin(), outcome.lexicon_words.end());
    for (const std::string& problem : outcome.problems) {
      context.console.warn(table + ", " + problem);
      problems = true;
    }
    if (outcome.applied > 0 || !o.place.folder.empty())
      problems = !o.place.write(file.path, written(file), context.console) || problems;
  }
  for (size_t i = 0; i < decisions.size(); ++i) {
    if (taken[i]) continue;
    problems = true;
    context.console.warn(fmt::format("{}, row {}: page {} of {} is none of these pages", table,
                                     decisions[i].row, decisions[i].page, decisions[i].file));
  }
  for (const std::string& input : o.inputs) {
    if (fs::is_directory(input) && o.place.folder.empty()) keep_in_job(input, decisions);
  }
  add_to_user_list(words, context.console);
  context.console.say(fmt::format("{} {} applied, {} applied before", applied,
                                  applied == 1 ? "decision" : "decisions", already));
  return problems ? kSomeLeft : kAllDone;
}

int replace(AmendOptions& o, PageFiles& read, Context& context) {
  o.settings.from = o.replace[0];
  o.settings.to = o.replace[1];
  o.settings.whole_words = !o.part;
  int places = 0, changed_files = 0;
  for (PageFile& file : read.files) {
    std::vector<Page*> pages;
    for (Page& page : file.pages) pages.push_back(&page);
    const auto changes = correct::replace_all(pages, o.settings, o.dry_run);
    for (const correct::Change& c : changes) {
      fmt::print("{}, page {}: {} -> {}\n    {}\n", file.path, c.page, c.before,
                 c.after.empty() ? "(removed)" : c.after, c.line);
    }
    places += static_cast<int>(changes.size());
    changed_files += !changes.empty();
    if (!o.dry_run && (!changes.empty() || !o.place.folder.empty()))
      read.failed = !o.place.write(file.path, written(file), context.console) || read.failed;
  }
  context.console.say(fmt::format("{} {} in {} {}{}", places, places == 1 ? "place" : "places",
                                  changed_files, changed_files == 1 ? "file" : "files",
                                  o.dry_run ? "; nothing was written" : " changed"));
  return read.failed ? kSomeLeft : kAllDone;
}

int lay_out(const std::string& folder, const std::string& path, Context& context) {
  const auto bytes = read_file(path);
  std::vector<layout::PageMarks> marks;
  try {
    marks = layout::read_marks(std::string(bytes.begin(), bytes.end()));
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
  const run::LayoutOutcome outcome = run::amend_layout(folder, marks);
  for (const std::string& problem : outcome.problems) context.console.warn(path + ", " + problem);
  context.console.say(fmt::format(
      "{} {} laid out anew, {} before; `burnisher run --job {}` reads what that asks for",
      outcome.applied, outcome.applied == 1 ? "page" : "pages", outcome.already, folder));
  return outcome.problems.empty() ? kAllDone : kSomeLeft;
}

int amend_all(AmendOptions& o, Context& context) {
  if (o.inputs.size() == 2 && fs::path(o.inputs[1]).extension() == ".json") {
    const int code = lay_out(o.inputs[0], o.inputs[1], context);
    refresh_indexes({o.inputs[0]}, context.console);
    return code;
  }
  std::string table;
  if (o.replace.empty()) {
    if (o.inputs.size() < 2)
      throw SettingsError(
          "name the pages and then the table of decisions, or use --replace OLD NEW");
    table = o.inputs.back();
    o.inputs.pop_back();
  }
  // Where pages and decisions belong together in a job, they are changed in place.
  if (!o.dry_run && o.place.folder.empty() && !o.place.overwrite) {
    const bool jobs = std::all_of(o.inputs.begin(), o.inputs.end(),
                                  [](const std::string& input) { return fs::is_directory(input); });
    if (!jobs) o.place.check();
  }
  PageFiles read = read_page_files(o.inputs, context.console);
  if (read.files.empty()) return kNothing;
  const int code = table.empty() ? replace(o, read, context) : apply(o, read, table, context);
  refresh_indexes(o.inputs, context.console);
  return code;
}

}  // namespace

void add_amend(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "amend", "a person's decisions and marks, or one word for another, into read pages");
  auto o = std::make_shared<AmendOptions>();
  command
      .option(
          "input", o->inputs,
          "PAGE XML or ALTO files or folders of them (a folder is a job and is changed in "
          "place); then the table of decisions that the proof sheet saved, or the layout (.json) "
          "that the layout sheet saved")
      .required();
  command.option("--replace", o->replace, "change every OLD to NEW and list the places")
      .expected(2, 2)
      .type_name("OLD NEW");
  command.flag("--part", o->part, "also inside other words (default: whole words only)");
  command.flag("--ignore-case", o->settings.ignore_case, "capitals and small letters alike");
  command.flag("--regex", o->settings.expression,
               "OLD is a regular expression; NEW may use $1 for its first group");
  command.flag("--dry-run", o->dry_run, "only list the places");
  command.option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      .type_name("DIR");
  o->place.add(command);
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher amend box3 decisions.tsv\n"
      "  burnisher amend box3 layout.json\n"
      "  burnisher amend box3 --replace Skerow Skerrow --dry-run");
  command.action([o, &context] { return amend_all(*o, context); });
}

}  // namespace burnisher::cli
