#include "cli/run_options.h"

#include <algorithm>
#include <set>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "cli/fields.h"
#include "cli/given_options.h"
#include "cli/recipes.h"
#include "pagefile/page_xml.h"

namespace burnisher::cli {
namespace {

std::string first_line_of(const std::string& path) {
  const auto bytes = read_file(path);
  const std::string text(bytes.begin(), bytes.end());
  return text.substr(0, text.find_first_of("\r\n"));
}

void add_inputs_and_outputs(Command& command, RunOptions& o) {
  command.option("input", o.settings.inputs,
                 "pictures (PNG, JPEG, JPEG 2000, TIFF, PNM), PDFs, folders of them; those of an "
                 "existing job need not be named again");
  command
      .option("--out", o.settings.outputs,
              "one document of all inputs; the ending says the kind: .pdf .txt .md .epub .odt "
              ".xml (ALTO) "
              ".html (hOCR) .tsv .json (words) .csv .xlsx (tables) .mets (what belongs together)")
      .type_name("FILE")
      .take_all();
}

void add_places(Command& command, RunOptions& o) {
  run::RunSettings& s = o.settings;
  command.option("--out-dir", s.output_folder, "one document for each input file, in this folder")
      .type_name("DIR");
  command.option("--to", o.kinds, "with --out-dir: one or several of " + run::output_kind_names())
      .type_name("KINDS");
  command
      .option("--name", o.name, "with --out-dir: names of the files, {stem} stands for the input's")
      .type_name("PATTERN")
      .default_shown();
  command
      .option("--split-at", o.split_at,
              "with --out-dir: the inputs are one batch, cut into documents at blank sheets "
              "(blank), at sheets of `burnisher sheet` (separator), or where a barcode begins one "
              "(barcode=INV-*); --name may hold {n} and the names of the sheet's fields")
      .type_name("RULE");
  command.option("--pages", s.pages, "pages of every input file, as in 3-7,12").type_name("RANGE");
  command
      .option("--existing-text", o.existing_text,
              "PDF pages that have real text already: keep it, replace it by reading the page "
              "anew, or stop")
      .one_of({"keep", "replace", "stop"})
      .default_shown();
  command
      .option("--password-file", o.password_file,
              "file whose first line is the password of the PDFs")
      .type_name("FILE");
  command
      .option("--positions", o.positions,
              "positions in ALTO count in pixels of the straightened page or of the scan")
      .one_of({"page", "scan"})
      .default_shown();
}

void add_checking(Command& command, RunOptions& o) {
  run::RunSettings& s = o.settings;
  add_word_lists(command, o.lexicon);
  add_repair(command, o.repair);
  add_suspect_limit(command, s.correct);
  command
      .option("--hold-if", o.hold,
              "documents that wait for a person, as in suspects>2%,unsure>5%,no-text,"
              "wrong-language; with --out-dir they go into its folder 'waiting'")
      .type_name("RULES");
  add_field(command, o.fields);
  command
      .option("--fields", o.table,
              "table of descriptive fields, one row a file: tab-separated, with a column `file`")
      .type_name("FILE");
}

void add_job(Command& command, RunOptions& o) {
  run::RunSettings& s = o.settings;
  command
      .option("--job", s.job_folder,
              "keep in this folder all that was read: a later run with it goes on where this one "
              "ended, does again only what changed, and keeps what a person put right; an "
              "existing job needs no inputs and options again")
      .type_name("DIR");
  command.flag("--explain", o.explain, "with --job: say what would be done and why; do nothing");
  command.flag("--as-read", s.as_read,
               "with --job: pages that an earlier version of the program read, or other models, "
               "stay as they were read");
  command.flag("--afresh", s.afresh,
               "with --job: do everything again; pages that a person changed go to its folder "
               "removed/");
}

void add_stages(Command& command, RunOptions& o) {
  run::RunSettings& s = o.settings;
  command
      .option(
          "--turn", o.turn,
          "turn every page counter-clockwise by 0, 90, 180 or 270 degrees; auto: see by reading")
      .one_of({"auto", "0", "90", "180", "270"})
      .default_shown();
  add_recipe(command);
  add_leaves(command, s.stages.leaves);
  add_cleaning(command, s.stages.clean);
  add_layout(command, s.stages.segment);
  command
      .option("--stencil", o.stencils,
              "lay these blocks over every page (see `burnisher stencil`); two files: over odd "
              "and over even pages")
      .expected(1, 2)
      .type_name("FILE");
  add_kinds(command, s.kinds_wanted);
  add_reading(command, o.reading);
  command.flag("--barcodes", s.stages.barcodes,
               "look for barcodes; they go into PAGE XML, word lists and --json");
  command.option("--keep-steps", s.steps_folder, "keep the picture of every stage here, as PNG")
      .type_name("DIR");
}

// What a job keeps of the line: not how it is to be worked on, but what is to come of it.
run::GivenOptions kept_options(const Context& context, const std::string& folder) {
  static const std::set<std::string> not_kept = {
      "job",    "explain",   "as-read",    "afresh", "threads", "json",  "quiet",
      "recipe", "overwrite", "keep-steps", "on",     "nodes",   "slurm", "models"};
  CommandLine line("burnisher", "");
  Context fresh;
  add_run(line, fresh);
  const std::unique_ptr<Command> command = line.named("run");
  Given given = from_folder(
      *command, given_in(*command, {context.arguments.begin() + 1, context.arguments.end()}),
      folder);
  given.options.erase(std::remove_if(given.options.begin(), given.options.end(),
                                     [](const auto& one) { return not_kept.count(one.first) > 0; }),
                      given.options.end());
  return given.options;
}

}  // namespace

run::RunTools RunOptions::settle(Context& context) {
  run::RunSettings& s = settings;
  if (!s.job_folder.empty()) s.given = kept_options(context, s.job_folder);
  for (const std::string& kind : split(kinds)) s.kinds.push_back(run::output_kind_named(kind));
  s.languages = split(reading.languages);
  s.bundles = context.models.bundles(split(model));
  prefer_speakers(reading, s.bundles);
  choose_languages(reading, s.bundles, s.stages.recognise, context);
  if (!s.stages.recognise.spelling) s.languages.clear();
  lexicon.languages = reading.languages;
  open_lexicon = lexicon.open();
  run::RunTools tools;
  tools.lexicon = open_lexicon.get();
  tools.confusion_models = context.models.confusion_models();
  s.correct.repair = repair_named(repair);
  if (s.stages.recognise.spelling) s.correct.languages = s.stages.recognise.languages;
  s.hold = run::hold_rules(hold);
  s.split = run::split_rule(split_at);
  s.precision = reading.precision_wanted();
  delivery.settle(s.stages.recognise.spelling ? s.stages.recognise.languages
                                              : std::vector<std::string>{});
  tools.is_word =
      word_check(tools.lexicon, s.stages.recognise.spelling ? s.stages.recognise.languages
                                                            : std::vector<std::string>{});
  s.delivery = delivery.delivery;
  s.delivery.positions = positions == "scan" ? Positions::kScan : Positions::kPage;
  s.delivery.name = name;
  s.existing_text = existing_text == "keep"      ? run::ExistingText::kKeep
                    : existing_text == "replace" ? run::ExistingText::kReplace
                                                 : run::ExistingText::kStop;
  if (!password_file.empty()) s.limits.pdf_password = first_line_of(password_file);
  s.stages.upright.try_turns = turn == "auto";
  if (turn != "auto") s.stages.clean.turn = integer_in(turn).value_or(0);
  for (const std::string& path : stencils)
    s.stages.stencils.push_back(read_page_xml_file(path).page);
  s.page_model = context.models.page_model();
  if (s.stages.segment.text_angle != 0)
    s.stages.clean.deskew = false;  // the angle is that of the scan
  if (s.stages.clean.dpi > 0) s.limits.pdf_dpi = s.stages.clean.dpi;
  s.thumbnails = !delivery.report.empty();
  s.fields = fields_named(fields);
  if (!table.empty()) s.fields_by_file = fields_table(table);
  tools.lexicon_digest = lexicon.digest();
  return tools;
}

void RunOptions::add(Command& command, Context& context) {
  add_inputs_and_outputs(command, *this);
  add_unattended(command, context);
  add_job(command, *this);
  command
      .option("--on", on,
              "with --job: hand the work to a batch system that all machines with the job's folder "
              "belong to, and end; slurm is known")
      .one_of({"slurm"})
      .type_name("SYSTEM");
  command.option("--nodes", slurm.nodes, "with --on slurm: workers that share the job")
      .between(1, 100000)
      .default_shown();
  command
      .option("--slurm", slurm.options,
              "with --on slurm: more options for sbatch, as in --slurm=\"--partition=long "
              "--time=2:00:00\"")
      .type_name("TEXT");
  command.flag("--json", json, "print what was done as JSON on stdout");
}

void RunOptions::add_unattended(Command& command, Context& context) {
  add_places(command, *this);
  delivery.add(command);
  add_checking(command, *this);
  add_stages(command, *this);
  command
      .option("--threads", settings.threads,
              "pages and lines worked on at the same time (default: all cores)")
      .between(1, 1024);
  add_limits(command, settings.limits);
  add_model(command, context, model);
  add_quiet(command, context);
}

}  // namespace burnisher::cli
