#include "run/job_folder.h"

#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "pagefile/page_xml.h"
#include "raster/jpeg.h"
#include "raster/png.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

const char* const kDecisionsName = "decisions.tsv";
constexpr int kPictureQuality = 88;  // JPEG: suspects are looked at in it, nothing is read from it

}  // namespace

JobFolder::JobFolder(const std::string& path) : path_(path) {
  std::error_code status;
  fs::create_directories(path, status);
  if (status) throw OutputError(path + ": the folder cannot be made: " + status.message());
  if (fs::exists(decisions_path(), status)) decisions_ = correct::read_decisions(decisions_path());
}

std::string JobFolder::decisions_path() const {
  return (fs::path(path_) / kDecisionsName).string();
}

std::string JobFolder::keep_picture(const Picture& picture, const Page& page) const {
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  const std::string name = page_name_of(page) + (bitonal ? ".png" : ".jpg");
  const std::string path = (fs::path(path_) / name).string();
  if (bitonal)
    write_file(path, write_png(picture, page.dpi));
  else if (const auto* gray = std::get_if<Gray>(&picture))
    write_file(path, write_jpeg(*gray, kPictureQuality));
  else
    write_file(path, write_jpeg(std::get<Colour>(picture), kPictureQuality));
  return name;
}

std::vector<std::string> JobFolder::keep(FinishedPage& page) {
  const correct::Outcome outcome = correct::apply_decisions(
      decisions_, [](size_t) { return Gray(); }, {&page.page}, decisions_taken_);
  std::vector<std::string> problems;
  for (const std::string& problem : outcome.problems)
    problems.push_back(decisions_path() + ", " + problem);
  page.page.relative_file = relative_path(page.page.file, path_);
  const std::string path = (fs::path(path_) / (page_name_of(page.page) + ".xml")).string();
  write_file(path, write_page_xml(page.page, page.job_picture));
  page.page_file = path;
  if (!page.job_picture.empty()) page.picture_file = (fs::path(path_) / page.job_picture).string();
  return problems;
}

std::string page_name_of(const Page& page) {
  return fmt::format("{}-{:04}{}", sound_utf8(stem_of(page.file)), page.number,
                     side_suffix(page.part));
}

}  // namespace burnisher::run
