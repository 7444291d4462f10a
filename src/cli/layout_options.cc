#include <fmt/core.h>

#include <memory>

#include "base/pattern.h"
#include "cli/commands.h"

namespace burnisher::cli {
namespace {

layout::Length length_of(const std::string& text) {
  static const Pattern form("(-?[0-9]*\\.?[0-9]+)(px|mm|%)?");
  const std::vector<std::string> parts = form.groups(text);
  if (parts.empty()) {
    throw CLI::ValidationError("--region",
                               "'" + text + "': wanted is a length, as in 120px, 30mm or 50%");
  }
  using Unit = layout::Length::Unit;
  const std::string unit = parts[2];
  return {std::stod(parts[1]), unit == "mm"  ? Unit::kMillimetres
                               : unit == "%" ? Unit::kPercent
                                             : Unit::kPixels};
}

layout::Region region_of(const std::string& text) {
  const std::vector<std::string> parts = split(text);
  if (parts.size() != 4) {
    throw CLI::ValidationError(
        "--region", "wanted are four lengths, left,top,width,height, as in 0,50%,100%,50%");
  }
  const layout::Region region{length_of(parts[0]), length_of(parts[1]), length_of(parts[2]),
                              length_of(parts[3])};
  if (region.width.value <= 0 || region.height.value <= 0)
    throw CLI::ValidationError("--region", "its width and height must be above 0");
  return region;
}

}  // namespace

void add_layout(CLI::App& command, layout::SegmentSettings& settings) {
  command.add_option("--columns", settings.columns, "1: don't look for columns; 0: find them")
      ->check(CLI::Range(0, 1));
  command
      .add_option_function<std::string>(
          "--region", [&settings](const std::string& text) { settings.region = region_of(text); },
          "only what lies in left,top,width,height of the page; pixels, or with mm or %")
      ->type_name("X,Y,W,H");
  command
      .add_option(
          "--text-angle", settings.text_angle,
          "the text runs at this angle, degrees counter-clockwise (90: upwards); the page is not "
          "straightened then")
      ->check(CLI::Range(-180.0, 180.0))
      ->type_name("DEGREES");
  command
      .add_option_function<std::string>(
          "--text-in-pictures",
          [&settings](const std::string& what) { settings.text_in_pictures = what == "keep"; },
          "letters printed inside pictures: drop or keep (default: drop)")
      ->check(CLI::IsMember({"keep", "drop"}))
      ->type_name("WHAT");
  command.add_flag_callback(
      "--no-tables", [&settings] { settings.tables = false; }, "read tables like other text");
  command.add_flag("--right-to-left", settings.right_to_left, "columns are read from the right");
}

void add_kinds(CLI::App& command, KindChoice& choice) {
  const auto list = [](std::vector<BlockKind>& kinds) {
    return [&kinds](const std::string& text) {
      if (text.empty()) throw CLI::ValidationError("no kind of block is named");
      for (const std::string& name : split(text)) kinds.push_back(kind_named(name));
    };
  };
  command
      .add_option_function<std::string>("--only", list(choice.only),
                                        "only blocks of these kinds, as in text,heading,table")
      ->type_name("KINDS");
  command
      .add_option_function<std::string>("--drop", list(choice.drop),
                                        "no blocks of these kinds, as in running-head,page-number")
      ->type_name("KINDS");
}

}  // namespace burnisher::cli
