#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "correct/correct.h"
#include "page/page_file.h"
#include "raster/convert.h"
#include "report/proof_pdf.h"
#include "report/proof_sheet.h"
#include "report/words_table.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

constexpr size_t kMostSuggestions = 6;

struct ProofOptions {
  std::vector<std::string> inputs, outputs;
  std::string images, aloud, order = "reading";
  LexiconOptions lexicon;
  bool overwrite = false;
};

// The page picture, when it is there and is the one the places belong to.
Gray picture_of(const PageFile& file, const ProofOptions& o, Console& console) {
  if (file.image_name.empty()) return {};
  const fs::path folder = o.images.empty() ? fs::path(file.path).parent_path() : fs::path(o.images);
  const fs::path path = folder / file.image_name;
  try {
    const Scan scan = ScanFile(path.string(), {}).read(1);
    const Page& page = file.pages.front();
    if (width_of(scan.picture) == page.width && height_of(scan.picture) == page.height)
      return to_gray(scan.picture);
    console.warn(path.string() + ": has another size than " + file.path +
                 " says; its words are shown without pictures");
  } catch (const Error& cause) {
    console.warn(std::string(cause.what()) +
                 "; its words are shown without pictures (see --images)");
  }
  return {};
}

report::ProofSheet sheet_of(const std::vector<PageFile>& files, const std::vector<Page*>& pages,
                            const ProofOptions& o, Context& context) {
  correct::CorrectSettings settings;
  settings.languages = split(o.lexicon.languages);
  const auto lexicon = o.lexicon.open();
  report::ProofSheet sheet;
  sheet.title = "Proof of " + fs::path(o.inputs.front()).filename().string();
  if (sheet.title == "Proof of ") sheet.title = "Proof";
  std::vector<bool> wanted(pages.size(), false);
  for (const correct::Suspect& s : correct::suspects_of(
           pages, *lexicon, correct::read_habits(shipped_habits()), settings, kMostSuggestions)) {
    const Line& line = pages[s.page]->blocks[s.block].lines[s.line];
    sheet.items.push_back({&line, &line.words[s.word], s.page, s.suggestions});
    wanted[s.page] = true;
  }
  size_t p = 0;
  for (const PageFile& file : files) {
    const bool any = std::any_of(wanted.begin() + static_cast<long>(p),
                                 wanted.begin() + static_cast<long>(p + file.pages.size()),
                                 [](bool w) { return w; });
    for (const Page& page : file.pages) {
      sheet.pages.push_back({&page, any ? picture_of(file, o, context.console) : Gray()});
      ++p;
    }
  }
  return sheet;
}

int proof_all(ProofOptions& o, Context& context) {
  std::vector<PageFile> files;
  for (const std::string& path : page_files(o.inputs)) files.push_back(read_page_file(path));
  std::vector<Page*> pages;
  std::vector<const Page*> shown;
  bool looked_at = false;
  for (PageFile& file : files) {
    for (Page& page : file.pages) {
      pages.push_back(&page);
      shown.push_back(&page);
      for (const Block& block : page.blocks) {
        for (const Line& line : block.lines)
          looked_at = looked_at || std::any_of(line.words.begin(), line.words.end(),
                                               [](const Word& w) { return w.doubt > 0; });
      }
    }
  }
  if (!looked_at) {
    context.console.point_out(
        "no word carries a verdict: run `burnisher correct` first, or `run "
        "--job`, which corrects as it goes");
  }
  const report::ProofSheet sheet = sheet_of(files, pages, o, context);
  for (const std::string& path : o.outputs) {
    const std::string ending = fs::path(path).extension();
    if (ending == ".html")
      write_file(path, report::proof_html(sheet, o.order == "doubt"), o.overwrite);
    else if (ending == ".pdf")
      report::write_proof_pdf(sheet, path, o.overwrite);
    else if (ending == ".tsv")
      write_file(path, report::words_table(shown), o.overwrite);
    else
      throw SettingsError("--out " + path +
                          ": the ending says the form; known are .html, .pdf "
                          "(on paper) and .tsv (all words)");
    context.console.say("written: " + path);
  }
  if (!o.aloud.empty()) {
    write_file(o.aloud, report::read_aloud(shown), o.overwrite);
    context.console.say("written: " + o.aloud);
  }
  context.console.say(fmt::format("{} suspect {} on {} {}", sheet.items.size(),
                                  sheet.items.size() == 1 ? "word" : "words", pages.size(),
                                  pages.size() == 1 ? "page" : "pages"));
  return kAllDone;
}

}  // namespace

void add_proof(CLI::App& app, Context& context) {
  auto* command = app.add_subcommand(
      "proof", "corrected pages in, a proof sheet to go through the suspects with out");
  auto o = std::make_shared<ProofOptions>();
  command->add_option("input", o->inputs, "PAGE XML or ALTO files or folders of them, as a job")
      ->required();
  command
      ->add_option("--out", o->outputs,
                   "the ending says the form: .html to click or type through, .pdf for paper, .tsv "
                   "with all words")
      ->type_name("FILE")
      ->take_all();
  command->add_option("--read-aloud", o->aloud, "write the text for comparing by ear here")
      ->type_name("FILE");
  command->add_option("--order", o->order, "which suspects the sheet begins with")
      ->check(CLI::IsMember({"reading", "doubt"}))
      ->capture_default_str();
  command
      ->add_option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      ->type_name("DIR");
  add_lexicon_options(*command, o->lexicon);
  command->add_flag("--overwrite", o->overwrite, "replace files that are there already");
  add_quiet(*command, context);
  command->footer(
      "Example:\n  burnisher run box3.tif --out box3.pdf --job box3\n"
      "  burnisher proof box3 --out proof.html\n"
      "  burnisher amend box3 decisions.tsv");
  command->callback([o, &context] {
    if (o->outputs.empty() && o->aloud.empty())
      throw SettingsError("say what to write: --out FILE or --read-aloud FILE");
    context.action = [o, &context] { return proof_all(*o, context); };
  });
}

}  // namespace burnisher::cli
