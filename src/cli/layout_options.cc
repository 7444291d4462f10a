#include <fmt/core.h>

#include <cmath>
#include <memory>
#include <optional>

#include "base/error.h"
#include "base/numbers.h"
#include "base/pattern.h"
#include "cli/commands.h"

namespace burnisher::cli {
namespace {

constexpr int kMostColumns = 12;

layout::Length length_of(const std::string& text) {
  static const Pattern form("(-?[0-9]*\\.?[0-9]+)(px|mm|%)?");
  const std::vector<std::string> parts = form.groups(text);
  if (parts.empty()) {
    throw SettingsError(std::string("--region") + ": " + "'" + text +
                        "': a length is expected, as in 120px, 30mm or 50%");
  }
  using Unit = layout::Length::Unit;
  const std::string unit = parts[2];
  return {number_in(parts[1]).value_or(0), unit == "mm"  ? Unit::kMillimetres
                                           : unit == "%" ? Unit::kPercent
                                                         : Unit::kPixels};
}

layout::Region region_of(const std::string& text) {
  const std::vector<std::string> parts = split(text);
  if (parts.size() != 4) {
    throw SettingsError("--region",
                        "four lengths are expected, left,top,width,height, as in 0,50%,100%,50%");
  }
  const layout::Region region{length_of(parts[0]), length_of(parts[1]), length_of(parts[2]),
                              length_of(parts[3])};
  if (region.width.value <= 0 || region.height.value <= 0)
    throw SettingsError(std::string("--region") + ": " + "its width and height must be above 0");
  return region;
}

int columns_of(const std::string& text) {
  if (text == "auto") return 0;
  if (text == "single") return 1;
  const std::optional<double> count = number_in(text);
  if (!count || *count != std::floor(*count) || *count < 1 || *count > kMostColumns)
    throw SettingsError("--columns", fmt::format("'{}': auto, single or a number from 1 to {} is "
                                                 "expected",
                                                 text, kMostColumns));
  return static_cast<int>(*count);
}

}  // namespace

void add_layout(Command& command, layout::SegmentSettings& settings) {
  command
      .option(
          "--columns",
          [&settings](const std::string& text) { settings.columns = columns_of(text); },
          "of text: auto finds them, single reads right across, a number as in 3 cuts the page "
          "into "
          "so many (default: auto)")
      .type_name("auto|single|N");
  command
      .option(
          "--region", [&settings](const std::string& text) { settings.region = region_of(text); },
          "only what lies in left,top,width,height of the page; pixels, or with mm or %")
      .type_name("X,Y,W,H");
  command
      .option(
          "--text-angle", settings.text_angle,
          "the text runs at this angle, degrees counter-clockwise (90: upwards); the page is not "
          "straightened then")
      .between(-180.0, 180.0)
      .type_name("DEGREES");
  command
      .option(
          "--text-in-pictures",
          [&settings](const std::string& what) { settings.text_in_pictures = what == "keep"; },
          "letters printed inside pictures: drop or keep (default: drop)")
      .one_of({"keep", "drop"})
      .type_name("WHAT");
  command.flag(
      "--no-tables", [&settings] { settings.tables = false; }, "read tables like other text");
  command.flag("--right-to-left", settings.right_to_left, "columns are read from the right");
}

void add_kinds(Command& command, KindChoice& choice) {
  const auto list = [](std::vector<BlockKind>& kinds) {
    return [&kinds](const std::string& text) {
      if (text.empty()) throw SettingsError("no kind of block is named");
      for (const std::string& name : split(text)) kinds.push_back(kind_named(name));
    };
  };
  command
      .option("--only", list(choice.only), "only blocks of these kinds, as in text,heading,table")
      .type_name("KINDS");
  command
      .option("--drop", list(choice.drop),
              "no blocks of these kinds, as in running-head,page-number")
      .type_name("KINDS");
}

}  // namespace burnisher::cli
