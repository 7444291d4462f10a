// What the parts of the service share; only they include it. service.cc: listening, who is let in,
// what goes wrong. reading.cc: documents are read. document_routes.cc: documents over HTTP.
// waiting_routes.cc: those that wait for a person.
#pragma once

#include <httplib.h>

#include <atomic>
#include <mutex>
#include "base/json.h"

#include "base/process.h"
#include "service/claims.h"
#include "service/service.h"
#include "service/store.h"

namespace burnisher::service {

constexpr auto kLook = std::chrono::milliseconds(100);  // between two looks at what changes
constexpr double kMegabyte = 1e6, kMegapixel = 1e6;
constexpr double kMostSecondsOnDemand = 120;  // for a result that is made on demand

using Request = httplib::Request;
using Response = httplib::Response;
using Reader = httplib::ContentReader;

struct Counters {
  std::atomic<long> requests{0}, refused{0}, reads{0}, documents{0}, failed{0}, pages{0};
  std::atomic<long> milliseconds{0};  // of documents
};

struct Service::State {
  ServiceSettings settings;
  ReadPicture read_picture;
  std::function<void(const std::string&)> tell;
  Store store;
  Claims claims;
  httplib::Server server;
  int port = 0;
  std::atomic<bool> closing{false};
  Counters counters;
  std::mutex making;  // results on demand, one at a time

  State(const ServiceSettings& s, ReadPicture read, std::function<void(const std::string&)> say)
      : settings(s), read_picture(std::move(read)), tell(std::move(say)), store(s.store) {}

  // What was started with these arguments, to its end.
  ProcessResult program(std::vector<std::string> arguments, double seconds,
                        const std::function<bool()>& cancelled) const;
  std::string job_of(const std::string& id) const { return store.folder_of(id) + "/job"; }
  std::string made_of(const std::string& id) const { return store.folder_of(id) + "/made"; }
  // "": nobody needs a name. Nothing: a wrong token.
  std::optional<std::string> who(const Request& request) const {
    return settings.access.who(request.get_header_value("Authorization"));
  }

  // Documents, one after the other, until the service ends.
  void work();
  void read(StoredDocument& one);

  nlohmann::ordered_json status(const StoredDocument& one) const;
  // The document a request names; throws HttpProblem for one that is not there for who asks. What
  // waits for a person is there for those who review, too.
  StoredDocument wanted(const Request& request) const;
  // The same for one that was read; `delivered`: and waits for nobody.
  StoredDocument finished(const Request& request, bool delivered) const;
  // A file that the program makes of a document's job, kept until a decision changes the job.
  std::string made_on_demand(const StoredDocument& one, const std::string& name,
                             std::vector<std::string> arguments);
  // What `burnisher amend` says. Throws HttpProblem where the table makes no sense.
  std::string amended(const StoredDocument& one, const std::string& table);
  // Documents are made anew from now on.
  void forget_made(const std::string& id) const;
  void describe_document_routes();
  void describe_waiting_routes();
  void describe_routes();

  std::string metrics() const;
  bool let_in(const Request& request, Response& response);
  void refuse(Response& response, int status, const std::string& detail);
  // What is done, with its problems as answers.
  void answer(const Request& request, Response& response, const std::function<void()>& what);
  httplib::Server::Handler answering(const std::function<void(const Request&, Response&)>& handler);
  using BodyHandler = std::function<void(const Request&, const Reader&, Response&)>;
  httplib::Server::HandlerWithContentReader taking(const BodyHandler& handler);

  // Documents as they are addressed, for routes.
  static constexpr const char* kDocument = "/v1/documents/([0-9a-f]{32})";
};

}  // namespace burnisher::service
