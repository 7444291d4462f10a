// The options of `run`, which workers and status take from a job, too.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "cli/commands.h"
#include "cli/delivery_options.h"
#include "cli/slurm.h"
#include "run/run.h"

namespace burnisher::cli {

struct RunOptions {
  run::RunSettings settings;
  std::vector<std::string> stencils;
  ReadingOptions reading;
  LexiconOptions lexicon;
  DeliveryOptions delivery;
  std::unique_ptr<correct::Lexicon> open_lexicon;
  std::string repair = "safe", hold;
  std::string kinds, positions = "page", turn = "auto", name = "{stem}";
  std::string existing_text = "keep", password_file, model, split_at;
  bool json = false, explain = false;
  std::vector<std::string> fields;
  std::string table;
  std::string on;  // where the work is done; empty: here
  SlurmOptions slurm;

  void add(Command& command, Context& context);
  // Those alone that say how documents are read and delivered, and not of what, and in which job.
  void add_unattended(Command& command, Context& context);
  // Makes settings of what was said; to be called once.
  run::RunTools settle(Context& context);
};

}  // namespace burnisher::cli
