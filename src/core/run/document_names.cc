#include "run/document_names.h"

#include <fmt/core.h>

#include <filesystem>
#include <map>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

std::string name_of(const RunSettings& settings, const ListedDocument& document) {
  return name_for(settings.delivery.name, document.stem, document.fields, document.number);
}

}  // namespace

bool joined(const RunSettings& settings) {
  return !settings.outputs.empty();
}

WantedDocuments wanted_documents(const RunSettings& settings, const ListedDocument& document) {
  WantedDocuments wanted;
  for (const std::string& path : settings.outputs) wanted.emplace_back(output_kind_of(path), path);
  if (joined(settings)) return wanted;
  for (OutputKind kind : settings.kinds) {
    wanted.emplace_back(
        kind, (fs::path(settings.output_folder) / (name_of(settings, document) + ending_of(kind)))
                  .string());
  }
  return wanted;
}

void keep_names_apart(const RunSettings& settings, const ScanList& scans) {
  if (joined(settings) && settings.job_folder.empty()) return;
  std::map<std::string, std::string> taken;
  const auto apart = [&](const std::string& name, const std::string& what) {
    const auto [place, fresh] = taken.emplace(name, what);
    if (!fresh)
      throw SettingsError(
          fmt::format("{} and {} would both be written as {}; give them different names or folders",
                      place->second, what, place->first));
  };
  if (scans.split)
    for (const ListedDocument& one : scans.documents) apart(name_of(settings, one), one.stem);
  else
    for (const std::string& path : scans.files) apart(stem_of(path), path);
}

}  // namespace burnisher::run
