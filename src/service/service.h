// The program over HTTP: documents in, results out, for other programs and for a person with a
// browser. What is trusted, what not, and every limit: docs/service.md.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "service/access.h"

namespace burnisher::service {

struct ServiceSettings {
  std::string host = "127.0.0.1";
  int port = 8080;  // 0: any that is free
  std::string store;
  Access access;
  std::string program;              // the path of burnisher, started for every document
  std::vector<std::string> models;  // options that say which models read, given on to it
  std::string hold_if;              // rules that make documents wait for a person
  int at_once = 1;                  // documents worked on at a time
  int threads = 0;                  // of each; 0: all cores
  double most_body = 64;            // megabytes
  double most_pixels = 100;         // megapixels of a picture
  int most_pages = 500;             // of a document
  double most_seconds = 600;        // that a document may take
  size_t most_waiting = 100;        // documents
  double least_disk = 500;          // megabytes that must stay free
};

// What a small picture says, as JSON; in the process, so that it comes at once. Throws what reading
// throws.
using ReadPicture = std::function<std::string(const std::string& bytes)>;

class Service {
 public:
  // Throws SettingsError for an address beyond this machine without tokens, OutputError for one
  // that cannot be had.
  Service(const ServiceSettings& settings, ReadPicture read_picture,
          std::function<void(const std::string&)> tell);
  ~Service();

  int port() const;
  // Until `ended` says so; requests and documents in work are let finish as far as they can.
  void run(const std::function<bool()>& ended);

  struct State;  // of its parts alone

 private:
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::service
