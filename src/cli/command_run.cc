#include <fmt/core.h>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "cli/commands.h"
#include "cli/delivery_options.h"
#include "cli/recipes.h"
#include "cli/remedies.h"
#include "pagefile/page_xml.h"
#include "report/delivery_report.h"
#include "run/run.h"

namespace burnisher::cli {
namespace {

struct RunOptions {
  run::RunSettings settings;
  std::vector<std::string> stencils;
  ReadingOptions reading;
  LexiconOptions lexicon;
  DeliveryOptions delivery;
  std::unique_ptr<correct::Lexicon> open_lexicon;
  std::string repair = "safe", hold;
  std::string kinds, positions = "page", turn = "auto", name = "{stem}";
  std::string existing_text = "keep", password_file, model;
  bool json = false;
};

nlohmann::json changes_json(const std::vector<correct::Change>& changes) {
  nlohmann::json list = nlohmann::json::array();
  for (const correct::Change& c : changes)
    list.push_back({{"before", c.before}, {"after", c.after}, {"line", c.line}});
  return list;
}

nlohmann::json json_of(const run::RunReport& report) {
  nlohmann::json pages = nlohmann::json::array();
  for (const run::PageReport& p : report.pages) {
    pages.push_back({{"file", p.file},
                     {"page", p.number},
                     {"part", p.part},
                     {"failed", p.failed},
                     {"blank", p.blank},
                     {"languages", p.languages},
                     {"words", p.words},
                     {"suspects", p.suspects},
                     {"repairs", changes_json(p.changes)},
                     {"held", p.held},
                     {"confidence", p.confidence},
                     {"printed_number", p.printed_number},
                     {"dpi", p.dpi},
                     {"skew", p.skew},
                     {"perspective", p.perspective},
                     {"curl", p.curl},
                     {"turn", p.turn},
                     {"turn_confidence", p.turn_confidence},
                     {"seconds", p.seconds},
                     {"notes", p.notes},
                     {"look", p.look}});
  }
  nlohmann::json problems = nlohmann::json::array();
  for (const Problem& problem : report.problems) problems.push_back(told(problem));
  return {{"pages", pages},
          {"written", report.written},
          {"waiting", report.waiting},
          {"problems", problems},
          {"cancelled", report.cancelled},
          {"source_bytes", run::source_bytes_of(report.pages)},
          {"seconds", report.seconds}};
}

void print_summary(const run::RunReport& report, Console& console) {
  int failed = 0, blank = 0, look = 0, suspects = 0, repairs = 0;
  for (const run::PageReport& p : report.pages) {
    failed += p.failed;
    blank += p.blank;
    suspects += p.suspects;
    repairs += static_cast<int>(p.changes.size());
    look += !p.failed && !p.look.empty();
  }
  console.say(fmt::format("{} {} in {:.1f} s{}{}{}", report.pages.size(),
                          report.pages.size() == 1 ? "page" : "pages", report.seconds,
                          blank ? fmt::format(", {} blank", blank) : "",
                          look ? fmt::format(", {} to look at", look) : "",
                          failed ? fmt::format(", {} failed", failed) : ""));
  if (suspects + repairs > 0)
    console.say(fmt::format("{} suspect {}, {} mended", suspects, suspects == 1 ? "word" : "words",
                            repairs));
  for (const std::string& path : report.written) console.say("written: " + path);
  for (const std::string& path : report.waiting) console.point_out("waits for a person: " + path);
  for (const run::PageReport& p : report.pages) {
    for (const std::string& reason : p.held)
      console.point_out(fmt::format("held because of {}: {}", place_of(p), reason));
    for (const std::string& reason : p.look) {
      if (p.failed)
        console.warn(told({reason, p.failure}));
      else
        console.point_out(fmt::format("look at {}: {}", place_of(p), reason));
    }
  }
  for (const Problem& problem : report.problems) console.warn(told(problem));
}

std::string first_line_of(const std::string& path) {
  const auto bytes = read_file(path);
  const std::string text(bytes.begin(), bytes.end());
  return text.substr(0, text.find_first_of("\r\n"));
}

int run_all(RunOptions& options, Context& context) {
  run::RunSettings& s = options.settings;
  for (const std::string& kind : split(options.kinds))
    s.kinds.push_back(run::output_kind_named(kind));
  s.languages = split(options.reading.languages);
  s.bundles = context.models.bundles(split(options.model));
  choose_languages(options.reading, s.bundles, s.stages.recognise, context);
  if (!s.stages.recognise.spelling) s.languages.clear();
  options.lexicon.languages = options.reading.languages;
  options.open_lexicon = options.lexicon.open();
  run::RunTools tools;
  tools.lexicon = options.open_lexicon.get();
  tools.confusion_models = context.models.confusion_models();
  s.correct.repair = repair_named(options.repair);
  if (s.stages.recognise.spelling) s.correct.languages = s.stages.recognise.languages;
  s.hold = run::hold_rules(options.hold);
  s.precision = options.reading.precision_wanted();
  options.delivery.settle(s.stages.recognise.spelling ? s.stages.recognise.languages
                                                      : std::vector<std::string>{});
  tools.is_word =
      word_check(tools.lexicon, s.stages.recognise.spelling ? s.stages.recognise.languages
                                                            : std::vector<std::string>{});
  s.delivery = options.delivery.delivery;
  s.delivery.positions = options.positions == "scan" ? Positions::kScan : Positions::kPage;
  s.delivery.name = options.name;
  s.existing_text = options.existing_text == "keep"      ? run::ExistingText::kKeep
                    : options.existing_text == "replace" ? run::ExistingText::kReplace
                                                         : run::ExistingText::kStop;
  if (!options.password_file.empty()) s.limits.pdf_password = first_line_of(options.password_file);
  s.stages.upright.try_turns = options.turn == "auto";
  if (options.turn != "auto") s.stages.clean.turn = integer_in(options.turn).value_or(0);
  for (const std::string& path : options.stencils)
    s.stages.stencils.push_back(read_page_xml_file(path).page);
  s.page_model = context.models.page_model();
  if (s.stages.segment.text_angle != 0)
    s.stages.clean.deskew = false;  // the angle is that of the scan
  if (s.stages.clean.dpi > 0) s.limits.pdf_dpi = s.stages.clean.dpi;
  s.thumbnails = !options.delivery.report.empty();
  const run::RunReport report = run::run(s, tools, context.console);
  if (!options.delivery.report.empty())
    write_file(options.delivery.report, report::delivery_report(report), s.delivery.overwrite);
  print_summary(report, context.console);
  if (options.json)
    fmt::print("{}\n",
               json_of(report).dump(2, ' ', false, nlohmann::json::error_handler_t::replace));
  if (report.nothing_done()) return kNothing;
  return report.all_well() ? kAllDone : kSomeLeft;
}

void add_inputs_and_outputs(Command& command, RunOptions& o) {
  run::RunSettings& s = o.settings;
  command
      .option("input", s.inputs,
              "pictures (PNG, JPEG, JPEG 2000, TIFF, PNM), PDFs, folders of them")
      .required();
  command
      .option("--out", s.outputs,
              "one document of all inputs; the ending says the kind: .pdf .txt .md .epub .odt "
              ".xml (ALTO) "
              ".html (hOCR) .tsv .json (words) .csv .xlsx (tables) .mets (what belongs together)")
      .type_name("FILE")
      .take_all();
  command.option("--out-dir", s.output_folder, "one document for each input file, in this folder")
      .type_name("DIR");
  command.option("--to", o.kinds, "with --out-dir: one or several of " + run::output_kind_names())
      .type_name("KINDS");
  command
      .option("--name", o.name, "with --out-dir: names of the files, {stem} stands for the input's")
      .type_name("PATTERN")
      .default_shown();
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
  command
      .option("--job", s.job_folder,
              "keep PAGE XML and picture of every page in this folder, for proof, amend, "
              "correct and export; decisions.tsv there is applied again")
      .type_name("DIR");
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
  command.option("--keep-steps", s.steps_folder, "keep the picture of every stage here, as PNG")
      .type_name("DIR");
}

}  // namespace

void add_run(CommandLine& line, Context& context) {
  Command command = line.root().command("run", "scans in, finished documents out");
  auto options = std::make_shared<RunOptions>();
  run::RunSettings& s = options->settings;
  add_inputs_and_outputs(command, *options);
  options->delivery.add(command);
  add_checking(command, *options);
  add_stages(command, *options);
  command
      .option("--threads", s.threads,
              "pages and lines worked on at the same time (default: all cores)")
      .between(1, 1024);
  command.flag("--json", options->json, "print what was done as JSON on stdout");
  add_limits(command, s.limits);
  add_model(command, context, options->model);
  add_quiet(command, context);
  command.examples(
      "Examples:\n"
      "  burnisher run box3.tif --out box3.pdf --out box3.txt\n"
      "  burnisher run letters/ --out-dir done --to pdf,text,alto --lang en,de");
  command.action([options, &context] { return run_all(*options, context); });
}

}  // namespace burnisher::cli
