#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "correct/correct.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "report/proof_pdf.h"
#include "report/proof_sheet.h"
#include "report/words_table.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

// Words; as many as have a key of their own, with room to type another.
constexpr size_t kMostSuggestions = 6;

struct ProofOptions {
  std::vector<std::string> inputs, outputs;
  std::string images, aloud, order = "reading";
  LexiconOptions lexicon;
  bool overwrite = false;
};

// The page picture, when it can be used.
Gray picture_of(const PageFile& file, const ProofOptions& o, Console& console) {
  if (file.format == PageFile::Format::kAlto) return {};
  try {
    return to_gray(page_picture(file, o.images));
  } catch (const Error& cause) {
    console.warn(std::string(cause.what()) +
                 "; its words are shown without pictures (see --images)");
  }
  return {};
}

// The pages of all files, and the file each is from.
struct Pages {
  std::vector<const Page*> pages;
  std::vector<const PageFile*> files;
};

Pages pages_of(const std::vector<PageFile>& files) {
  Pages all;
  for (const PageFile& file : files) {
    for (const Page& page : file.pages) {
      all.pages.push_back(&page);
      all.files.push_back(&file);
    }
  }
  return all;
}

bool was_corrected(const Page& page) {
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        if (word.error_probability > 0) return true;
      }
    }
  }
  return false;
}

report::ProofSheet sheet_of(const Pages& all, const ProofOptions& o, Context& context) {
  const auto lexicon = o.lexicon.open();
  report::ProofSheet sheet;
  const std::string name = fs::path(o.inputs.front()).filename();
  sheet.title = name.empty() ? "Proof" : "Proof of " + name;
  sheet.pages = all.pages;
  for (const correct::Suspect& s :
       correct::suspects_of(all.pages, *lexicon, context.models.confusion_model_for(all.pages),
                            split(o.lexicon.languages), kMostSuggestions)) {
    const Line& line = all.pages[s.page]->blocks[s.spot.block].lines[s.spot.line];
    sheet.items.push_back({&line, &line.words[s.spot.word], s.page, s.suggestions});
  }
  sheet.picture = [&](size_t page) { return picture_of(*all.files[page], o, context.console); };
  return sheet;
}

void write_sheet(const report::ProofSheet& sheet, const std::string& path, const ProofOptions& o) {
  const std::string ending = fs::path(path).extension();
  if (ending == ".html")
    write_file(path, report::proof_html(sheet, o.order == "doubt"), o.overwrite);
  else if (ending == ".pdf")
    report::write_proof_pdf(sheet, path, o.overwrite);
  else
    write_file(path, report::words_table(sheet.pages), o.overwrite);
}

void check_endings(const ProofOptions& o) {
  if (o.outputs.empty() && o.aloud.empty())
    throw SettingsError("say what to write: --out FILE or --read-aloud FILE");
  for (const std::string& path : o.outputs) {
    const std::string ending = fs::path(path).extension();
    if (ending != ".html" && ending != ".pdf" && ending != ".tsv")
      throw SettingsError("--out " + path +
                          ": the ending says the form; known are .html, .pdf (on paper) and .tsv "
                          "(all words)");
  }
}

int proof_all(const ProofOptions& o, Context& context) {
  check_endings(o);
  for (const std::string& path : o.outputs) check_target(path, o.overwrite);
  if (!o.aloud.empty()) check_target(o.aloud, o.overwrite);
  const PageFiles read = read_page_files(o.inputs, context.console);
  if (read.files.empty()) return kNothing;
  const Pages all = pages_of(read.files);
  if (std::none_of(all.pages.begin(), all.pages.end(),
                   [](const Page* page) { return was_corrected(*page); })) {
    context.console.point_out(
        "no word carries a verdict: run `burnisher correct` first, or `run --job`, which corrects "
        "as it goes");
  }
  const report::ProofSheet sheet = sheet_of(all, o, context);
  for (const std::string& path : o.outputs) {
    write_sheet(sheet, path, o);
    context.console.say("written: " + path);
  }
  if (!o.aloud.empty()) {
    write_file(o.aloud, report::read_aloud(all.pages), o.overwrite);
    context.console.say("written: " + o.aloud);
  }
  context.console.say(fmt::format("{} suspect {} on {} {}", sheet.items.size(),
                                  sheet.items.size() == 1 ? "word" : "words", all.pages.size(),
                                  all.pages.size() == 1 ? "page" : "pages"));
  return read.failed ? kSomeLeft : kAllDone;
}

}  // namespace

void add_proof(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "proof", "corrected pages in, a proof sheet to go through the suspects with out");
  auto o = std::make_shared<ProofOptions>();
  command.option("input", o->inputs, "PAGE XML or ALTO files or folders of them, as a job")
      .required();
  command
      .option("--out", o->outputs,
              "the ending says the form: .html to click or type through, .pdf for paper, .tsv "
              "with all words")
      .type_name("FILE")
      .take_all();
  command.option("--read-aloud", o->aloud, "write the text for comparing by ear here")
      .type_name("FILE");
  command.option("--order", o->order, "which suspects the sheet begins with")
      .one_of({"reading", "doubt"})
      .default_shown();
  command.option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      .type_name("DIR");
  add_lexicon_options(command, o->lexicon);
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_models_folder(command, context);
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher run box3.tif --out box3.pdf --job box3\n"
      "  burnisher proof box3 --out proof.html\n"
      "  burnisher amend box3 decisions.tsv");
  command.action([o, &context] { return proof_all(*o, context); });
}

}  // namespace burnisher::cli
