#include <fmt/core.h>

#include <filesystem>
#include <map>
#include <mutex>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "report/survey_report.h"

namespace burnisher::cli {
namespace {

struct SurveyOptions {
  std::vector<std::string> inputs, outputs;
  std::string pages, model;
  int threads = 0;
  bool overwrite = false, barcodes = false;
  clean::CleanSettings settings;
  ScanLimits limits;
};

std::string table_for(const std::string& path, const std::vector<run::ScanSurvey>& scans) {
  const std::string ending = std::filesystem::path(path).extension();
  if (ending == ".tsv") return report::survey_tsv(scans);
  if (ending == ".json") return report::survey_json(scans);
  if (ending == ".html") return report::survey_html(scans);
  throw SettingsError("--out " + path +
                      ": the ending says what to write; known are .tsv, .json "
                      "and .html");
}

int survey_all(SurveyOptions& o, Context& context) {
  for (const std::string& path : o.outputs) {
    table_for(path, {});  // a wrong ending is told before the work
    check_target(path, o.overwrite);
  }
  const layout::PageNetwork network(layout::read_page_model(context.models.page_model()));
  const recognise::Recogniser recogniser(context.models.bundles(split(o.model)));
  std::mutex guard;
  std::map<std::pair<std::string, int>, run::ScanSurvey> found;
  const int code = for_each_page(
      {o.inputs, o.pages, o.limits, o.threads}, context, [](const ScanFile&, int) {},
      [&](const ScanFile& file, int number) {
        run::ScanSurvey s = run::survey(file, number, network, recogniser, o.settings, o.barcodes);
        const std::lock_guard<std::mutex> lock(guard);
        if (s.failed) context.console.warn(s.look.front());
        found[{s.file, s.page}] = std::move(s);
      });
  std::vector<run::ScanSurvey> scans;
  bool failed = false;
  for (auto& [key, s] : found) {
    failed = failed || s.failed;
    scans.push_back(std::move(s));
  }
  if (scans.empty()) return code;
  if (o.outputs.empty()) fmt::print("{}", report::survey_tsv(scans));
  for (const std::string& path : o.outputs) {
    write_file(path, table_for(path, scans), o.overwrite);
    context.console.say("written: " + path);
  }
  return failed ? kSomeLeft : code;
}

}  // namespace

void add_survey(CommandLine& line, Context& context) {
  Command command = line.root().command("survey", "scans in, a table of what each of them is");
  auto o = std::make_shared<SurveyOptions>();
  command.option("input", o->inputs, "pictures, PDFs, folders of them").required();
  command
      .option("--out", o->outputs,
              "the table; the ending says the kind: .tsv .json .html (default: TSV on stdout)")
      .type_name("FILE")
      .take_all();
  command.option("--pages", o->pages, "pages of every input file, as in 3-7,12").type_name("RANGE");
  command.option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      .between(1, 1024);
  command.flag("--barcodes", o->barcodes, "look for barcodes, too");
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  command.option("--dpi", o->settings.dpi, "resolution of the scans, whatever the files say")
      .between(50, 2400);
  add_limits(command, o->limits);
  add_model(command, context, o->model);
  add_quiet(command, context);
  command.examples("Example:\n  burnisher survey box3/ --out box3.html --out box3.tsv");
  command.action([o, &context] { return survey_all(*o, context); });
}

}  // namespace burnisher::cli
