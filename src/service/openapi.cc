#include "service/openapi.h"

#include "base/json.h"

#include "service/request_settings.h"

namespace burnisher::service {
namespace {

using nlohmann::ordered_json;

ordered_json answer(const char* what, const char* type = nullptr) {
  ordered_json one = {{"description", what}};
  if (type != nullptr) one["content"][type]["schema"] = ordered_json::object();
  return one;
}

ordered_json problem(const char* what) {
  return answer(what, "application/problem+json");
}

ordered_json parameter(const char* name, const char* pattern, const char* about) {
  return {{"name", name},
          {"in", "path"},
          {"required", true},
          {"description", about},
          {"schema", {{"type", "string"}, {"pattern", pattern}}}};
}

ordered_json operation(const char* summary, ordered_json responses) {
  responses["401"] = problem("no token, or a wrong one");
  return {{"summary", summary}, {"responses", std::move(responses)}};
}

// An operation on one document.
ordered_json on_document(const char* summary, ordered_json responses) {
  responses["404"] = problem("there is no such document, or it is somebody else's");
  ordered_json one = operation(summary, std::move(responses));
  one["parameters"] = {parameter("id", "^[0-9a-f]{32}$", "of the document")};
  return one;
}

}  // namespace

std::string openapi_json() {
  ordered_json paths;
  paths["/v1/documents"]["get"] =
      operation("The documents of this token", {{"200", answer("a list", "application/json")}});
  ordered_json& post = paths["/v1/documents"]["post"];
  post = operation(
      "Scans in, a document in work out",
      {{"201", answer("it waits to be read; Location says where it is", "application/json")},
       {"400", problem("no file")},
       {"413", problem("too large")},
       {"415", problem("a Content-Encoding")},
       {"422", problem("no scan, too many pages, or a setting that is not allowed")},
       {"429", problem("too many documents wait; Retry-After says when to try again")},
       {"507", problem("the disk is full")}});
  post["parameters"] = {{{"name", "Burnisher-Settings"},
                         {"in", "header"},
                         {"description", "the settings of a body that is one file"},
                         {"schema", {{"type", "string"}}}}};
  ordered_json names = ordered_json::array();
  for (const std::string& name : allowed_settings()) names.push_back(name);
  post["requestBody"]["content"] = {
      {"multipart/form-data",
       {{"schema",
         {{"type", "object"},
          {"properties",
           {{"file", {{"type", "array"}, {"items", {{"type", "string"}, {"format", "binary"}}}}},
            {"settings",
             {{"type", "string"},
              {"description", "a JSON object; its keys are options of `burnisher run`"},
              {"x-keys", names}}}}}}}}},
      {"application/octet-stream", {{"schema", {{"type", "string"}, {"format", "binary"}}}}}};
  paths["/v1/documents/{id}"]["get"] =
      on_document("Where it stands: progress, problems, links",
                  {{"200", answer("its state", "application/json")}});
  paths["/v1/documents/{id}"]["delete"] =
      on_document("Takes it away, at work or not", {{"204", answer("it is gone")}});
  ordered_json& result = paths["/v1/documents/{id}/result.{kind}"]["get"];
  result = on_document("A document of any kind that `burnisher export` makes, made on demand",
                       {{"200", answer("the file", "application/octet-stream")},
                        {"409", problem("it is not done yet, or failed")},
                        {"500", problem("it could not be made")}});
  result["parameters"].push_back(parameter(
      "kind", "^[a-z0-9]{2,5}$",
      "pdf, txt, md, epub, odt, xml (ALTO), html (hOCR), tsv, json (words), csv, xlsx, mets"));
  ordered_json& page = paths["/v1/documents/{id}/pages/{number}.png"]["get"];
  page = on_document("The picture of a page, straight and clean",
                     {{"200", answer("it", "image/png")}, {"409", problem("not done yet")}});
  page["parameters"].push_back(parameter("number", "^[0-9]+$", "from 1"));
  paths["/v1/documents/{id}/proof"]["get"] = on_document(
      "The proof sheet",
      {{"200", answer("a page for a browser", "text/html")}, {"409", problem("not done yet")}});
  ordered_json& decisions = paths["/v1/documents/{id}/decisions"]["post"];
  decisions = on_document("The table that a proof sheet saves; results are made anew",
                          {{"200", answer("what was applied", "application/json")},
                           {"413", problem("too large")},
                           {"409", problem("not done yet")},
                           {"422", problem("no such table")}});
  decisions["requestBody"]["content"]["text/tab-separated-values"]["schema"]["type"] = "string";
  paths["/v1/documents/{id}/pages"]["get"] =
      on_document("What is on its pages: size, blocks with number, kind, outline and text",
                  {{"200", answer("them", "application/json")}, {"409", problem("not done yet")}});
  paths["/v1/waiting"]["get"] = operation(
      "The documents that wait for a person, for who reviews them: why, and who has them open",
      {{"200", answer("a list", "application/json")}});
  ordered_json& claim = paths["/v1/waiting/{id}/claim"];
  claim["post"] =
      on_document("Opens one for a person; again, with the header, to keep it open",
                  {{"200", answer("the claim, and how long it holds", "application/json")},
                   {"409", problem("somebody else has it open")},
                   {"413", problem("too large")},
                   {"422", problem("no JSON object")}});
  claim["post"]["requestBody"]["content"]["application/json"]["schema"] = {
      {"type", "object"}, {"properties", {{"name", {{"type", "string"}}}}}};
  claim["delete"] = on_document("Puts it back", {{"204", answer("it is free")}});
  ordered_json& deliver = paths["/v1/waiting/{id}/deliver"]["post"];
  deliver = on_document(
      "Sends it on, decided and cut down; it is a document like the others from then on",
      {{"200", answer("what was applied", "application/json")},
       {"409", problem("it is not open with this claim")},
       {"413", problem("too large")},
       {"422", problem("no such table of decisions, or no such pages and blocks")}});
  deliver["requestBody"]["content"]["application/json"]["schema"] = {
      {"type", "object"},
      {"properties",
       {{"decisions", {{"type", "string"}, {"description", "the table that a proof sheet makes"}}},
        {"keep",
         {{"type", "string"},
          {"description", "pages and blocks, as in 2:3+4,6-8; empty: everything"}}}}}};
  for (ordered_json* one : {&claim["post"], &claim["delete"], &deliver})
    (*one)["parameters"].push_back({{"name", "Burnisher-Claim"},
                                    {"in", "header"},
                                    {"description", "what opening it gave"},
                                    {"schema", {{"type", "string"}}}});
  ordered_json& read = paths["/v1/read"]["post"];
  read = operation("A small picture in, its text and boxes out at once",
                   {{"200", answer("text, words, boxes, confidences", "application/json")},
                    {"400", problem("no picture")},
                    {"413", problem("too large")},
                    {"422", problem("no picture that can be read")}});
  const ordered_json picture = {{"type", "string"}, {"format", "binary"}};
  read["requestBody"]["content"] = {
      {"application/octet-stream", {{"schema", picture}}},
      {"multipart/form-data",
       {{"schema", {{"type", "object"}, {"properties", {{"file", picture}}}}}}}};
  paths["/v1/health"]["get"] = {{"summary", "Whether it answers"},
                                {"security", ordered_json::array()},
                                {"responses", {{"200", answer("it does", "application/json")}}}};
  paths["/v1/openapi.json"]["get"] = {{"summary", "This description"},
                                      {"security", ordered_json::array()},
                                      {"responses", {{"200", answer("it", "application/json")}}}};
  paths["/metrics"]["get"] =
      operation("Counters, as Prometheus reads them", {{"200", answer("text", "text/plain")}});
  const ordered_json all = {
      {"openapi", "3.0.3"},
      {"info",
       {{"title", "Burnisher"},
        {"version", "1"},
        {"description", "Scans in, finished documents out."}}},
      {"security", ordered_json::array({{{"token", ordered_json::array()}}})},
      {"paths", paths},
      {"components", {{"securitySchemes", {{"token", {{"type", "http"}, {"scheme", "bearer"}}}}}}}};
  return json_text(all, 1);
}

}  // namespace burnisher::service
