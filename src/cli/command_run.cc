#include <fmt/core.h>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "cli/delivery_options.h"
#include "cli/recipes.h"
#include "page/page_xml.h"
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
  std::string existing_text = "keep", password_file;
  bool json = false;
};

std::string where(const run::PageReport& page) {
  return page.number > 1 ? fmt::format("{}, page {}", page.file, page.number) : page.file;
}

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
                     {"curl", p.curl},
                     {"turn", p.turn},
                     {"turn_confidence", p.turn_confidence},
                     {"seconds", p.seconds},
                     {"notes", p.notes},
                     {"look", p.look}});
  }
  return {{"pages", pages},
          {"written", report.written},
          {"waiting", report.waiting},
          {"problems", report.problems},
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
      console.point_out(fmt::format("held because of {}: {}", where(p), reason));
    for (const std::string& reason : p.look) {
      if (p.failed)
        console.warn(reason);
      else
        console.point_out(fmt::format("look at {}: {}", where(p), reason));
    }
  }
  for (const std::string& problem : report.problems) console.warn(problem);
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
  check_languages(s.languages, context.console);
  choose_languages(s.languages, s.recognise, context.console);
  if (!s.recognise.spelling) s.languages.clear();
  s.languages_folder = shipped_languages();
  s.recognise.modern_s = options.reading.modern_s();
  options.lexicon.languages = options.reading.languages;
  options.open_lexicon = options.lexicon.open();
  s.lexicon = options.open_lexicon.get();
  s.habits = correct::read_habits(shipped_habits());
  s.correct.repair = repair_named(options.repair);
  if (s.recognise.spelling) s.correct.languages = s.recognise.languages;
  s.hold = run::hold_rules(options.hold);
  s.arithmetic = options.reading.arithmetic_wanted();
  options.delivery.settle(s.recognise.spelling ? s.recognise.languages : std::vector<std::string>{},
                          s.lexicon);
  s.delivery = options.delivery.delivery;
  s.delivery.positions = options.positions == "scan" ? Positions::kScan : Positions::kPage;
  s.delivery.name = options.name;
  s.existing_text = options.existing_text == "keep"      ? run::ExistingText::kKeep
                    : options.existing_text == "replace" ? run::ExistingText::kReplace
                                                         : run::ExistingText::kStop;
  if (!options.password_file.empty()) s.limits.pdf_password = first_line_of(options.password_file);
  s.upright.try_turns = options.turn == "auto";
  if (options.turn != "auto") s.clean.turn = std::stoi(options.turn);
  for (const std::string& path : options.stencils)
    s.upright.stencils.push_back(read_page_xml_file(path).page);
  s.model = model_to_use(s.model);
  if (s.segment.text_angle != 0) s.clean.deskew = false;  // the angle is that of the scan
  if (s.clean.dpi > 0) s.limits.pdf_dpi = s.clean.dpi;
  s.thumbnails = !options.delivery.report.empty();
  const run::RunReport report = run::run(s, context.console);
  if (!options.delivery.report.empty())
    write_file(options.delivery.report, report::delivery_report(report), s.delivery.overwrite);
  print_summary(report, context.console);
  if (options.json)
    fmt::print("{}\n",
               json_of(report).dump(2, ' ', false, nlohmann::json::error_handler_t::replace));
  if (report.nothing_done()) return kNothing;
  return report.all_well() ? kAllDone : kSomeLeft;
}

}  // namespace

void add_run(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand("run", "scans in, finished documents out");
  auto options = std::make_shared<RunOptions>();
  run::RunSettings& s = options->settings;
  command
      ->add_option("input", s.inputs,
                   "pictures (PNG, JPEG, JPEG 2000, TIFF, PNM), PDFs, folders of them")
      ->required();
  command
      ->add_option(
          "--out", s.outputs,
          "one document of all inputs; the ending says the kind: .pdf .txt .md .epub .odt "
          ".xml (ALTO) "
          ".html (hOCR) .tsv .json (words) .csv .xlsx (tables) .mets (what belongs together)")
      ->type_name("FILE")
      ->take_all();
  command
      ->add_option("--out-dir", s.output_folder, "one document for each input file, in this folder")
      ->type_name("DIR");
  command
      ->add_option("--to", options->kinds,
                   "with --out-dir: one or several of " + run::output_kind_names())
      ->type_name("KINDS");
  command
      ->add_option("--name", options->name,
                   "with --out-dir: names of the files, {stem} stands for the input's")
      ->type_name("PATTERN")
      ->capture_default_str();
  options->delivery.add(*command);
  command
      ->add_option("--existing-text", options->existing_text,
                   "PDF pages that have real text already: keep it, replace it by reading the page "
                   "anew, or stop")
      ->check(CLI::IsMember({"keep", "replace", "stop"}))
      ->capture_default_str();
  command
      ->add_option("--password-file", options->password_file,
                   "file whose first line is the password of the PDFs")
      ->type_name("FILE");
  command->add_option("--pages", s.pages, "pages of every input file, as in 3-7,12")
      ->type_name("RANGE");
  add_reading(*command, options->reading);
  command
      ->add_option("--positions", options->positions,
                   "positions in ALTO count in pixels of the straightened page or of the scan")
      ->check(CLI::IsMember({"page", "scan"}))
      ->capture_default_str();
  command
      ->add_option("--threads", s.threads,
                   "pages and lines worked on at the same time (default: all cores)")
      ->check(CLI::Range(1, 1024));
  command
      ->add_option("--keep-steps", s.steps_folder, "keep the picture of every stage here, as PNG")
      ->type_name("DIR");
  command->add_flag("--json", options->json, "print what was done as JSON on stdout");
  command
      ->add_option(
          "--turn", options->turn,
          "turn every page counter-clockwise by 0, 90, 180 or 270 degrees; auto: see by reading")
      ->check(CLI::IsMember({"auto", "0", "90", "180", "270"}))
      ->capture_default_str();
  add_word_lists(*command, options->lexicon);
  add_repair(*command, options->repair);
  add_doubt(*command, s.correct);
  command
      ->add_option("--hold-if", options->hold,
                   "documents that wait for a person, as in suspects>2%,unsure>5%,no-text,"
                   "wrong-language; with --out-dir they go into its folder 'waiting'")
      ->type_name("RULES");
  command
      ->add_option("--job", s.job_folder,
                   "keep PAGE XML and picture of every page in this folder, for proof, amend, "
                   "correct and export; decisions.tsv there is applied again")
      ->type_name("DIR");
  add_recipe(*command);
  add_cleaning(*command, s.clean);
  add_layout(*command, s.segment);
  command
      ->add_option(
          "--stencil", options->stencils,
          "lay these blocks over every page (see `burnisher stencil`); two files: over odd "
          "and over even pages")
      ->expected(1, 2)
      ->type_name("FILE");
  add_kinds(*command, s.kinds_wanted);
  add_limits(*command, s.limits);
  add_model(*command, s.model);
  add_quiet(*command, context);
  command->footer(
      "Examples:\n"
      "  burnisher run box3.tif --out box3.pdf --out box3.txt\n"
      "  burnisher run letters/ --out-dir done --to pdf,text,alto --lang en,de");
  command->callback([options, &context] {
    context.action = [options, &context] { return run_all(*options, context); };
  });
}

}  // namespace burnisher::cli
