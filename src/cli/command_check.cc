#include <fmt/core.h>

#include "base/json.h"

#include "base/error.h"
#include "cli/commands.h"
#include "cli/remedies.h"
#include "pdf/check.h"

namespace burnisher::cli {
namespace {

struct CheckOptions {
  std::vector<std::string> files;
  bool archive = false, json = false;
};

std::string line_of(const pdf::Finding& finding) {
  return fmt::format("{}{}: {}", finding.rule,
                     finding.page > 0 ? fmt::format(", page {}", finding.page) : "", finding.what);
}

nlohmann::json json_of(const std::vector<pdf::Finding>& findings) {
  nlohmann::json list = nlohmann::json::array();
  for (const pdf::Finding& f : findings)
    list.push_back({{"rule", f.rule}, {"page", f.page}, {"what", f.what}});
  return list;
}

int check_all(const CheckOptions& o, Context& context) {
  nlohmann::json all = nlohmann::json::array();
  bool faults = false;
  int looked_at = 0;
  for (const std::string& file : o.files) {
    try {
      const pdf::Checked c = pdf::check(file, o.archive);
      ++looked_at;
      faults = faults || !c.faults.empty();
      if (o.json) {
        all.push_back({{"file", file},
                       {"pages", c.pages},
                       {"pages_with_text", c.pages_with_text},
                       {"archive", c.archive},
                       {"tagged", c.tagged},
                       {"faults", json_of(c.faults)},
                       {"missing", json_of(c.missing)}});
        continue;
      }
      fmt::print("{}: {} {}, {}{}, {}\n", file, c.pages, c.pages == 1 ? "page" : "pages",
                 c.archive ? "PDF/A-2" : "PDF", c.tagged ? ", tagged" : "",
                 c.faults.empty() ? "no faults"
                                  : fmt::format("{} {}", c.faults.size(),
                                                c.faults.size() == 1 ? "fault" : "faults"));
      for (const pdf::Finding& f : c.faults) fmt::print("  fault    {}\n", line_of(f));
      for (const pdf::Finding& f : c.missing) fmt::print("  missing  {}\n", line_of(f));
    } catch (const Error& cause) {
      context.console.warn(told(cause));
      faults = true;
    }
  }
  if (o.json) fmt::print("{}\n", json_text(all, 2));
  if (looked_at == 0) return kNothing;
  return faults ? kSomeLeft : kAllDone;
}

}  // namespace

void add_check(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "check", "PDFs in, what is wrong with them or missing out: soundness, text, tags, PDF/A-2");
  auto o = std::make_shared<CheckOptions>();
  command.option("file", o->files, "PDF files").required().type_name("FILE");
  command.flag("--archive", o->archive, "hold them against PDF/A-2 even if they don't say so");
  command.flag("--json", o->json, "print the findings as JSON");
  command.examples(
      "Exit code 1: at least one fault.\n"
      "Example:\n  burnisher check box3.pdf --archive");
  command.action([o, &context] { return check_all(*o, context); });
}

}  // namespace burnisher::cli
