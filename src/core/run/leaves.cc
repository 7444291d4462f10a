#include "run/leaves.h"

#include <fmt/core.h>

#include <optional>

#include "base/error.h"
#include "clean/other_side.h"

namespace burnisher::run {
namespace {

constexpr double kGuessedDpi = 300;  // of both sides, where either states none

struct Beside {
  clean::SeenSide side;
  int page = 0;
};

std::optional<Beside> seen(const ScanPlace& place, bool guess) {
  try {
    const Scan scan = place.file->read(place.page);
    const double dpi = guess || scan.stated_dpi <= 0 ? kGuessedDpi : scan.stated_dpi;
    return Beside{clean::seen_side(scan.picture, dpi), place.page};
  } catch (const Error&) {
    return std::nullopt;  // its own turn says what is wrong with it
  }
}

}  // namespace

void set_beside(ScanList& scans) {
  for (size_t i = 0; i < scans.tasks.size(); ++i) {
    ScanTask& task = scans.tasks[i];
    task.beside.clear();
    if (task.page > 1)
      task.beside.push_back({task.file, task.page - 1});
    else if (i > 0)
      task.beside.push_back({scans.tasks[i - 1].file, scans.tasks[i - 1].page});
    if (task.page < task.file->page_count())
      task.beside.push_back({task.file, task.page + 1});
    else if (i + 1 < scans.tasks.size())
      task.beside.push_back({scans.tasks[i + 1].file, scans.tasks[i + 1].page});
  }
}

Scan scan_of(const ScanTask& task) {
  Scan scan = task.file->read(task.page);
  if (std::holds_alternative<Bitonal>(scan.picture)) return scan;
  const bool guess = scan.stated_dpi <= 0;
  const double dpi = guess ? kGuessedDpi : scan.stated_dpi;
  for (const ScanPlace& place : task.beside) {
    const auto beside = seen(place, guess);
    if (!beside) continue;
    const clean::OtherSide found = clean::lift_other_side(beside->side, dpi, scan.picture);
    if (!found.found) continue;
    const bool own_file = place.file->path() == task.file->path();
    const std::string where = own_file ? fmt::format("page {}", beside->page) : place.file->path();
    scan.notes.push_back(
        fmt::format("{} shone through ({:.0f} % of the paper's light) and was taken out", where,
                    100 * found.strength));
  }
  return scan;
}

}  // namespace burnisher::run
