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
  bool overwrite = false;
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
  for (const std::string& path : o.outputs) table_for(path, {});
  const recognise::Recogniser recogniser(model_to_use(o.model));
  std::mutex guard;
  std::map<std::pair<std::string, int>, run::ScanSurvey> found;
  const int code = for_each_page(
      o.inputs, o.pages, o.limits, o.threads, context, [&](const ScanFile& file, int number) {
        run::ScanSurvey s = run::survey(file, number, recogniser, o.settings);
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

void add_survey(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand("survey", "scans in, a table of what each of them is");
  auto o = std::make_shared<SurveyOptions>();
  command->add_option("input", o->inputs, "pictures, PDFs, folders of them")->required();
  command
      ->add_option("--out", o->outputs,
                   "the table; the ending says the kind: .tsv .json .html (default: TSV on stdout)")
      ->type_name("FILE")
      ->take_all();
  command->add_option("--pages", o->pages, "pages of every input file, as in 3-7,12")
      ->type_name("RANGE");
  command
      ->add_option("--threads", o->threads, "pages worked on at the same time (default: all cores)")
      ->check(CLI::Range(1, 1024));
  command->add_flag("--overwrite", o->overwrite, "replace files that are there already");
  command->add_option("--dpi", o->settings.dpi, "resolution of the scans, whatever the files say")
      ->check(CLI::Range(50, 2400));
  add_limits(*command, o->limits);
  add_model(*command, o->model);
  add_quiet(*command, context);
  command->footer("Example:\n  burnisher survey box3/ --out box3.html --out box3.tsv");
  command->callback(
      [o, &context] { context.action = [o, &context] { return survey_all(*o, context); }; });
}

}  // namespace burnisher::cli
