#include <fmt/core.h>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "cli/find_results.h"
#include "find/gather.h"

namespace burnisher::cli {
namespace {

struct IndexOptions {
  std::vector<std::string> inputs;
  std::string into;
};

// Folders and files that the index is of, as it was made: to be brought up to date without being
// named again.
std::vector<std::string> inputs_of(const find::Index& index, const IndexOptions& o) {
  std::vector<std::string> inputs = index.roots();
  for (const std::string& one : o.inputs) inputs.push_back(one);
  return inputs;
}

int index_all(const IndexOptions& o, Context& context) {
  find::Index index(o.into, find::Database::Use::kWrite);
  const std::vector<std::string> inputs = inputs_of(index, o);
  if (inputs.empty())
    throw SettingsError(
        "say what to index: folders or files, as in `burnisher index box1 box2 "
        "--into " +
        o.into + "`");
  bool failed = false;
  std::vector<std::string> roots;
  std::vector<find::TextDocument> documents;
  for (const std::string& input : inputs) {
    try {
      for (find::TextDocument& one : documents_told(input, context.console))
        documents.push_back(std::move(one));
      roots.push_back(input);
    } catch (const Error& cause) {
      context.console.warn(std::string(cause.what()) + "; its pages are taken out of the index");
      failed = true;
    }
  }
  find::without_doubles(documents);
  const find::UpdateReport report = find::update(index, documents, context.console);
  index.set_roots(roots);
  for (const Problem& problem : report.problems) context.console.warn(told(problem));
  context.console.say(fmt::format("{}: {} words on {} pages of {} {}; {} {} read, {} gone", o.into,
                                  index.word_count(), index.page_count(), index.documents().size(),
                                  index.documents().size() == 1 ? "document" : "documents",
                                  report.read, report.read == 1 ? "file" : "files",
                                  report.removed));
  if (context.console.cancelled()) return kStopped;
  if (index.page_count() == 0) return kNothing;
  return failed || !report.problems.empty() ? kSomeLeft : kAllDone;
}

}  // namespace

void add_index(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "index", "jobs and folders of read pages in, one index to search them all with out");
  auto o = std::make_shared<IndexOptions>();
  command.option("input", o->inputs,
                 "jobs, folders with all in them, files (PAGE XML, ALTO, hOCR, PDF with text); "
                 "none: what the index is of already is brought up to date");
  command.option("--into", o->into, "the index, an SQLite file; made where it is not there")
      .required()
      .type_name("FILE");
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher index boxes/ --into boxes.sqlite\n"
      "  burnisher find Hallow --in boxes.sqlite\n"
      "  burnisher index --into boxes.sqlite          # later: reads what changed\n"
      "A job has an index of its own, which `run`, `amend` and `find` keep up to date.");
  command.action([o, &context] { return index_all(*o, context); });
}

}  // namespace burnisher::cli
