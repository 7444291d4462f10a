#include <filesystem>

#include "base/files.h"
#include "cli/commands.h"
#include "layout/stencil.h"
#include "pagefile/page_xml.h"

namespace burnisher::cli {
namespace {

struct StencilOptions {
  std::string page, stencil;
  bool overwrite = false;
};

int save_stencil(const StencilOptions& o, Context& context) {
  const PageXml read = read_page_xml_file(o.page);
  const Page stencil = layout::stencil_of(read.page);
  write_file(o.stencil, write_page_xml(stencil, read.image_name), o.overwrite);
  context.console.say("written: " + o.stencil + " with " + std::to_string(stencil.blocks.size()) +
                      " blocks");
  return kAllDone;
}

}  // namespace

void add_stencil(CommandLine& line, Context& context) {
  Command command =
      line.root().command("stencil", "the blocks of one page, to be laid over others");
  command.needs_command();
  Command save = command.command("save", "PAGE XML in, its blocks without lines out");
  auto o = std::make_shared<StencilOptions>();
  save.option("page", o->page, "PAGE XML, as `burnisher segment` writes it").required();
  save.option("stencil", o->stencil, "file to write; it is PAGE XML, too").required();
  save.flag("--overwrite", o->overwrite, "replace the file if it is there already");
  add_quiet(save, context);
  save.examples(
      "Example:\n"
      "  burnisher segment pages/log-0007.png --out-dir layout\n"
      "  burnisher stencil save layout/log-0007.xml log.stencil\n"
      "  burnisher run log.pdf --stencil log.stencil --out log-read.pdf");
  save.action([o, &context] { return save_stencil(*o, context); });
}

}  // namespace burnisher::cli
