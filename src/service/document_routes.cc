#include <fmt/core.h>
#include <sys/statvfs.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "intake/scan_file.h"
#include "job/job_file.h"
#include "raster/png.h"
#include "run/delivery.h"
#include "run/job_status.h"
#include "service/http_text.h"
#include "service/problem.h"
#include "service/request_settings.h"
#include "service/service_state.h"

namespace burnisher::service {

namespace fs = std::filesystem;
using nlohmann::ordered_json;

ordered_json Service::State::status(const StoredDocument& one) const {
  ordered_json all = {{"id", one.id},           {"state", name_of(one.state)},
                      {"created", one.created}, {"files", one.names},
                      {"pages", one.pages},     {"seconds", one.seconds}};
  if (one.state == DocumentState::kWorking) {
    try {
      const run::JobStatus at = run::status_of(job_of(one.id));
      all["progress"] = {{"scans", at.scans}, {"read", at.read}};
    } catch (const Error&) {
      all["progress"] = {{"scans", one.pages}, {"read", 0}};  // it has just begun
    }
  }
  if (!one.why.empty()) all["why"] = one.why;
  all["problems"] = one.problems;
  all["look"] = one.look;
  if (one.state == DocumentState::kHeld) all["held"] = one.held;
  if (!one.keep.empty()) all["kept"] = one.keep;
  const std::string self = "/v1/documents/" + one.id;
  all["links"] = {{"self", self}};
  if (one.state == DocumentState::kDone) {
    all["links"]["proof"] = self + "/proof";
    for (const char* kind : {"pdf", "txt", "md", "xml", "tsv", "epub", "odt"})
      all["links"][kind] = self + "/result." + kind;
  }
  return all;
}

StoredDocument Service::State::wanted(const Request& request) const {
  const auto name = who(request);
  const std::string id = request.matches[1];
  auto one = store.find(id, name.value_or(""));
  if (!one && name && settings.access.reviews(*name)) one = store.find_held(id);
  if (!name || !one) throw HttpProblem(404, "there is no such document");
  return *one;
}

StoredDocument Service::State::finished(const Request& request, bool delivered) const {
  const StoredDocument one = wanted(request);
  if (one.state == DocumentState::kFailed) throw HttpProblem(409, "could not be read: " + one.why);
  if (one.state == DocumentState::kHeld && delivered)
    throw HttpProblem(409, "waits for a person, at /waiting");
  if (one.state != DocumentState::kDone && one.state != DocumentState::kHeld)
    throw HttpProblem(409, "is not done yet");
  return one;
}

std::string Service::State::made_on_demand(const StoredDocument& one, const std::string& name,
                                           std::vector<std::string> arguments) {
  const std::string path = made_of(one.id) + "/" + name;
  const std::lock_guard<std::mutex> lock(making);
  if (!fs::exists(path)) {
    arguments.insert(arguments.end(), {"--out", path, "--quiet"});
    const ProcessResult result =
        program(arguments, kMostSecondsOnDemand, [this] { return closing.load(); });
    if (!fs::exists(path))
      throw HttpProblem(
          500, "could not be made: " + as_seen_outside(result.messages, store.folder_of(one.id)));
  }
  const auto bytes = read_file(path);
  return {bytes.begin(), bytes.end()};
}

std::string Service::State::amended(const StoredDocument& one, const std::string& table) {
  const std::lock_guard<std::mutex> lock(making);
  const std::string path = store.folder_of(one.id) + "/decisions.tsv";
  write_file(path, table);
  const ProcessResult result =
      program({"amend", job_of(one.id), path}, kMostSecondsOnDemand, [] { return false; });
  std::error_code status;
  fs::remove(path, status);
  std::string said = as_seen_outside(result.messages, store.folder_of(one.id));
  constexpr int kRefused = 2;  // exit code
  if (result.exit_code >= kRefused) throw HttpProblem(422, said);
  forget_made(one.id);
  return said;
}

void Service::State::forget_made(const std::string& id) const {
  std::error_code status;
  fs::remove_all(made_of(id), status);
  fs::create_directories(made_of(id), status);
}

namespace {

constexpr int kRetryAfter = 10;  // seconds

void take_document(Service::State& s, const Request& request, const Reader& reader,
                   Response& response) {
  if (s.store.count(DocumentState::kWaiting) >= s.settings.most_waiting) {
    response.set_header("Retry-After", std::to_string(kRetryAfter));
    throw HttpProblem(429, "too many documents wait");
  }
  struct statvfs disk {};
  if (statvfs(s.settings.store.c_str(), &disk) == 0 &&
      static_cast<double>(disk.f_bavail) * static_cast<double>(disk.f_frsize) <
          kMegabyte * s.settings.least_disk)
    throw HttpProblem(507, "the disk is nearly full");
  std::vector<httplib::MultipartFormData> parts;
  std::string body = body_of(request, reader, &parts);
  std::vector<Upload> uploads;
  std::string asked = request.get_header_value("Burnisher-Settings");
  for (httplib::MultipartFormData& part : parts) {
    if (part.name == "settings")
      asked = part.content;
    else
      uploads.push_back({part.filename, part.content_type, std::move(part.content)});
  }
  if (!body.empty())
    uploads.push_back({"document", request.get_header_value("Content-Type"), std::move(body)});
  if (uploads.empty()) throw HttpProblem(400, "no file came with it");
  try {
    const StoredDocument one = s.store.add(uploads, s.who(request).value_or(""),
                                           arguments_of(asked), s.settings.most_pages);
    response.status = 201;
    response.set_header("Location", "/v1/documents/" + one.id);
    response.set_content(dumped(s.status(one)), "application/json");
  } catch (const OutputError& cause) {
    throw HttpProblem(507, "the store takes nothing more");
  } catch (const Error& cause) {
    throw HttpProblem(422, cause.what());
  }
}

void give_result(Service::State& s, const Request& request, Response& response) {
  const std::string ending = "." + std::string(request.matches[2]);
  try {
    run::output_kind_of("result" + ending);
  } catch (const SettingsError&) {
    throw HttpProblem(404, "there is no result of the kind " + ending);
  }
  const StoredDocument one = s.finished(request, true);
  std::vector<std::string> arguments = {"export", s.job_of(one.id)};
  for (const std::string& option : delivery_arguments(one.settings)) arguments.push_back(option);
  if (!one.keep.empty()) arguments.push_back("--keep=" + one.keep);
  response.set_content(s.made_on_demand(one, "result" + ending, arguments),
                       type_of(ending).c_str());
}

void give_page(Service::State& s, const Request& request, Response& response) {
  const StoredDocument one = s.finished(request, false);
  const std::string digits = request.matches[2];
  const size_t number = digits.size() < 7 ? std::stoul(digits) : 0;
  const auto job = job::job_file_in(s.job_of(one.id));
  std::vector<std::string> pictures;
  if (job)
    for (const std::string& scan : job->order)
      for (const char* side : {"", "-left", "-right"})
        for (const char* ending : {".png", ".jpg"}) {
          const std::string path = s.job_of(one.id) + "/" + scan + side + ending;
          if (fs::exists(path)) pictures.push_back(path);
        }
  if (number < 1 || number > pictures.size()) throw HttpProblem(404, "there is no such page");
  const std::string& path = pictures[number - 1];
  if (fs::path(path).extension() == ".png") {
    const auto bytes = read_file(path);
    response.set_content(std::string(bytes.begin(), bytes.end()), "image/png");
    return;
  }
  const std::vector<uint8_t> png = write_png(ScanFile(path, {}).read(1).picture, 0);
  response.set_content(std::string(png.begin(), png.end()), "image/png");
}

}  // namespace

void Service::State::describe_document_routes() {
  const std::string document = kDocument;
  server.Post("/v1/documents",
              taking([this](const auto& request, const auto& reader, auto& response) {
                take_document(*this, request, reader, response);
              }));
  server.Get("/v1/documents", answering([this](const auto& request, auto& response) {
               ordered_json list = ordered_json::array();
               for (const StoredDocument& one : store.of(who(request).value_or("")))
                 list.push_back(status(one));
               response.set_content(dumped({{"documents", list}}), "application/json");
             }));
  server.Get(document, answering([this](const auto& request, auto& response) {
               response.set_content(dumped(status(wanted(request))), "application/json");
             }));
  server.Delete(document, answering([this](const auto& request, auto& response) {
                  const std::string id = request.matches[1];
                  if (!store.remove(id, who(request).value_or("")))
                    throw HttpProblem(404, "there is no such document");
                  claims.drop(id);
                  response.status = 204;
                }));
  server.Get(document + "/result\\.([a-z0-9]{2,5})",
             answering([this](const auto& request, auto& response) {
               give_result(*this, request, response);
             }));
  server.Get(document + "/pages/([0-9]+)\\.png",
             answering([this](const auto& request, auto& response) {
               give_page(*this, request, response);
             }));
  server.Get(document + "/proof", answering([this](const auto& request, auto& response) {
               const StoredDocument one = finished(request, false);
               response.set_content(made_on_demand(one, "proof.html", {"proof", job_of(one.id)}),
                                    "text/html; charset=utf-8");
             }));
  server.Post(document + "/decisions",
              taking([this](const auto& request, const auto& reader, auto& response) {
                const StoredDocument one = finished(request, true);
                const std::string said = amended(one, body_of(request, reader));
                response.set_content(dumped({{"said", said}}), "application/json");
              }));
}

}  // namespace burnisher::service
