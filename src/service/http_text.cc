#include "service/http_text.h"

#include "service/problem.h"

namespace burnisher::service {
namespace {

using nlohmann::ordered_json;

constexpr size_t kMostParts = 1000;  // of a multipart body

}  // namespace

std::string dumped(const ordered_json& all) {
  return json_text(all);
}

std::string type_of(const std::string& ending) {
  if (ending == ".pdf") return "application/pdf";
  if (ending == ".xml" || ending == ".mets") return "application/xml";
  if (ending == ".html") return "text/html; charset=utf-8";
  if (ending == ".json") return "application/json";
  if (ending == ".csv") return "text/csv; charset=utf-8";
  if (ending == ".tsv") return "text/tab-separated-values; charset=utf-8";
  if (ending == ".epub") return "application/epub+zip";
  if (ending == ".odt") return "application/vnd.oasis.opendocument.text";
  if (ending == ".xlsx") return "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
  return "text/plain; charset=utf-8";
}

std::string body_of(const httplib::Request& request, const httplib::ContentReader& reader,
                    std::vector<httplib::MultipartFormData>* parts) {
  std::string body;
  bool whole = false;
  if (request.is_multipart_form_data()) {
    std::vector<httplib::MultipartFormData> found;
    whole = reader(
        [&](const httplib::MultipartFormData& part) {
          found.push_back(part);
          return found.size() <= kMostParts;
        },
        [&](const char* bytes, size_t length) {
          if (!found.empty()) found.back().content.append(bytes, length);
          return true;
        });
    if (parts != nullptr) *parts = std::move(found);
  } else {
    whole = reader([&](const char* bytes, size_t length) {
      body.append(bytes, length);
      return true;
    });
  }
  if (!whole) throw HttpProblem(413, "the body is larger than it may be, or ends early");
  return body;
}

std::string as_seen_outside(std::string text, const std::string& folder) {
  for (const std::string& one : {folder + "/in/", folder + "/", std::string("burnisher: ")})
    for (size_t at = text.find(one); at != std::string::npos; at = text.find(one, at))
      text.erase(at, one.size());
  // Remedies that are options of the command line.
  for (size_t at = text.find(" (--"); at != std::string::npos; at = text.find(" (--", at)) {
    const size_t end = text.find(')', at);
    if (end == std::string::npos) break;
    text.erase(at, end + 1 - at);
  }
  while (!text.empty() && text.back() == '\n') text.pop_back();
  return text;
}

}  // namespace burnisher::service
