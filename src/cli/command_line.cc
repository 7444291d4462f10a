#include "cli/command_line.h"

#include <fmt/core.h>

#include <CLI/CLI.hpp>
#include <algorithm>

#include "base/edit_distance.h"
#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::cli {
namespace {

// Of a misspelt word, the most letters that may be wrong: one in three, and never more than three.
constexpr int kMostWrong = 3;

std::string without_dashes(const std::string& argument) {
  const std::string name = argument.substr(std::min<size_t>(2, argument.size()));
  return name.substr(0, name.find('='));
}

bool is_long_option(const std::string& argument) {
  return argument.size() > 2 && argument.compare(0, 2, "--") == 0;
}

}  // namespace

Option& Option::type_name(const std::string& name) {
  held_->type_name(name);
  return *this;
}
Option& Option::required() {
  held_->required();
  return *this;
}
Option& Option::take_all() {
  held_->take_all()->allow_extra_args(false);
  return *this;
}
Option& Option::default_shown() {
  held_->capture_default_str();
  return *this;
}
Option& Option::expected(int least, int most) {
  held_->expected(least, most);
  return *this;
}
Option& Option::delimiter(char between) {
  held_->delimiter(between);
  return *this;
}
Option& Option::between(double least, double most) {
  held_->check(CLI::Range(least, most, fmt::format("{:g} to {:g}", least, most)));
  return *this;
}
Option& Option::positive() {
  held_->check(CLI::PositiveNumber);
  return *this;
}
Option& Option::one_of(std::initializer_list<const char*> values) {
  held_->check(CLI::IsMember(std::vector<std::string>(values.begin(), values.end())));
  return *this;
}
Option& Option::existing_path() {
  held_->check(CLI::ExistingPath);
  return *this;
}
Option& Option::existing_folder() {
  held_->check(CLI::ExistingDirectory);
  return *this;
}

Option Command::option(const std::string& name, std::string& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, int& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, int64_t& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, uint64_t& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, double& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, std::vector<std::string>& value,
                       const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, std::vector<int>& value, const std::string& about) {
  return Option(app_->add_option(name, value, about));
}
Option Command::option(const std::string& name, const Taker& take, const std::string& about) {
  return Option(app_->add_option_function<std::string>(name, take, about));
}
void Command::flag(const std::string& name, bool& value, const std::string& about) {
  app_->add_flag(name, value, about);
}
void Command::flag(const std::string& name, const std::function<void()>& take,
                   const std::string& about) {
  app_->add_flag_callback(name, take, about);
}

Option Command::option_of(const std::string& name, const std::vector<std::string>& values,
                          const Taker& take, const std::string& about) {
  CLI::Option* held = app_->add_option_function<std::string>(name, take, about);
  held->check(CLI::IsMember(values, CLI::ignore_case).description(""));
  return Option(held);
}

Command Command::command(const std::string& name, const std::string& about) {
  return Command(app_->add_subcommand(name, about), line_);
}
void Command::needs_command() {
  app_->require_subcommand(1);
}
void Command::alias(const std::string& name) {
  app_->alias(name);
}
void Command::examples(const std::string& text) {
  app_->footer(text);
}
void Command::group(const std::string& heading, std::initializer_list<const char*> options) {
  for (const char* option : options) app_->get_option(option)->group(heading);
}
void Command::action(const std::function<int()>& what) {
  CommandLine* line = line_;
  app_->callback([line, what] { line->chosen_ = what; });
}

bool Command::has_option(const std::string& key) const {
  return app_->get_option_no_throw("--" + key) != nullptr;
}
bool Command::is_flag(const std::string& key) const {
  return app_->get_option("--" + key)->get_expected_min() == 0;
}
int Command::most_values(const std::string& key) const {
  const CLI::Option* option = app_->get_option("--" + key);
  // An option that may be given again and again takes one value each time.
  return option->get_allow_extra_args() ? option->get_expected_max() : 1;
}
std::string Command::type_of(const std::string& key) const {
  return app_->get_option("--" + key)->get_type_name();
}
std::vector<std::string> Command::option_names() const {
  std::vector<std::string> names;
  for (const CLI::Option* option : app_->get_options()) {
    for (const std::string& name : option->get_lnames()) names.push_back(name);
  }
  return names;
}
void Command::take(const std::vector<std::string>& arguments) {
  try {
    app_->parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
  } catch (const CLI::ParseError& wrong) {
    throw SettingsError(wrong.what());
  }
}

CommandLine::CommandLine(const std::string& program, const std::string& about)
    : app_(std::make_unique<CLI::App>(about)) {
  app_->name(program);
}
CommandLine::~CommandLine() = default;

Command CommandLine::root() {
  return Command(app_.get(), this);
}
void CommandLine::version(const std::string& text) {
  app_->set_version_flag("--version", text);
}
void CommandLine::foot(const std::string& text) {
  app_->footer(text);
}

std::unique_ptr<Command> CommandLine::named(const std::string& name) const {
  for (CLI::App* command : app_->get_subcommands({})) {
    if (command->check_name(name))
      return std::make_unique<Command>(command, const_cast<CommandLine*>(this));
  }
  return nullptr;
}

std::vector<Command> CommandLine::commands() const {
  std::vector<Command> all;
  for (CLI::App* command : app_->get_subcommands({}))
    all.emplace_back(command, const_cast<CommandLine*>(this));
  return all;
}

CommandLine::Outcome CommandLine::parse(const std::vector<std::string>& arguments) {
  const auto wrong = [](const std::string& what, const std::string& instead) {
    fmt::print(stderr, "burnisher: {}{}\n", what,
               instead.empty() ? "; `burnisher --help` lists what there is"
                               : "; did you mean " + instead + "?");
    return Outcome::kWrong;
  };
  std::vector<std::string> names;
  for (const CLI::App* command : app_->get_subcommands({})) names.push_back(command->get_name());
  CLI::App* called = nullptr;
  if (!arguments.empty() && arguments[0].front() != '-') {
    for (CLI::App* command : app_->get_subcommands({})) {
      if (command->check_name(arguments[0])) called = command;
    }
    if (called == nullptr)
      return wrong("there is no command '" + arguments[0] + "'", nearest(arguments[0], names));
  }
  // Commands within a command have options of their own.
  if (called != nullptr && called->get_subcommands({}).empty()) {
    const Command command(called, this);
    for (size_t i = 1; i < arguments.size() && arguments[i] != "--"; ++i) {
      if (!is_long_option(arguments[i])) continue;
      const std::string key = without_dashes(arguments[i]);
      if (command.has_option(key)) continue;
      const std::string instead = nearest(key, command.option_names());
      return wrong(fmt::format("`{}` has no option --{}", called->get_name(), key),
                   instead.empty() ? "" : "--" + instead);
    }
  }
  try {
    app_->parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
  } catch (const CLI::ParseError& cause) {
    app_->exit(cause);
    return cause.get_exit_code() == 0 ? Outcome::kAnswered : Outcome::kWrong;
  }
  return Outcome::kRun;
}

std::string nearest(const std::string& word, const std::vector<std::string>& words) {
  std::string best;
  int least = std::min(kMostWrong, static_cast<int>(word.size() + 2) / 3) + 1;
  for (const std::string& candidate : words) {
    const auto letters = decode_utf8(candidate);
    int distance = edit_distance(decode_utf8(word), letters);
    // A word broken off, or two letters that changed places, is one slip.
    if (word.size() > 1 && candidate.compare(0, word.size(), word) == 0) distance = 1;
    for (size_t i = 0; i + 1 < word.size(); ++i) {
      std::string swapped = word;
      std::swap(swapped[i], swapped[i + 1]);
      if (swapped == candidate) distance = 1;
    }
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

}  // namespace burnisher::cli
