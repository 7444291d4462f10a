// Answers that say what is wrong: RFC 9457, application/problem+json.
#pragma once

#include <stdexcept>
#include <string>

namespace burnisher::service {

class HttpProblem : public std::runtime_error {
 public:
  HttpProblem(int status, const std::string& detail)
      : std::runtime_error(detail), status_(status) {}
  int status() const { return status_; }

 private:
  int status_;
};

// {"type": "about:blank", "title": "Not Found", "status": 404, "detail": ...}
std::string problem_json(int status, const std::string& detail);

}  // namespace burnisher::service
