#include <fmt/core.h>

#include "base/error.h"
#include "cli/commands.h"
#include "correct/forms.h"

namespace burnisher::cli {
namespace {

struct LexiconCommand {
  std::vector<std::string> words;
  std::string list, languages;
};

std::string path_of(const LexiconCommand& o) {
  return o.list.empty() ? user_word_list() : o.list;
}

int change(const LexiconCommand& o, bool add, Context& context) {
  correct::WordList list = correct::WordList::read(path_of(o));
  int changed = 0;
  for (const std::string& word : o.words) {
    if (word.find_first_of(" \t#") != std::string::npos)
      throw SettingsError("\"" + word + "\": one word at a time, without spaces and #");
    const bool done = add ? list.add(word) : list.remove(word);
    changed += done;
    if (!done)
      context.console.say(word + (add ? ": is in the list already" : ": is not in the list"));
  }
  if (changed > 0) list.write(path_of(o));
  context.console.say(fmt::format("{} {} {}: {}", changed, changed == 1 ? "word" : "words",
                                  add ? "added" : "removed", path_of(o)));
  return kAllDone;
}

int show(const LexiconCommand& o, Context& context) {
  for (const std::string& word : correct::WordList::read(path_of(o)).sorted())
    fmt::print("{}\n", word);
  std::string languages;
  for (const std::string& tag : correct::Lexicon(dictionary_folders()).installed())
    languages += (languages.empty() ? "" : " ") + tag;
  context.console.say("list: " + path_of(o));
  context.console.say("dictionaries are installed for: " +
                      (languages.empty() ? "no language" : languages));
  return kAllDone;
}

// Is each word right, and if not, what may be meant.
int check(const LexiconCommand& o, Context& context) {
  LexiconOptions options;
  if (!o.list.empty()) options.lists.push_back(o.list);
  const auto lexicon = options.open();
  const std::vector<std::string> languages = split(o.languages);
  for (const std::string& language : languages) {
    if (!lexicon->has(language)) context.console.point_out(missing_dictionary(language));
  }
  bool all = true;
  for (const std::string& word : o.words) {
    const correct::Form form = correct::form_of(word);
    if (!correct::is_spelled(form.kind) && form.kind != correct::FormKind::kOdd) {
      fmt::print("{}\tnot looked up (no word of letters)\n", word);
    } else if (lexicon->knows(form.core, languages)) {
      fmt::print("{}\tknown\n", word);
    } else {
      all = false;
      std::string proposals;
      for (const std::string& language : languages) {
        for (const std::string& text : lexicon->proposals(form.core, language))
          proposals += (proposals.empty() ? "" : ", ") + text;
      }
      fmt::print("{}\tunknown{}\n", word, proposals.empty() ? "" : "; " + proposals);
    }
  }
  return all ? kAllDone : kSomeLeft;
}

}  // namespace

void add_lexicon(CommandLine& line, Context& context) {
  Command command =
      line.root().command("lexicon", "the words that are right: add, remove, list, check");
  command.needs_command();
  const auto sub = [&](const char* name, const char* text, bool words,
                       const std::function<int(const LexiconCommand&)>& action) {
    auto o = std::make_shared<LexiconCommand>();
    Command part = command.command(name, text);
    if (words) part.option("words", o->words, "the words").required();
    part.option("--list", o->list,
                "the list, one word a line, # begins a comment (default: the user's own)")
        .type_name("FILE");
    if (std::string(name) == "check") {
      part.option("--lang", o->languages, "dictionaries to look in, as in en,de")
          .type_name("TAGS")
          .required();
    }
    add_quiet(part, context);
    part.action([o, action] { return action(*o); });
  };
  sub("add", "put words into a list", true,
      [&context](const LexiconCommand& o) { return change(o, true, context); });
  sub("remove", "take words out of a list", true,
      [&context](const LexiconCommand& o) { return change(o, false, context); });
  sub("list", "print a list, and the languages there are dictionaries for", false,
      [&context](const LexiconCommand& o) { return show(o, context); });
  sub("check", "tell known words from unknown ones", true,
      [&context](const LexiconCommand& o) { return check(o, context); });
  command.examples(
      "Examples:\n  burnisher lexicon add Skerrow Dunmore\n"
      "  burnisher lexicon check --lang en Skerrow lamp larnp");
}

}  // namespace burnisher::cli
