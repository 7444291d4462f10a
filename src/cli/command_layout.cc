#include <fmt/core.h>

#include <filesystem>

#include "base/base64.h"
#include "base/error.h"
#include "base/files.h"
#include "cli/commands.h"
#include "job/record.h"
#include "pagefile/page_file.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "report/html.h"
#include "report/layout_sheet.h"
#include "run/job_session.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kEmbeddedWidth = 1400, kEmbeddedQuality = 60;  // pixels; JPEG

struct LayoutOptions {
  std::vector<std::string> inputs;
  std::string out, images;
  bool overwrite = false, one_file = false;
};

std::string embedded(const Gray& picture) {
  const Gray small = reduced(picture, std::max(1, picture.width() / kEmbeddedWidth));
  return "data:image/jpeg;base64," + base64(write_jpeg(small, kEmbeddedQuality));
}

// What the run that delivered the page said of it.
std::vector<std::string> remarks_of(const std::string& xml) {
  const fs::path path(xml);
  const auto [name, side] = run::scan_and_part(path.stem().string());
  try {
    const auto bytes = read_file((path.parent_path() / "read" / (name + ".json")).string());
    const job::ScanRecord record = job::read_record(std::string(bytes.begin(), bytes.end()));
    for (const job::PageRecord& page : record.pages)
      if (page.part == side) return page.look;
  } catch (const Error&) {
    // No job, or nothing said.
  }
  return {};
}

int lay_out(const LayoutOptions& o, Context& context) {
  check_target(o.out, o.overwrite);
  PageFiles read = read_page_files(o.inputs, context.console);
  read.files.erase(std::remove_if(read.files.begin(), read.files.end(),
                                  [](const PageFile& file) {
                                    return file.format != PageFile::Format::kPageXml;
                                  }),
                   read.files.end());
  if (read.files.empty()) return kNothing;
  const std::string folder = fs::absolute(o.out).parent_path().string();
  report::LayoutSheet sheet;
  const std::string name = fs::path(o.inputs.front()).filename();
  sheet.title = name.empty() ? "Layout" : "Layout of " + name;
  for (const PageFile& file : read.files) {
    report::LayoutLeaf leaf;
    leaf.name = fs::path(file.path).stem();
    leaf.page = &file.pages.front();
    leaf.picture = report::address_of(relative_path(picture_path(file, o.images), folder));
    leaf.look = remarks_of(file.path);
    sheet.leaves.push_back(std::move(leaf));
  }
  sheet.picture = [&](size_t i) -> Gray {
    try {
      Gray picture = to_gray(page_picture(read.files[i], o.images));
      if (o.one_file) sheet.leaves[i].picture = embedded(picture);
      return picture;
    } catch (const Error& cause) {
      context.console.warn(std::string(cause.what()) + "; the page is shown without its picture");
      return {};
    }
  };
  write_file(o.out, report::layout_html(sheet), o.overwrite);
  context.console.say("written: " + o.out);
  return read.failed ? kSomeLeft : kAllDone;
}

}  // namespace

void add_layout_sheet(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "layout", "read pages in, a sheet to put blocks, tables and order right with out");
  auto o = std::make_shared<LayoutOptions>();
  command.option("input", o->inputs, "a job, or PAGE XML files or folders of them").required();
  command
      .option("--out", o->out,
              "the sheet, an .html file; it shows the page pictures from where they lie")
      .required()
      .type_name("FILE");
  command.flag("--one-file", o->one_file, "put the pictures, a little smaller, into the sheet");
  command.option("--images", o->images, "folder of the page pictures (default: beside the XML)")
      .type_name("DIR");
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher run box3/ --out box3.pdf --job box3.job\n"
      "  burnisher layout box3.job --out layout.html     # mark in a browser, save layout.json\n"
      "  burnisher amend box3.job layout.json\n"
      "  burnisher run --job box3.job");
  command.action([o, &context] { return lay_out(*o, context); });
}

}  // namespace burnisher::cli
