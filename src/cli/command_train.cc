#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "cli/commands.h"
#include "train/run_files.h"
#include "train/trainer.h"

namespace burnisher::cli {
namespace {

int train_model(train::TrainSettings& s, Context& context) {
  const train::TrainRow last = train::train(s, context.console);
  const std::filesystem::path folder(s.run_folder);
  try {
    train::draw_curve(folder / "log.tsv", folder / "curve.png");
  } catch (const OutputError& cause) {
    context.console.warn(cause.what());  // the model is there; only its picture is missing
  }
  context.console.say(
      fmt::format("written: {} ({} lines, error {:.2f} % on clean, {:.2f} % on medium, {:.2f} % on "
                  "heavy lines)",
                  (folder / "model.safetensors").string(), last.lines, 100 * last.cer_clean,
                  100 * last.cer_medium, 100 * last.cer_heavy));
  return kAllDone;
}

}  // namespace

void add_train(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand("train", "faces and texts in, a recogniser's model out");
  auto s = std::make_shared<train::TrainSettings>();
  command
      ->add_option("--faces", s->faces, "table of font files (scripts/training-corpus writes it)")
      ->required()
      ->type_name("FILE");
  command->add_option("--texts", s->texts, "folder of texts, LANG.running.txt and LANG.words.txt")
      ->required()
      ->type_name("DIR");
  command->add_option("--run-dir", s->run_folder, "checkpoint, log, curve and model go here")
      ->required()
      ->type_name("DIR");
  command->add_option("--lines", s->lines, "lines to train on, in all")
      ->capture_default_str()
      ->check(CLI::PositiveNumber);
  command->add_option("--seed", s->seed, "everything follows from it")->capture_default_str();
  command->add_flag("--go-on", s->go_on, "go on from the checkpoint in --run-dir");
  command->add_option("--from", s->from, "start from this model, with its network and alphabet")
      ->type_name("FILE")
      ->excludes("--go-on");
  command->add_option("--rate", s->optimiser.peak_rate, "highest learning rate")
      ->capture_default_str();
  command
      ->add_option("--warm-up", s->optimiser.warm_up_steps, "steps until the highest learning rate")
      ->capture_default_str();
  command->add_option("--validate-every", s->validate_every, "lines between two measurements")
      ->capture_default_str();
  command
      ->add_option("--validation-lines", s->validation_lines, "kept-back lines of each scan level")
      ->capture_default_str();
  command->add_option("--stem", s->plan.stem, "channels of the stem's convolutions")
      ->delimiter(',')
      ->capture_default_str();
  command->add_option("--context", s->plan.context, "channels along the line")
      ->capture_default_str();
  command
      ->add_option("--dilations", s->plan.dilations,
                   "dilations of the convolutions along the line; more than --from has make it "
                   "deeper")
      ->delimiter(',')
      ->capture_default_str();
  command->add_option("--characters", s->characters,
                      "the alphabet (default: Latin, all of Europe)");
  command->add_option("--longest-line", s->longest_line, "characters in a line at most")
      ->capture_default_str();
  command->add_option("--threads", s->threads, "(default: all cores)")->check(CLI::Range(1, 1024));
  add_quiet(*command, context);
  command->footer(
      "Example:\n  scripts/setup --training && scripts/training-corpus\n"
      "  burnisher train --faces training/corpus/fonts.tsv --texts training/corpus/text --run-dir "
      "training/runs/mine");
  command->callback(
      [s, &context] { context.action = [s, &context] { return train_model(*s, context); }; });
}

}  // namespace burnisher::cli
