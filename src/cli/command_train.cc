#include <fmt/core.h>

#include <cstdlib>
#include <filesystem>
#include <set>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "cli/commands.h"
#include "cli/remedies.h"
#include "report/training_report.h"
#include "train/confusion_trainer.h"
#include "train/language_trainer.h"
#include "train/page_trainer.h"
#include "train/rounds.h"
#include "train/run_files.h"
#include "train/script_trainer.h"
#include "train/trainer.h"
#include "train/transcriptions.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct TrainOptions {
  train::TrainSettings rendered;
  train::RoundSettings rounds;
  train::LanguageSettings language;
  train::PageTrainSettings pages;
  int64_t page_count = 0;  // 0: lines are learnt, not pages
  std::string transcribed, validate = "10%", from, language_model, suspects, tell_scripts, model;
  double rate = 0;  // 0: what suits the way of training
  ScanLimits limits;
};

int train_rendered(train::TrainSettings& s, Context& context) {
  const train::TrainRow last = train::train(s, context.console);
  const std::filesystem::path folder(s.run_folder);
  write_file((folder / "curve.png").string(),
             report::training_curve(train::read_log((folder / "log.tsv").string())));
  context.console.say(
      fmt::format("written: {} ({} lines, error {:.2f} % on clean, {:.2f} % on medium, {:.2f} % on "
                  "heavy lines)",
                  (folder / "model.safetensors").string(), last.lines, 100 * last.cer_clean,
                  100 * last.cer_medium, 100 * last.cer_heavy));
  return kAllDone;
}

int train_pages(TrainOptions& o, Context& context) {
  train::PageTrainSettings& s = o.pages;
  s.faces = o.rendered.faces;
  s.texts = o.rendered.texts;
  s.run_folder = o.rendered.run_folder;
  s.go_on = o.rendered.go_on;
  s.from = o.from;
  s.seed = o.rendered.seed;
  s.threads = o.rendered.threads;
  s.pages = o.page_count;
  if (o.rate > 0) s.optimiser.peak_rate = o.rate;
  const train::PageTrainRow last = train::train_pages(s, context.console);
  const fs::path folder(s.run_folder);
  write_file((folder / "pages.png").string(),
             report::pages_curve(train::read_page_log((folder / "pages.tsv").string())));
  context.console.say(fmt::format(
      "written: {} ({} pages; axis of text right in {:.1f} %, text {:.1f} % and line ends "
      "{:.1f} % seen, as F1 of cells)",
      (folder / "pages.safetensors").string(), last.pages, 100 * last.quality.axis,
      100 * last.quality.f1[layout::kBandMap], 100 * last.quality.f1[layout::kEndMap]));
  return kAllDone;
}

// "10%", or a file that names one page picture a line.
void keep_back(const std::string& wanted, std::vector<train::Example>& learnt,
               std::vector<train::Example>& kept_back) {
  if (!wanted.empty() && wanted.back() == '%') {
    const double percent = number_in(wanted.substr(0, wanted.size() - 1)).value_or(0);
    if (percent <= 0 || percent > 90)
      throw SettingsError("--validate " + wanted + ": 1% to 90% are allowed");
    train::keep_back(percent / 100, learnt, kept_back);
    return;
  }
  const auto bytes = read_file(wanted);
  std::istringstream list(std::string(bytes.begin(), bytes.end()));
  std::set<std::string> names;
  for (std::string name; std::getline(list, name);) {
    if (!name.empty()) names.insert(name);
  }
  std::vector<train::Example> stay;
  std::set<std::string> met;
  for (train::Example& e : learnt) {
    const fs::path page(e.page);
    const auto named = [&](const std::string& name) { return names.count(name) > 0; };
    const bool back = named(page.filename()) || named(page.stem());
    if (back) met.insert(named(page.filename()) ? page.filename() : page.stem());
    (back ? kept_back : stay).push_back(std::move(e));
  }
  for (const std::string& name : names) {
    if (met.count(name) == 0)
      throw InputError(wanted + ": names " + name + ", which is no transcribed page");
  }
  learnt = std::move(stay);
}

int train_transcribed(TrainOptions& o, Context& context) {
  train::RoundSettings& s = o.rounds;
  s.run_folder = o.rendered.run_folder;
  s.seed = o.rendered.seed;
  s.threads = o.rendered.threads;
  s.characters = o.rendered.characters;
  s.plan = o.rendered.plan;
  s.from = o.from == "nothing" ? "" : context.models.model_to_use(o.from);
  if (!s.from.empty()) s.optimiser = train::round_optimiser();
  if (o.rate > 0) s.optimiser.peak_rate = o.rate;
  const layout::PageNetwork network(layout::read_page_model(context.models.page_model()));
  std::vector<train::Example> learnt =
      train::read_transcriptions(o.transcribed, o.limits, &network, context.console);
  std::vector<train::Example> kept_back;
  keep_back(o.validate, learnt, kept_back);
  const train::RoundsReport report = train::train_in_rounds(learnt, kept_back, s, context.console);
  const fs::path folder(s.run_folder);
  write_file((folder / "rounds.png").string(), report::rounds_curve(report));
  write_file((folder / "report.html").string(), report::training_html(report));
  context.console.say(fmt::format("written: {} and {}", (folder / "model.safetensors").string(),
                                  (folder / "report.html").string()));
  return kAllDone;
}

int train_language(TrainOptions& o, Context& context) {
  train::LanguageSettings& s = o.language;
  for (const auto& [kind, files] :
       {std::make_pair("running", &s.running), std::make_pair("words", &s.words)}) {
    const fs::path file = fs::path(o.rendered.texts) / fmt::format("{}.{}.txt", s.tag, kind);
    if (fs::exists(file)) files->push_back(file.string());
  }
  if (s.running.empty() && s.words.empty()) {
    throw InputError(fmt::format("{}: holds neither {}.running.txt nor {}.words.txt",
                                 o.rendered.texts, s.tag, s.tag));
  }
  const train::LanguageReport report = train::train_language_model(s, o.language_model);
  context.console.say(fmt::format(
      "written: {} ({} sequences from {} characters{})", o.language_model, report.sequences,
      report.characters,
      report.kept_back > 0
          ? fmt::format("; {:.2f} bits a character on {} kept back", report.bits, report.kept_back)
          : ""));
  return kAllDone;
}

int train_suspects(TrainOptions& o, Context& context) {
  const std::string path = context.models.model_to_use(o.model);
  const recognise::Recogniser recogniser(path);
  const correct::Lexicon lexicon(dictionary_folders());
  train::ConfusionTrainerSettings s;
  s.faces = o.rendered.faces;
  s.texts = o.rendered.texts;
  s.language = o.language.tag;
  s.lines = static_cast<int>(o.rendered.lines);
  s.seed = o.rendered.seed;
  s.threads = o.rendered.threads;
  const train::ConfusionTrainerReport report = train::learn_confusion_model(
      s, recognise::read_model(path), recogniser, lexicon, context.console);
  write_file(o.suspects, correct::write_confusion_model(report.confusion_model));
  context.console.say(fmt::format(
      "written: {} ({} of {} words were wrong; {} confusions; of words kept back {:.0f} % of the "
      "wrong ones are suspects, and {:.0f} % of the suspects are wrong)",
      o.suspects, report.wrong, report.words, report.confusion_model.confusions.size(),
      100 * report.recall, 100 * report.precision));
  return kAllDone;
}

int train_scripts(TrainOptions& o, Context& context) {
  train::ScriptTrainerSettings s;
  s.faces = o.rendered.faces;
  s.texts = o.rendered.texts;
  s.seed = o.rendered.seed;
  s.threads = o.rendered.threads;
  const train::ScriptTrainerReport report = train::learn_scripts(
      s, recognise::read_model(context.models.model_to_use(o.model)), context.console);
  recognise::write_model(o.tell_scripts, report.model, true);
  std::string told;
  for (const auto& [script, lines] : report.lines)
    told +=
        fmt::format("{}{} {} of {}", told.empty() ? "" : ", ", script, lines.second, lines.first);
  context.console.say(
      fmt::format("written: {} (kept-back lines told right: {})", o.tell_scripts, told));
  return kAllDone;
}

int train_as_asked(TrainOptions& o, Context& context) {
  const auto need = [](const std::string& value, const char* option, const char* why) {
    if (value.empty()) throw SettingsError(fmt::format("{} is missing: {}", option, why));
  };
  if (!o.language_model.empty()) {
    need(o.rendered.texts, "--texts", "the folder with LANG.running.txt and LANG.words.txt");
    need(o.language.tag, "--lang", "the language of the model, as in de");
    return train_language(o, context);
  }
  if (!o.suspects.empty()) {
    need(o.rendered.faces, "--faces", "the table of font files");
    need(o.rendered.texts, "--texts", "the folder with LANG.running.txt");
    need(o.language.tag, "--lang", "the language of the texts, as in en");
    return train_suspects(o, context);
  }
  if (!o.tell_scripts.empty()) {
    need(o.rendered.faces, "--faces", "the table of font files");
    need(o.rendered.texts, "--texts", "the folder with LANG.running.txt");
    return train_scripts(o, context);
  }
  need(o.rendered.run_folder, "--run-dir", "the folder for model, log and curve");
  if (!o.transcribed.empty()) return train_transcribed(o, context);
  need(o.rendered.faces, "--faces", "or give transcribed pages with --transcribed");
  need(o.rendered.texts, "--texts", "or give transcribed pages with --transcribed");
  if (!o.from.empty() && o.rendered.go_on)
    throw SettingsError("--from and --go-on exclude each other: a checkpoint goes on from itself");
  if (o.page_count > 0) return train_pages(o, context);
  o.rendered.from = o.from;
  if (o.rate > 0) o.rendered.optimiser.peak_rate = o.rate;
  return train_rendered(o.rendered, context);
}

void add_transcribed(Command& command, TrainOptions& o) {
  command
      .option("--transcribed", o.transcribed,
              "folder of pictures with NAME.xml (PAGE XML, ALTO) beside them, or of pictures "
              "of one line with NAME.txt")
      .type_name("DIR");
  command
      .option("--validate", o.validate,
              "what is kept back to measure with: a share of the pages, or a file that names "
              "them")
      .type_name("SHARE|FILE")
      .default_shown();
  command.option("--rounds", o.rounds.most_rounds, "rounds over the transcribed lines at most")
      .between(1, 10000)
      .default_shown();
  command.option("--patience", o.rounds.patience, "rounds without a better one before it ends")
      .between(1, 10000)
      .default_shown();
  command.group("From transcribed pages",
                {"--transcribed", "--validate", "--rounds", "--patience"});
}

void add_rendered(Command& command, TrainOptions& o) {
  train::TrainSettings& s = o.rendered;
  command.option("--faces", s.faces, "table of font files (scripts/training-corpus writes it)")
      .type_name("FILE");
  command.option("--texts", s.texts, "folder of texts, LANG.running.txt and LANG.words.txt")
      .type_name("DIR");
  command.option("--lines", s.lines, "lines to train on, in all").default_shown().positive();
  command.flag("--go-on", s.go_on, "go on from the checkpoint in --run-dir");
  command.option("--validate-every", s.validate_every, "lines between two measurements")
      .default_shown();
  command.option("--validation-lines", s.validation_lines, "kept-back lines of each scan level")
      .default_shown();
  command.option("--stem", s.plan.stem, "channels of the stem's convolutions")
      .delimiter(',')
      .default_shown();
  command.option("--context", s.plan.context, "channels along the line").default_shown();
  command
      .option("--dilations", s.plan.dilations,
              "dilations of the convolutions along the line; more than --from has make it "
              "deeper")
      .delimiter(',')
      .default_shown();
  command
      .option("--script", s.script,
              "script of the lines, as in Cyrl (ISO 15924): its alphabet, faces and texts are "
              "used, and Latin words and figures stand in its lines (default: Latn)")
      .type_name("CODE");
  command.option("--longest-line", s.longest_line, "characters in a line at most").default_shown();
  command.option("--warm-up", s.optimiser.warm_up_steps, "steps until the highest learning rate")
      .default_shown();
  command.group(
      "From faces and texts",
      {"--faces", "--texts", "--lines", "--go-on", "--validate-every", "--validation-lines",
       "--script", "--stem", "--context", "--dilations", "--longest-line", "--warm-up"});
}

void add_pages(Command& command, TrainOptions& o) {
  command
      .option("--pages", o.page_count,
              "learn from so many composed pages what a page consists of, instead of lines; takes "
              "--faces, --texts, --from and --go-on too")
      .positive();
  command
      .option("--validate-pages-every", o.pages.validate_every,
              "composed pages between two measurements")
      .default_shown()
      .positive();
  command.group("The network that sees pages", {"--pages", "--validate-pages-every"});
}

void add_language(Command& command, TrainOptions& o) {
  command
      .option("--language-model", o.language_model,
              "learn a language's spelling from --texts instead, into this file")
      .type_name("FILE");
  command
      .option("--lang", o.language.tag,
              "with --language-model and --suspects: the language, as in de")
      .type_name("TAG");
  command.group("A language's spelling", {"--language-model", "--lang"});
}

void add_suspects(Command& command, Context& context, TrainOptions& o) {
  command
      .option("--suspects", o.suspects,
              "learn from --lines rendered lines what the model mixes up and what wrong words "
              "look like, into this file")
      .type_name("FILE");
  add_model(command, context, o.model);
  command.group("Which words are suspects", {"--suspects", "--model"});
}

void add_scripts(Command& command, TrainOptions& o) {
  command
      .option("--tell-scripts", o.tell_scripts,
              "teach --model to tell the scripts of --faces and --texts apart, into this file")
      .type_name("FILE");
  command.group("Which script a line is in", {"--tell-scripts"});
}

void add_common(Command& command, TrainOptions& o) {
  train::TrainSettings& s = o.rendered;
  command.option("--run-dir", s.run_folder, "model, log, curve, report and checkpoint go here")
      .type_name("DIR");
  command.option("--seed", s.seed, "everything follows from it").default_shown();
  command
      .option("--from", o.from,
              "start from this model; with --transcribed the shipped one unless this says "
              "another, or 'nothing'")
      .type_name("FILE");
  command.option("--rate", o.rate, "highest learning rate (default: what suits the way)")
      .positive();
  command.option(
      "--characters", s.characters,
      "the alphabet (default: that of --script, else that of --from with what the transcriptions "
      "add)");
  command.option("--threads", s.threads, "(default: all cores)").between(1, 1024);
}

}  // namespace

void add_train(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "train", "transcribed pages, or faces and texts, in; a recogniser's model out");
  auto o = std::make_shared<TrainOptions>();
  add_transcribed(command, *o);
  add_rendered(command, *o);
  add_pages(command, *o);
  add_language(command, *o);
  add_suspects(command, context, *o);
  add_scripts(command, *o);
  add_common(command, *o);
  add_quiet(command, context);
  command.examples(
      "Examples:\n  burnisher train --transcribed pages --run-dir training/runs/log-books\n"
      "  scripts/setup --training && scripts/training-corpus\n"
      "  burnisher train --faces training/corpus/fonts.tsv --texts training/corpus/text --run-dir "
      "training/runs/mine\n"
      "  burnisher train --pages 40000 --faces training/corpus/fonts.tsv --texts "
      "training/corpus/text --run-dir training/runs/pages\n"
      "  burnisher train --language-model de.glyphs --lang de --texts training/corpus/text\n"
      "  burnisher train --suspects latin.confusions.json --lang en --lines 4000 --faces "
      "training/corpus/fonts.tsv --texts training/corpus/text");
  command.action([o, &context] { return train_as_asked(*o, context); });
}

}  // namespace burnisher::cli
