#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "cli/commands.h"
#include "intake/scan_file.h"
#include "layout/page_network.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "recognise/languages.h"
#include "report/type_case_sheet.h"
#include "teach/example_pages.h"
#include "teach/lesson.h"
#include "train/transcriptions.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct TeachOptions {
  std::vector<std::string> inputs;
  std::string out, images, model, from, transcribed, examples;
  int most_lines = 0, most_rounds = 0;
  bool overwrite = false;
  uint64_t seed = 1;
  int threads = 0;
};

// Where a bundle lies or is to lie: by its name among the user's own, or a path without ending.
struct Place {
  std::string folder, name;
  std::string table() const { return (fs::path(folder) / (name + ".bundle.json")).string(); }
  std::string network() const { return (fs::path(folder) / (name + ".safetensors")).string(); }
};

Place place_of(const std::string& model) {
  const fs::path path(model);
  const std::string name = path.filename();
  if (name.empty() || name.find_first_of("\t\n,") != std::string::npos || name.front() == '.')
    throw SettingsError("model", model + ": expected a name, or a path that ends in one");
  const bool path_given = path.has_parent_path();
  return {path_given ? path.parent_path().string() : ModelPlaces::own_folder(), name};
}

bool is_table(const std::string& path) {
  return fs::path(path).extension() == ".tsv";
}

// The script that most of the pages are in.
std::string main_script(const std::vector<PageFile>& files) {
  std::map<std::string, int> count;
  for (const PageFile& file : files) ++count[file.pages.front().main_script()];
  std::string most;
  for (const auto& [script, pages] : count)
    if (most.empty() || pages > count[most]) most = script;
  return most;
}

// What reads the pages: the bundle that is taught already, or the one to go on from.
recognise::Bundle reading_bundle(const TeachOptions& o, const std::vector<PageFile>& files,
                                 const Context& context) {
  if (!o.model.empty() && o.from.empty()) {
    const Place place = place_of(o.model);
    if (fs::exists(place.table())) return context.models.bundles({place.table()}).front();
  }
  if (!o.from.empty()) return context.models.bundles({o.from}).front();
  const std::vector<recognise::Bundle> all = context.models.bundles();
  const std::string script = main_script(files);
  for (const recognise::Bundle& bundle : all)
    if (bundle.reads(script)) return bundle;
  return all.front();
}

// The script of what was named; that of the bundle it goes on from where that reads it.
std::string script_taught(const std::vector<teach::Naming>& namings,
                          const recognise::Bundle& from) {
  std::map<std::string, int> letters;
  std::string most = from.scripts.front();
  for (const teach::Naming& naming : namings)
    for (const char32_t c : decode_utf8(naming.text))
      if (is_letter(c)) ++letters[script_of(c)];
  for (const auto& [script, count] : letters)
    if (count > letters[most]) most = script;
  return most;
}

// Letters to pick from: those of the bundle's own script, or whatever it has beyond ASCII.
std::string letters_of(const recognise::Bundle& bundle) {
  const recognise::Alphabet alphabet = recognise::read_model(bundle.network).alphabet;
  const bool latin = bundle.reads("Latn");
  std::string letters;
  for (int k = 1; k < alphabet.class_count(); ++k) {
    const char32_t c = alphabet.character(k);
    const bool own =
        latin ? c > 127 && (c < 0xE000 || c > 0xF8FF) : is_letter(c) && bundle.reads(script_of(c));
    if (own) letters += encode_utf8(c);
  }
  return letters;
}

int learn(const TeachOptions& o, const teach::TypeCase& type_case,
          const std::vector<teach::Naming>& namings, const recognise::Bundle& from,
          Context& context) {
  const Place place = place_of(o.model);
  fs::create_directories(place.folder);
  std::vector<train::Example> transcribed;
  if (!o.transcribed.empty()) {
    const layout::PageNetwork network(layout::read_page_model(context.models.page_model()));
    transcribed = train::read_transcriptions(o.transcribed, {}, &network, context.console);
  }
  // Learnt beside its place: what reads now stays whole until the lesson is over.
  const std::string run = (fs::path(place.folder) / ("." + place.name + ".lesson")).string();
  teach::LessonSettings settings;
  settings.from = from.network;
  settings.run_folder = run;
  settings.most_rounds = o.most_rounds;
  settings.seed = o.seed;
  settings.threads = o.threads;
  const teach::LessonReport report =
      teach::learn_from(type_case, namings, std::move(transcribed), settings, context.console);
  for (const std::string& lost : report.lost) context.console.warn(lost);
  fs::rename(run + "/model.safetensors", place.network());
  fs::remove_all(run);
  recognise::Bundle bundle;
  bundle.name = place.name;
  bundle.scripts = {script_taught(namings, from)};
  bundle.taught_from = from.taught_from.empty() ? from.name : from.taught_from;
  recognise::write_taught_bundle(place.folder, bundle);
  const train::Round& before = report.rounds.rounds.front();
  double best = before.cer;
  for (const train::Round& round : report.rounds.rounds) best = std::min(best, round.cer);
  context.console.say(fmt::format(
      "learnt from {} named {}{} on {} {}; kept back and read again: {:.2f} % of the characters "
      "wrong, {:.2f} % before",
      report.glyphs, report.glyphs == 1 ? "glyph" : "glyphs",
      report.read > 0 ? fmt::format(" and {} surely read ones beside them", report.read) : "",
      report.lines, report.lines == 1 ? "line" : "lines", 100 * best, 100 * before.cer));
  context.console.say("written: " + place.table());
  const bool own = place.folder == ModelPlaces::own_folder();
  context.console.say("read with it: burnisher run ... --model " +
                      (own ? place.name : place.table()));
  return report.lost.empty() ? kAllDone : kSomeLeft;
}

int teach_all(TeachOptions& o, Context& context) {
  std::vector<std::string> tables, pages;
  for (const std::string& input : o.inputs) (is_table(input) ? tables : pages).push_back(input);
  if (pages.empty()) throw SettingsError("say what the glyphs are on: a job, or PAGE XML files");
  if (o.out.empty() && o.model.empty() && o.examples.empty())
    throw SettingsError("say what to do: --out FILE.html for a type case, --model NAME to learn");
  if (tables.empty() && o.out.empty())
    throw SettingsError("say what to learn from: the table (.tsv) that a type case saved");
  if (!o.out.empty()) check_target(o.out, o.overwrite);
  if (!o.model.empty()) place_of(o.model);
  std::vector<teach::Naming> namings;
  for (const std::string& table : tables)
    for (teach::Naming& naming : teach::read_namings(table)) namings.push_back(std::move(naming));
  namings = teach::latest(std::move(namings));
  PageFiles read = read_page_files(pages, context.console);
  std::vector<teach::CasePage> all;
  std::vector<const PageFile*> files;
  for (const PageFile& file : read.files) {
    if (file.format != PageFile::Format::kPageXml) continue;
    all.push_back({fs::path(file.path).stem().string(), &file.pages.front()});
    files.push_back(&file);
  }
  if (all.empty() && !read.files.empty())
    throw InputError(pages.front() + ": is ALTO; glyphs are taken from PAGE XML and page pictures");
  if (all.empty()) return kNothing;
  int code = read.failed ? kSomeLeft : kAllDone;
  const auto case_read_by = [&](const recognise::Bundle& bundle) {
    const recognise::Languages languages(bundle.spelling);
    const recognise::Reader reader(bundle, languages, recognise::precision_of_processor());
    const auto picture = [&](size_t i) { return to_gray(page_picture(*files[i], o.images)); };
    return teach::type_case_of(all, picture, reader, !o.from.empty(), [&](size_t done) {
      context.console.advance("pages", static_cast<double>(done), static_cast<double>(all.size()));
    });
  };
  recognise::Bundle bundle = reading_bundle(o, read.files, context);
  teach::TypeCase type_case = case_read_by(bundle);
  if (type_case.lines.empty())
    throw InputError(pages.front() + ": no line with ink was found on its pages");
  if (!o.examples.empty()) {
    const teach::CaseExamples examples = teach::examples_of(type_case, namings, {});
    const size_t lines = teach::write_example_pages(examples, o.examples, o.overwrite);
    context.console.say(
        fmt::format("written: {} lines of what was named, in {}", lines, o.examples));
  }
  if (!tables.empty() && !o.model.empty()) {
    code = std::max(code, learn(o, type_case, namings, bundle, context));
    if (!o.out.empty()) {  // sorted anew by what was learnt
      bundle = context.models.bundles({place_of(o.model).table()}).front();
      type_case = case_read_by(bundle);
    }
  }
  if (o.out.empty()) return code;
  report::TypeCaseSheet sheet;
  const std::string name = fs::path(pages.front()).filename();
  sheet.title = name.empty() ? "Type case" : "Type case of " + name;
  sheet.type_case = &type_case;
  sheet.namings = &namings;
  sheet.letters = letters_of(bundle);
  sheet.most_lines = static_cast<size_t>(o.most_lines);
  const report::TypeCaseCounts counts = report::write_type_case(sheet, o.out, o.overwrite);
  context.console.say(fmt::format(
      "written: {} ({} glyphs in {} piles, of {} lines{})", o.out, counts.glyphs, counts.piles,
      counts.lines,
      counts.lines < type_case.lines.size() ? fmt::format(" of {}", type_case.lines.size()) : ""));
  return code;
}

}  // namespace

void add_teach(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "teach",
      "read pages in, a type case out to name their glyphs in; its table in, a bundle out");
  auto o = std::make_shared<TeachOptions>();
  command
      .option("input", o->inputs,
              "a job, or PAGE XML files or folders of them; then tables (.tsv) that type cases "
              "saved")
      .required();
  command.option("--out", o->out, "the type case, an .html file").type_name("FILE");
  command
      .option("--model", o->model,
              "the bundle to teach, by a name of yours, or a path without ending; where it is "
              "there already, it goes on learning")
      .type_name("NAME");
  command
      .option("--from", o->from,
              "bundle to begin with (default: --model where it is there, else that of the pages' "
              "script)")
      .type_name("BUNDLE");
  command
      .option("--transcribed", o->transcribed,
              "learn from these lines as well: a folder as `burnisher train` takes it")
      .type_name("DIR");
  command
      .option("--examples", o->examples,
              "write what was named here, as `burnisher train --transcribed` takes it")
      .type_name("DIR");
  command.option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      .type_name("DIR");
  command
      .option("--lines", o->most_lines,
              "lines that the type case shows, evenly drawn from the document (default: all)")
      .between(1, 1000000);
  command
      .option("--rounds", o->most_rounds,
              "rounds over what was named, at most (default: as many as fit into about "
              "three minutes on two cores)")
      .between(1, 10000);
  command.option("--seed", o->seed, "what is learnt follows from it").default_shown();
  command.option("--threads", o->threads, "(default: all cores)").between(1, 1024);
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_models_folder(command, context);
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher run leaves/ --out leaves.pdf --job leaves.job\n"
      "  burnisher teach leaves.job --out case.html      # name glyphs in a browser, save "
      "case.tsv\n"
      "  burnisher teach leaves.job case.tsv --model durandus\n"
      "  burnisher run --job leaves.job --model durandus");
  command.action([o, &context] { return teach_all(*o, context); });
}

}  // namespace burnisher::cli
