#include "service/service.h"

#include <fmt/core.h>

#include <thread>

#include "base/error.h"
#include "service/http_text.h"
#include "service/openapi.h"
#include "service/problem.h"
#include "service/service_page.h"
#include "service/service_state.h"

namespace burnisher::service {

constexpr time_t kSlowest = 10;      // seconds without a byte from a client
constexpr size_t kConnections = 16;  // answered at a time

std::string Service::State::metrics() const {
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
  add("documents_held", "gauge", "Documents that wait for a person.",
      static_cast<double>(store.count(DocumentState::kHeld)));
  add("documents_working", "gauge", "Documents being worked on.",
      static_cast<double>(store.count(DocumentState::kWorking)));
  return text;
}

void Service::State::answer(const Request& request, Response& response,
                            const std::function<void()>& what) {
  try {
    what();
  } catch (const HttpProblem& problem) {
    refuse(response, problem.status(), problem.what());
  } catch (const std::exception& cause) {
    tell(request.path + ": " + cause.what());
    refuse(response, 500, "an unexpected error; the service's log says more");
  }
}
httplib::Server::Handler Service::State::answering(
    const std::function<void(const Request&, Response&)>& handler) {
  return [this, handler](const Request& request, Response& response) {
    answer(request, response, [&] { handler(request, response); });
  };
}
httplib::Server::HandlerWithContentReader Service::State::taking(const BodyHandler& handler) {
  return [this, handler](const Request& request, Response& response, const Reader& reader) {
    answer(request, response, [&] { handler(request, reader, response); });
  };
}

void Service::State::refuse(Response& response, int status, const std::string& detail) {
  ++counters.refused;
  response.status = status;
  if (status == 401) response.set_header("WWW-Authenticate", "Bearer");
  response.set_content(problem_json(status, detail), "application/problem+json");
}

// Before anything of a body is read.
bool Service::State::let_in(const Request& request, Response& response) {
  ++counters.requests;
  const bool open = request.path == "/" || request.path == "/waiting" ||
                    request.path == "/v1/health" || request.path == "/v1/openapi.json";
  if (!open && !who(request)) {
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

// The picture: the body itself, or the one file of a form.
std::string only_file_of(std::string body, const std::vector<httplib::MultipartFormData>& parts) {
  constexpr const char* kHow = "; it comes as the body, or as the one file of a form";
  for (const httplib::MultipartFormData& part : parts) {
    if (part.filename.empty()) continue;
    if (!body.empty()) throw HttpProblem(400, std::string("more than one picture") + kHow);
    body = part.content;
  }
  if (body.empty()) throw HttpProblem(400, std::string("no picture came with it") + kHow);
  return body;
}

void Service::State::describe_routes() {
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
                std::vector<httplib::MultipartFormData> parts;
                const std::string body = only_file_of(body_of(request, reader, &parts), parts);
                try {
                  response.set_content(read_picture(body), "application/json");
                } catch (const Error& cause) {
                  throw HttpProblem(422, cause.what());
                }
                ++counters.reads;
              }));
  describe_document_routes();
  describe_waiting_routes();
}

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
