#include "service/problem.h"

#include "base/json.h"

namespace burnisher::service {
namespace {

const char* title_of(int status) {
  switch (status) {
    case 400:
      return "Bad Request";
    case 401:
      return "Unauthorized";
    case 404:
      return "Not Found";
    case 405:
      return "Method Not Allowed";
    case 409:
      return "Conflict";
    case 413:
      return "Content Too Large";
    case 415:
      return "Unsupported Media Type";
    case 422:
      return "Unprocessable Content";
    case 429:
      return "Too Many Requests";
    case 507:
      return "Insufficient Storage";
    default:
      return "Internal Server Error";
  }
}

}  // namespace

std::string problem_json(int status, const std::string& detail) {
  const nlohmann::ordered_json all = {
      {"type", "about:blank"}, {"title", title_of(status)}, {"status", status}, {"detail", detail}};
  return json_text(all);
}

}  // namespace burnisher::service
