// The command line described in few words: commands, their options, what is done when one is
// called. Stands before the parser library, whose templates cost every source that meets them
// twenty seconds of compiling.
#pragma once

#include <cstdint>
#include <functional>
#include <initializer_list>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace CLI {
class App;
class Option;
}  // namespace CLI

namespace burnisher::cli {

// One option as it is being described.
class Option {
 public:
  explicit Option(CLI::Option* held) : held_(held) {}

  Option& type_name(const std::string& name);  // what stands for its value in --help
  Option& required();
  Option& take_all();                     // may be given several times, each time with one value
  Option& default_shown();                // the value it has now, in --help
  Option& expected(int least, int most);  // so many values
  Option& delimiter(char between);        // of several values in one
  Option& between(double least, double most);
  Option& positive();
  Option& one_of(std::initializer_list<const char*> values);
  Option& existing_path();
  Option& existing_folder();

 private:
  CLI::Option* held_;
};

class CommandLine;

// One command as it is being described. Names as in "--long" or, of what stands by itself, "input".
// What a function throws while its value is taken over (SettingsError) is wrong usage.
class Command {
 public:
  Command(CLI::App* app, CommandLine* line) : app_(app), line_(line) {}

  using Taker = std::function<void(const std::string&)>;
  Option option(const std::string& name, std::string& value, const std::string& about = "");
  Option option(const std::string& name, int& value, const std::string& about);
  Option option(const std::string& name, int64_t& value, const std::string& about);
  Option option(const std::string& name, uint64_t& value, const std::string& about);
  Option option(const std::string& name, double& value, const std::string& about);
  Option option(const std::string& name, std::vector<std::string>& value, const std::string& about);
  Option option(const std::string& name, std::vector<int>& value, const std::string& about);
  Option option(const std::string& name, const Taker& take, const std::string& about);
  void flag(const std::string& name, bool& value, const std::string& about);
  void flag(const std::string& name, const std::function<void()>& take, const std::string& about);

  // One of several values by its name.
  template <typename Value>
  Option choice(const std::string& name, Value& value,
                std::initializer_list<std::pair<const char*, Value>> values,
                const std::string& about) {
    const std::vector<std::pair<std::string, Value>> named(values.begin(), values.end());
    std::vector<std::string> names;
    for (const auto& one : named) names.push_back(one.first);
    return option_of(
        name, names,
        [named, &value](const std::string& said) {
          for (const auto& one : named) {
            if (one.first == said) value = one.second;
          }
        },
        about);
  }

  Command command(const std::string& name, const std::string& about);  // one within this one
  void needs_command();
  void alias(const std::string& name);
  void examples(const std::string& text);  // at the foot of --help
  // Puts options under a heading of their own in --help.
  void group(const std::string& heading, std::initializer_list<const char*> options);
  void action(const std::function<int()>& what);

  bool has_option(const std::string& key) const;  // `key` without dashes
  bool is_flag(const std::string& key) const;
  int most_values(const std::string& key) const;      // that stand behind one naming of it
  std::string type_of(const std::string& key) const;  // what stands for its value in --help
  std::vector<std::string> option_names() const;      // long ones, without dashes
  // Takes values over as if they stood on a command line. Throws SettingsError.
  void take(const std::vector<std::string>& arguments);

 private:
  Option option_of(const std::string& name, const std::vector<std::string>& values,
                   const Taker& take, const std::string& about);

  CLI::App* app_;
  CommandLine* line_;
};

// The whole of it.
class CommandLine {
 public:
  CommandLine(const std::string& program, const std::string& about);
  ~CommandLine();

  Command root();
  void version(const std::string& text);
  void foot(const std::string& text);

  // The command called so; nothing when there is none.
  std::unique_ptr<Command> named(const std::string& name) const;
  std::vector<Command> commands() const;

  enum class Outcome { kRun, kAnswered, kWrong };
  // kAnswered: --help or --version was given and its text printed. kWrong: what is wrong was
  // printed, with the nearest right word where a command or option is misspelt. Throws what
  // functions that take values throw.
  Outcome parse(const std::vector<std::string>& arguments);
  // What the command that was called does.
  const std::function<int()>& chosen() const { return chosen_; }

 private:
  friend class Command;
  std::unique_ptr<CLI::App> app_;
  std::function<int()> chosen_;
};

// The one of `words` that is most like `word`; "" when none is.
std::string nearest(const std::string& word, const std::vector<std::string>& words);

}  // namespace burnisher::cli
