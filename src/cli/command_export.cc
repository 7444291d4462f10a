#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "cli/commands.h"
#include "page/page_file.h"
#include "run/documents.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

struct ExportOptions {
  std::vector<std::string> inputs;
  std::string images, positions = "page", languages;
  run::RunSettings settings;
};

run::FinishedPage finished(const ExportOptions& o, const std::string& path, bool picture_wanted) {
  PageFile read = read_page_file(path);
  if (read.format != PageFile::Format::kPageXml)
    throw FormatError(path + ": is ALTO; documents are made of PAGE XML and page pictures");
  run::FinishedPage page;
  if (picture_wanted)
    page.picture =
        exporting::coded(page_picture(read, o.images, o.settings.limits), o.settings.jpeg_quality);
  page.page = std::move(read.pages.front());
  o.settings.kinds_wanted.apply(page.page);
  return page;
}

int export_all(ExportOptions& o, Context& context) {
  run::RunSettings& s = o.settings;
  s.positions = o.positions == "scan" ? Positions::kScan : Positions::kPage;
  s.languages = split(o.languages);
  check_languages(s.languages, context.console);
  std::vector<std::unique_ptr<run::Document>> documents;
  bool picture_wanted = false;
  for (const std::string& path : s.outputs) {
    const run::OutputKind kind = run::output_kind_of(path);
    picture_wanted = picture_wanted || kind == run::OutputKind::kPdf;
    documents.push_back(run::new_document(kind, path, fs::path(path).stem(), s));
  }
  int done = 0, failed = 0;
  const std::vector<std::string> inputs = page_files(o.inputs);
  for (const std::string& path : inputs) {
    try {
      const run::FinishedPage page = finished(o, path, picture_wanted);
      for (auto& document : documents) document->add(page);
      ++done;
    } catch (const Error& cause) {
      context.console.warn(cause.what());
      ++failed;
    }
    context.console.advance("pages", done + failed, static_cast<double>(inputs.size()));
  }
  if (done == 0) return kNothing;
  for (size_t i = 0; i < documents.size(); ++i) {
    documents[i]->finish();
    context.console.say("written: " + s.outputs[i]);
    const std::string remark = documents[i]->remark();
    if (!remark.empty()) context.console.say(s.outputs[i] + ": " + remark);
  }
  return failed > 0 ? kSomeLeft : kAllDone;
}

}  // namespace

void add_export(CLI::App& app, Context& context) {
  auto* command =
      app.add_subcommand("export", "PAGE XML and page pictures in, PDF, text or ALTO out");
  auto o = std::make_shared<ExportOptions>();
  run::RunSettings& s = o->settings;
  command
      ->add_option("input", o->inputs,
                   "PAGE XML files, one a page, in order, or folders of them, as a job")
      ->required();
  command
      ->add_option("--out", s.outputs, "the ending says the kind: .pdf .txt .xml (ALTO) .csv .xlsx")
      ->required()
      ->type_name("FILE")
      ->take_all();
  command
      ->add_option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      ->type_name("DIR");
  command
      ->add_option("--positions", o->positions,
                   "positions in ALTO count in pixels of the page or of the scan")
      ->check(CLI::IsMember({"page", "scan"}))
      ->capture_default_str();
  command->add_option("--lang", o->languages, "languages of the text, as in en,de")
      ->type_name("TAGS");
  command
      ->add_option("--jpeg-quality", s.jpeg_quality, "of gray and colour page pictures in the PDF")
      ->check(CLI::Range(1, 100))
      ->capture_default_str();
  command->add_flag("--overwrite", s.overwrite, "replace files that are there already");
  add_kinds(*command, s.kinds_wanted);
  add_limits(*command, s.limits);
  add_quiet(*command, context);
  command->footer(
      "Examples:\n  burnisher export read/*.xml --images pages --out box3.pdf\n"
      "  burnisher export box3 --out box3.pdf --overwrite");
  command->callback(
      [o, &context] { context.action = [o, &context] { return export_all(*o, context); }; });
}

}  // namespace burnisher::cli
