#include "barcode/separator_sheet.h"
#include "base/files.h"
#include "cli/commands.h"
#include "cli/fields.h"

namespace burnisher::cli {
namespace {

struct SheetOptions {
  std::string kind = "separator", out;
  std::vector<std::string> fields;
  bool overwrite = false;
};

int make(const SheetOptions& o, Context& context) {
  write_file(o.out, barcode::separator_sheet(fields_named(o.fields)), o.overwrite);
  context.console.say("written: " + o.out);
  return kAllDone;
}

}  // namespace

void add_sheet(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "sheet", "a sheet to print and lay into a batch: it begins a new document there");
  auto o = std::make_shared<SheetOptions>();
  command.option("--kind", o->kind, "what the sheet is for").one_of({"separator"}).default_shown();
  command
      .option("--field", o->fields,
              "a field of the document that follows, as in box=7; may be given several times")
      .take_all()
      .type_name("NAME=VALUE");
  command.option("--out", o->out, "the sheet, a PDF").required().type_name("FILE");
  command.flag("--overwrite", o->overwrite, "replace a file that is there already");
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher sheet --field box=7 --out box7.pdf     # print, lay on top of box 7\n"
      "  burnisher run batch.tif --out-dir done --to pdf --split-at separator --name '{box}-{n}'");
  command.action([o, &context] { return make(*o, context); });
}

}  // namespace burnisher::cli
