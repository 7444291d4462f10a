#include "pagefile/scan_geometry.h"

#include <fmt/core.h>

#include <cmath>
#include <memory>
#include <sstream>

#include "base/error.h"
#include "base/numbers.h"
#include "base/unicode.h"

namespace burnisher {
namespace {

constexpr int kMostPages = 10000000;    // of a file
constexpr double kHighestDpi = 100000;  // no scanner has more

// Shifts that are not all there are refused: without them every place would be wrong.
std::shared_ptr<const DisplacementField> read_displacement(const Custom& custom) {
  if (!custom.has("displacement")) return nullptr;
  auto field = std::make_shared<DisplacementField>();
  field->step = custom.number("displacement", "step").value_or(0);
  field->columns = static_cast<int>(custom.number("displacement", "columns").value_or(0));
  field->rows = static_cast<int>(custom.number("displacement", "rows").value_or(0));
  std::istringstream shifts(custom.text("displacement", "down"));
  for (std::string shift; std::getline(shifts, shift, ',');) {
    const auto down = number_in(shift);
    if (!down || std::fabs(*down) > kLargestNumber)
      throw FormatError("the page's displacement field has a shift of " + shift);
    field->down.push_back(static_cast<float>(*down));
  }
  const bool sound =
      field->step > 0 && field->columns >= 2 && field->rows >= 2 &&
      field->down.size() == static_cast<size_t>(field->columns) * static_cast<size_t>(field->rows);
  if (!sound) throw FormatError("the page's displacement field is not complete");
  return field;
}

// All of the page must lie before the horizon, or its places have no place in the scan.
void check_horizon(const Projective& plane, const Page& page) {
  for (const double x : {0.0, static_cast<double>(page.width)}) {
    for (const double y : {0.0, static_cast<double>(page.height)}) {
      if (!(plane.g * x + plane.h * y + 1 > 0.01))
        throw FormatError("the way from the page to its scan leads beyond the horizon");
    }
  }
}

// A number of the page's scan, within what a scan can have.
double scan_number(const Custom& custom, const char* key, double fallback, double least,
                   double most) {
  const double value = custom.number("scan", key).value_or(fallback);
  if (value < least || value > most)
    throw FormatError(fmt::format("no scan has a {} of {}", key, value));
  return value;
}

}  // namespace

std::vector<std::string> scan_entries(const Page& page, const std::string& image_name) {
  const Projective& plane = page.geometry.to_scan.plane();
  const Affine& m = plane.affine;
  std::vector<std::pair<std::string, std::string>> scan = {
      {"page", std::to_string(page.number)},
      {"part", std::to_string(page.part)},
      {"width",
       std::to_string(page.geometry.scan_width > 0 ? page.geometry.scan_width : page.width)},
      {"height",
       std::to_string(page.geometry.scan_height > 0 ? page.geometry.scan_height : page.height)},
      {"dpi", exact(page.dpi)},
      {"a", exact(m.a)},
      {"b", exact(m.b)},
      {"c", exact(m.c)},
      {"d", exact(m.d)},
      {"e", exact(m.e)},
      {"f", exact(m.f)}};
  if (!plane.is_affine()) {
    scan.emplace_back("g", exact(plane.g));
    scan.emplace_back("h", exact(plane.h));
  }
  // The scan is named where it is not the page picture itself.
  if (!page.file.empty() && page.file != image_name) scan.emplace_back("file", page.file);
  if (!page.relative_file.empty()) scan.emplace_back("relative", page.relative_file);
  std::vector<std::string> entries = {custom_entry("scan", scan)};
  if (const auto& field = page.geometry.to_scan.displacement()) {
    std::string down;
    for (const float shift : field->down) down += (down.empty() ? "" : ",") + exact(shift);
    entries.push_back(custom_entry("displacement", {{"step", exact(field->step)},
                                                    {"columns", std::to_string(field->columns)},
                                                    {"rows", std::to_string(field->rows)},
                                                    {"down", down}}));
  }
  if (sound_utf8(image_name) != image_name)
    entries.push_back(custom_entry("picture", {{"name", image_name}}));
  if (!page.cleaning.empty()) entries.push_back(custom_entry("cleaning", page.cleaning));
  return entries;
}

void read_geometry(const Custom& custom, Page& page) {
  page.number = static_cast<int>(scan_number(custom, "page", 1, 1, kMostPages));
  page.part = static_cast<int>(scan_number(custom, "part", 0, 0, 2));
  page.geometry.scan_width =
      static_cast<int>(scan_number(custom, "width", page.width, 1, kLongestSide));
  page.geometry.scan_height =
      static_cast<int>(scan_number(custom, "height", page.height, 1, kLongestSide));
  page.dpi = scan_number(custom, "dpi", 300, 1, kHighestDpi);
  Affine m;
  const auto take = [&](const char* key, double& value) {
    value = custom.number("scan", key).value_or(value);
  };
  take("a", m.a);
  take("b", m.b);
  take("c", m.c);
  take("d", m.d);
  take("e", m.e);
  take("f", m.f);
  if (m.a * m.e - m.b * m.d == 0) throw FormatError("the way from the page to its scan is flat");
  const Projective plane{m, custom.number("scan", "g").value_or(0),
                         custom.number("scan", "h").value_or(0)};
  if (!plane.is_affine()) check_horizon(plane, page);
  page.geometry.to_scan = {plane, read_displacement(custom)};
}

}  // namespace burnisher
