#include "job/job_file.h"

#include <filesystem>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"

namespace burnisher::job {
namespace {

using nlohmann::ordered_json;

const char* const kFormat = "burnisher-job-1";

ordered_json json_of(const FileStamp& stamp) {
  return {{"size", stamp.size}, {"modified", stamp.modified}};
}

FileStamp stamp_in(const ordered_json& from) {
  return {from.at("size").get<int64_t>(), from.at("modified").get<int64_t>()};
}

}  // namespace

std::string written_job(const JobFile& job) {
  ordered_json settings = ordered_json::object(), fields = ordered_json::object();
  for (const auto& [name, values] : job.settings) settings[name] = values;
  for (const auto& [name, value] : job.fields) fields[name] = value;
  ordered_json scans = ordered_json::array(), documents = ordered_json::array();
  for (const ScanSource& scan : job.scans) {
    ordered_json one = {{"file", scan.file}, {"pages", scan.pages}, {"digest", scan.digest}};
    one.update(json_of(scan.stamp));
    for (const auto& [name, value] : scan.fields) one["fields"][name] = value;
    scans.push_back(one);
  }
  for (const MadeDocument& document : job.documents) {
    ordered_json one = {{"file", document.file}, {"made", document.made}};
    one.update(json_of(document.stamp));
    for (const auto& [page, sheet] : document.sheets) one["sheets"][page] = sheet;
    documents.push_back(one);
  }
  ordered_json wishes = ordered_json::object();
  for (const auto& [name, wish] : job.wishes) {
    ordered_json one = ordered_json::object();
    if (wish.turn) one["turn"] = *wish.turn;
    if (wish.leave_out) one["leave_out"] = true;
    wishes[name] = one;
  }
  const ordered_json all = {
      {"format", kFormat}, {"inputs", job.inputs}, {"settings", settings},   {"fields", fields},
      {"scans", scans},    {"order", job.order},   {"documents", documents}, {"wishes", wishes}};
  return json_text(all, 1) + "\n";
}

JobFile read_job(const std::string& text) {
  try {
    const ordered_json all = parse_ordered_json(text);
    if (all.at("format") != kFormat) throw FormatError("is no job of this program");
    JobFile job;
    all.at("inputs").get_to(job.inputs);
    for (const auto& [name, values] : all.at("settings").items())
      job.settings.emplace_back(name, values.get<std::vector<std::string>>());
    for (const auto& [name, value] : all.at("fields").items())
      job.fields.emplace_back(name, value.get<std::string>());
    for (const ordered_json& one : all.at("scans")) {
      job.scans.push_back({one.at("file").get<std::string>(), stamp_in(one),
                           one.at("digest").get<std::string>(), one.at("pages").get<int>()});
      if (!one.contains("fields")) continue;
      for (const auto& [name, value] : one["fields"].items())
        job.scans.back().fields.emplace_back(name, value.get<std::string>());
    }
    all.at("order").get_to(job.order);
    for (const ordered_json& one : all.at("documents")) {
      job.documents.push_back(
          {one.at("file").get<std::string>(), stamp_in(one), one.at("made").get<std::string>()});
      if (!one.contains("sheets")) continue;
      for (const auto& [page, sheet] : one["sheets"].items())
        job.documents.back().sheets.emplace_back(page, sheet.get<int>());
    }
    for (const auto& [name, from] : all.at("wishes").items()) {
      PageWish& wish = job.wishes[name];
      if (from.contains("turn")) wish.turn = from["turn"].get<int>();
      wish.leave_out = from.value("leave_out", false);
    }
    return job;
  } catch (const ordered_json::exception& cause) {
    throw FormatError(std::string("is no job: ") + cause.what());
  }
}

std::optional<JobFile> job_file_in(const std::string& folder) {
  const std::string path = (std::filesystem::path(folder) / "job.json").string();
  std::error_code status;
  if (!std::filesystem::exists(path, status)) return std::nullopt;
  try {
    const auto bytes = read_file(path);
    return read_job(std::string(bytes.begin(), bytes.end()));
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
}

std::string setting_of(const JobFile& job, const std::string& name) {
  for (const auto& [key, values] : job.settings)
    if (key == name && !values.empty()) return values.back();
  return "";
}

}  // namespace burnisher::job
