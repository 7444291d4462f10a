#include "service/service.h"

#include <fmt/core.h>
#include <httplib.h>
#include <sys/statvfs.h>

#include <atomic>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <thread>

#include "base/error.h"
#include "base/files.h"
#include "base/process.h"
#include "intake/scan_file.h"
#include "job/job_file.h"
#include "raster/png.h"
#include "run/delivery.h"
#include "run/job_status.h"
#include "service/busy.h"
#include "service/http_text.h"
#include "service/openapi.h"
#include "service/problem.h"
#include "service/request_settings.h"
#include "service/service_page.h"
#include "service/store.h"

namespace burnisher::service {
namespace {

namespace fs = std::filesystem;
using nlohmann::ordered_json;

constexpr size_t kMostAnswer = 64u << 20;  // bytes of a child's JSON
constexpr double kMegabyte = 1e6, kMegapixel = 1e6;
constexpr time_t kSlowest = 10;               // seconds without a byte from a client
constexpr size_t kConnections = 16;           // answered at a time
constexpr double kMostSecondsOnDemand = 120;  // for a result that is made on demand
constexpr int kRetryAfter = 10;               // seconds
constexpr auto kLook = std::chrono::milliseconds(100);

using Request = httplib::Request;
using Response = httplib::Response;

struct Counters {
  std::atomic<long> requests{0}, refused{0}, reads{0}, documents{0}, failed{0}, pages{0};
  std::atomic<long> milliseconds{0};  // of documents
};

}  // namespace

struct Service::State {
  ServiceSettings settings;
  ReadPicture read_picture;
  std::function<void(const std::string&)> tell;
  Store store;
  httplib::Server server;
  int port = 0;
  std::atomic<bool> closing{false};
  Counters counters;
  std::mutex making;  // results on demand, one at a time

  State(const ServiceSettings& s, ReadPicture read, std::function<void(const std::string&)> say)
      : settings(s), read_picture(std::move(read)), tell(std::move(say)), store(s.store) {}

  ProcessResult program(std::vector<std::string> arguments, double seconds,
                        const std::function<bool()>& cancelled) const {
    arguments.insert(arguments.begin(), settings.program);
    ProcessLimits limits;
    limits.most_output = kMostAnswer;
    limits.most_seconds = seconds;
    limits.cancelled = cancelled;
    return run_process(arguments, limits);
  }

  std::string job_of(const std::string& id) const { return store.folder_of(id) + "/job"; }
  std::string made_of(const std::string& id) const { return store.folder_of(id) + "/made"; }

  // Documents, one after the other.
  void work() {
    while (const auto next = store.next([this] { return closing.load(); })) {
      StoredDocument one = *next;
      try {
        read(one);
      } catch (const std::exception& cause) {
        one.state = DocumentState::kFailed;
        one.why = without_folders(cause.what(), store.folder_of(one.id));
      }
      store.sweep(one.id);
      if (one.state == DocumentState::kWorking) continue;  // taken away, or the service ends
      store.put(one);
      tell(fmt::format("{} {}, {} {} in {:.1f} s{}{}", one.id, name_of(one.state), one.pages,
                       one.pages == 1 ? "page" : "pages", one.seconds, one.why.empty() ? "" : ": ",
                       one.why));
    }
  }

  void read(StoredDocument& one) {
    const std::string folder = store.folder_of(one.id), made = made_of(one.id);
    // What a service that was killed started may be at it still: it is left to end.
    while (!closing && run::at_work(job_of(one.id))) std::this_thread::sleep_for(kLook);
    fs::create_directories(made);
    std::vector<std::string> arguments = {"run"};
    for (const std::string& file : one.files) arguments.push_back(folder + "/in/" + file);
    const std::string threads = settings.threads > 0 ? std::to_string(settings.threads) : "";
    arguments.insert(arguments.end(),
                     {"--job", job_of(one.id), "--out", made + "/result.pdf", "--json", "--quiet",
                      fmt::format("--max-pixels={:.0f}", kMegapixel * settings.most_pixels)});
    if (!threads.empty()) arguments.push_back("--threads=" + threads);
    arguments.insert(arguments.end(), settings.models.begin(), settings.models.end());
    arguments.insert(arguments.end(), one.settings.begin(), one.settings.end());
    const auto cancelled = [&] { return closing.load() || store.gone(one.id); };
    ProcessResult result = program(arguments, settings.most_seconds, cancelled);
    while (found_busy(result) && !cancelled()) {
      std::this_thread::sleep_for(kLook);
      result = program(arguments, settings.most_seconds, cancelled);
    }
    if (closing || store.gone(one.id)) return;  // goes on at the next start, or is gone
    const auto report =
        ordered_json::parse(result.output.begin(), result.output.end(), nullptr, false);
    ++counters.documents;
    if (result.exit_code > 1 || !report.is_object()) {
      ++counters.failed;
      one.state = DocumentState::kFailed;
      one.why = without_folders(result.messages, folder);
      if (result.exit_code == 128 + 9)
        one.why = fmt::format("took longer than {:.0f} s", settings.most_seconds);
      return;
    }
    one.state = DocumentState::kDone;
    one.seconds = report.value("seconds", 0.0);
    one.pages = static_cast<int>(report["pages"].size());
    counters.pages += one.pages;
    counters.milliseconds += static_cast<long>(1000 * one.seconds);
    for (const auto& problem : report["problems"])
      one.problems.push_back(without_folders(problem.get<std::string>(), folder));
    for (const auto& page : report["pages"])
      for (const auto& reason : page["look"])
        one.look.push_back(fmt::format("page {} of {}: {}", page.value("page", 1),
                                       fs::path(page.value("file", "")).filename().string(),
                                       without_folders(reason.get<std::string>(), folder)));
  }

  ordered_json status(const StoredDocument& one) const {
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
    const std::string self = "/v1/documents/" + one.id;
    all["links"] = {{"self", self}};
    if (one.state == DocumentState::kDone) {
      all["links"]["proof"] = self + "/proof";
      for (const char* kind : {"pdf", "txt", "md", "xml", "tsv", "epub", "odt"})
        all["links"][kind] = self + "/result." + kind;
    }
    return all;
  }

  StoredDocument wanted(const httplib::Request& request) const {
    const auto who = settings.access.who(request.get_header_value("Authorization"));
    const auto one = store.find(request.matches[1], who.value_or(""));
    if (!who || !one) throw HttpProblem(404, "there is no such document");
    return *one;
  }

  StoredDocument finished(const httplib::Request& request) const {
    const StoredDocument one = wanted(request);
    if (one.state == DocumentState::kFailed)
      throw HttpProblem(409, "could not be read: " + one.why);
    if (one.state != DocumentState::kDone) throw HttpProblem(409, "is not done yet");
    return one;
  }

  // A file that the program makes of a document's job, kept until a decision changes the job.
  std::string made_on_demand(const StoredDocument& one, const std::string& name,
                             std::vector<std::string> arguments) {
    const std::string path = made_of(one.id) + "/" + name;
    const std::lock_guard<std::mutex> lock(making);
    if (!fs::exists(path)) {
      arguments.insert(arguments.end(), {"--out", path, "--quiet"});
      const ProcessResult result =
          program(arguments, kMostSecondsOnDemand, [this] { return closing.load(); });
      if (!fs::exists(path))
        throw HttpProblem(
            500, "could not be made: " + without_folders(result.messages, store.folder_of(one.id)));
    }
    const auto bytes = read_file(path);
    return {bytes.begin(), bytes.end()};
  }

  void take_document(const Request& request, const httplib::ContentReader& reader,
                     Response& response) {
    if (store.count(DocumentState::kWaiting) >= settings.most_waiting) {
      response.set_header("Retry-After", std::to_string(kRetryAfter));
      throw HttpProblem(429, "too many documents wait");
    }
    struct statvfs disk {};
    if (statvfs(settings.store.c_str(), &disk) == 0 &&
        static_cast<double>(disk.f_bavail) * static_cast<double>(disk.f_frsize) <
            kMegabyte * settings.least_disk)
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
    const auto who = settings.access.who(request.get_header_value("Authorization"));
    try {
      const StoredDocument one =
          store.add(uploads, who.value_or(""), arguments_of(asked), settings.most_pages);
      response.status = 201;
      response.set_header("Location", "/v1/documents/" + one.id);
      response.set_content(dumped(status(one)), "application/json");
    } catch (const OutputError& cause) {
      throw HttpProblem(507, "the store takes nothing more");
    } catch (const Error& cause) {
      throw HttpProblem(422, cause.what());
    }
  }

  void give_result(const httplib::Request& request, httplib::Response& response) {
    const std::string ending = "." + std::string(request.matches[2]);
    try {
      run::output_kind_of("result" + ending);
    } catch (const SettingsError&) {
      throw HttpProblem(404, "there is no result of the kind " + ending);
    }
    const StoredDocument one = finished(request);
    response.set_content(made_on_demand(one, "result" + ending, {"export", job_of(one.id)}),
                         type_of(ending).c_str());
  }

  void give_page(const httplib::Request& request, httplib::Response& response) {
    const StoredDocument one = finished(request);
    const std::string digits = request.matches[2];
    const size_t number = digits.size() < 7 ? std::stoul(digits) : 0;
    const auto job = job::job_file_in(job_of(one.id));
    std::vector<std::string> pictures;
    if (job)
      for (const std::string& scan : job->order)
        for (const char* side : {"", "-left", "-right"})
          for (const char* ending : {".png", ".jpg"}) {
            const std::string path = job_of(one.id) + "/" + scan + side + ending;
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

  void take_decisions(const Request& request, const httplib::ContentReader& reader,
                      Response& response) {
    const StoredDocument one = finished(request);
    const std::string body = body_of(request, reader);
    const std::lock_guard<std::mutex> lock(making);
    const std::string table = store.folder_of(one.id) + "/decisions.tsv";
    write_file(table, body);
    const ProcessResult result =
        program({"amend", job_of(one.id), table}, kMostSecondsOnDemand, [] { return false; });
    std::error_code status;
    fs::remove(table, status);
    const std::string said = without_folders(result.messages, store.folder_of(one.id));
    if (result.exit_code > 1) throw HttpProblem(422, said);
    // Everything is made anew from now on.
    fs::remove_all(made_of(one.id), status);
    fs::create_directories(made_of(one.id));
    response.set_content(dumped({{"said", said}}), "application/json");
  }

  std::string metrics() const {
    std::string text;
    const auto add = [&](const char* name, const char* kind, const char* help, double value) {
      text += fmt::format("# HELP burnisher_{0} {2}\n# TYPE burnisher_{0} {1}\nburnisher_{0} {3}\n",
                          name, kind, help, value);
    };
    add("requests_total", "counter", "Requests answered.", static_cast<double>(counters.requests));
    add("refused_total", "counter", "Of them, answered with an error.",
        static_cast<double>(counters.refused));
    add("small_reads_total", "counter", "Small pictures read at once.",
        static_cast<double>(counters.reads));
    add("documents_total", "counter", "Documents worked on.",
        static_cast<double>(counters.documents));
    add("documents_failed_total", "counter", "Of them, not readable.",
        static_cast<double>(counters.failed));
    add("pages_total", "counter", "Pages read.", static_cast<double>(counters.pages));
    add("document_seconds_total", "counter", "Seconds that documents took.",
        static_cast<double>(counters.milliseconds) / 1000);
    add("documents_waiting", "gauge", "Documents that wait.",
        static_cast<double>(store.count(DocumentState::kWaiting)));
    add("documents_working", "gauge", "Documents being worked on.",
        static_cast<double>(store.count(DocumentState::kWorking)));
    return text;
  }

  // What is done, with its problems as answers.
  void answer(const Request& request, Response& response, const std::function<void()>& what) {
    try {
      what();
    } catch (const HttpProblem& problem) {
      refuse(response, problem.status(), problem.what());
    } catch (const std::exception& cause) {
      tell(request.path + ": " + cause.what());
      refuse(response, 500, "an unexpected error; the service's log says more");
    }
  }
  httplib::Server::Handler answering(
      const std::function<void(const Request&, Response&)>& handler) {
    return [this, handler](const Request& request, Response& response) {
      answer(request, response, [&] { handler(request, response); });
    };
  }
  using BodyHandler = std::function<void(const Request&, const httplib::ContentReader&, Response&)>;
  httplib::Server::HandlerWithContentReader taking(const BodyHandler& handler) {
    return [this, handler](const Request& request, Response& response,
                           const httplib::ContentReader& reader) {
      answer(request, response, [&] { handler(request, reader, response); });
    };
  }

  void refuse(httplib::Response& response, int status, const std::string& detail) {
    ++counters.refused;
    response.status = status;
    if (status == 401) response.set_header("WWW-Authenticate", "Bearer");
    response.set_content(problem_json(status, detail), "application/problem+json");
  }

  // Before anything of a body is read.
  bool let_in(const httplib::Request& request, httplib::Response& response) {
    ++counters.requests;
    const bool open =
        request.path == "/" || request.path == "/v1/health" || request.path == "/v1/openapi.json";
    if (!open && !settings.access.who(request.get_header_value("Authorization"))) {
      refuse(response, 401, "a token is wanted: Authorization: Bearer TOKEN");
      return false;
    }
    // What unfolds on the way in could be any size.
    if (request.has_header("Content-Encoding")) {
      refuse(response, 415, "bodies are taken as they are, without Content-Encoding");
      return false;
    }
    return true;
  }

  void describe_routes() {
    const std::string document = "/v1/documents/([0-9a-f]{32})";
    server.Get("/", answering([](const auto&, auto& response) {
                 response.set_content(kServicePage, "text/html; charset=utf-8");
               }));
    server.Get("/v1/openapi.json", answering([](const auto&, auto& response) {
                 response.set_content(openapi_json(), "application/json");
               }));
    server.Get("/v1/health", answering([](const auto&, auto& response) {
                 response.set_content("{\"status\":\"ok\"}", "application/json");
               }));
    server.Get("/metrics", answering([this](const auto&, auto& response) {
                 response.set_content(metrics(), "text/plain; version=0.0.4");
               }));
    server.Post("/v1/read", taking([this](const auto& request, const auto& reader, auto& response) {
                  const std::string body = body_of(request, reader);
                  if (body.empty()) throw HttpProblem(400, "no picture came with it");
                  try {
                    response.set_content(read_picture(body), "application/json");
                  } catch (const Error& cause) {
                    throw HttpProblem(422, cause.what());
                  }
                  ++counters.reads;
                }));
    server.Post("/v1/documents",
                taking([this](const auto& request, const auto& reader, auto& response) {
                  take_document(request, reader, response);
                }));
    server.Get("/v1/documents", answering([this](const auto& request, auto& response) {
                 const auto who = settings.access.who(request.get_header_value("Authorization"));
                 ordered_json list = ordered_json::array();
                 for (const StoredDocument& one : store.of(who.value_or("")))
                   list.push_back(status(one));
                 response.set_content(dumped({{"documents", list}}), "application/json");
               }));
    server.Get(document, answering([this](const auto& request, auto& response) {
                 response.set_content(dumped(status(wanted(request))), "application/json");
               }));
    server.Delete(document, answering([this](const auto& request, auto& response) {
                    const StoredDocument one = wanted(request);
                    if (!store.remove(one.id, one.owner))
                      throw HttpProblem(404, "there is no such document");
                    response.status = 204;
                  }));
    server.Get(
        document + "/result\\.([a-z0-9]{2,5})",
        answering([this](const auto& request, auto& response) { give_result(request, response); }));
    server.Get(
        document + "/pages/([0-9]+)\\.png",
        answering([this](const auto& request, auto& response) { give_page(request, response); }));
    server.Get(document + "/proof", answering([this](const auto& request, auto& response) {
                 const StoredDocument one = finished(request);
                 response.set_content(made_on_demand(one, "proof.html", {"proof", job_of(one.id)}),
                                      "text/html; charset=utf-8");
               }));
    server.Post(document + "/decisions",
                taking([this](const auto& request, const auto& reader, auto& response) {
                  take_decisions(request, reader, response);
                }));
  }
};

Service::Service(const ServiceSettings& settings, ReadPicture read_picture,
                 std::function<void(const std::string&)> tell) {
  if (!is_loopback(settings.host) && !settings.access.asked_for())
    throw SettingsError(
        "listen", settings.host + ": reaches beyond this machine; --tokens FILE says who may ask");
  state_ = std::make_unique<State>(settings, std::move(read_picture), std::move(tell));
  State& s = *state_;
  s.server.new_task_queue = [] { return new httplib::ThreadPool(kConnections); };
  s.server.set_payload_max_length(static_cast<size_t>(kMegabyte * settings.most_body));
  // A request that is refused leaves its body unread: on a connection that goes on, a proxy would
  // take what is in it for the next request.
  s.server.set_keep_alive_max_count(1);
  s.server.set_read_timeout(kSlowest);
  s.server.set_write_timeout(kSlowest);
  s.server.set_pre_routing_handler([&s](const auto& request, auto& response) {
    return s.let_in(request, response) ? httplib::Server::HandlerResponse::Unhandled
                                       : httplib::Server::HandlerResponse::Handled;
  });
  s.server.set_error_handler([](const auto&, auto& response) {
    if (!response.body.empty()) return;
    const char* detail = response.status == 413   ? "the body is larger than it may be"
                         : response.status == 404 ? "there is nothing at this address"
                                                  : "the request makes no sense";
    response.set_content(problem_json(response.status, detail), "application/problem+json");
  });
  s.describe_routes();
  if (settings.port == 0)
    s.port = s.server.bind_to_any_port(settings.host);
  else if (s.server.bind_to_port(settings.host, settings.port))
    s.port = settings.port;
  if (s.port <= 0)
    throw OutputError(fmt::format("{}:{} cannot be listened on", settings.host, settings.port));
}

Service::~Service() = default;

int Service::port() const {
  return state_->port;
}

void Service::run(const std::function<bool()>& ended) {
  State& s = *state_;
  std::vector<std::thread> workers;
  for (int i = 0; i < s.settings.at_once; ++i) workers.emplace_back([&s] { s.work(); });
  std::thread listening([&s] { s.server.listen_after_bind(); });
  while (!ended()) std::this_thread::sleep_for(kLook);
  s.closing = true;
  s.server.stop();
  s.store.wake();
  listening.join();
  for (std::thread& worker : workers) worker.join();
}

}  // namespace burnisher::service
