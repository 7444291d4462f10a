#include <cmath>

#include "base/error.h"
#include "base/unicode.h"
#include "page/block_kind.h"
#include "pagefile/page_file.h"
#include "run/kept_places.h"
#include "service/http_text.h"
#include "service/problem.h"
#include "service/service_state.h"
#include "service/waiting_page.h"

namespace burnisher::service {
namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr const char* kClaimHeader = "Burnisher-Claim";
constexpr size_t kLongestName = 60;  // bytes of a person's name

std::vector<Page> pages_of(const Service::State& s, const std::string& id) {
  std::vector<Problem> problems;
  std::vector<Page> pages;
  for (const std::string& path : page_files({s.job_of(id)}, problems))
    pages.push_back(std::move(read_page_file(path, false).pages.front()));
  return pages;
}

ordered_json block_json(const Block& block, size_t number) {
  ordered_json outline = ordered_json::array();
  for (const Point& p : block.outline) outline.push_back({std::lround(p.x), std::lround(p.y)});
  std::string text;
  for (const Line& line : block.lines) text += (text.empty() ? "" : "\n") + line.text();
  return {{"number", number}, {"kind", name_of(block.kind)}, {"outline", outline}, {"text", text}};
}

// What is on the pages, for choosing what of it is needed.
ordered_json pages_json(const Service::State& s, const StoredDocument& one) {
  ordered_json list = ordered_json::array();
  const std::vector<Page> pages = pages_of(s, one.id);
  for (size_t i = 0; i < pages.size(); ++i) {
    ordered_json blocks = ordered_json::array();
    for (size_t k = 0; k < pages[i].blocks.size(); ++k)
      blocks.push_back(block_json(pages[i].blocks[k], k + 1));
    list.push_back({{"number", i + 1},
                    {"width", pages[i].width},
                    {"height", pages[i].height},
                    {"blocks", blocks}});
  }
  return list;
}

void check_kept(const Service::State& s, const std::string& id, const std::string& keep) {
  if (keep.empty()) return;
  std::vector<Page> pages = pages_of(s, id);
  try {
    for (const run::KeptPage& kept : run::kept_places(keep, static_cast<int>(pages.size())))
      run::keep_blocks(kept.blocks, pages[static_cast<size_t>(kept.page - 1)]);
  } catch (const SettingsError& cause) {
    throw HttpProblem(422, as_seen_outside(cause.what(), s.store.folder_of(id)));
  }
}

json object_in(const std::string& body) {
  json said = json_or_discarded(body.empty() ? "{}" : body);
  if (!said.is_object()) throw HttpProblem(422, "the body is no JSON object");
  return said;
}
std::string text_in(const json& said, const char* name) {
  const auto found = said.find(name);
  if (found == said.end()) return "";
  if (!found->is_string()) throw HttpProblem(422, std::string(name) + " is a text");
  return found->get<std::string>();
}

StoredDocument held_one(const Service::State& s, const Request& request) {
  const auto one = s.store.find_held(request.matches[1]);
  const auto name = s.who(request);
  if (!one || !name || !s.settings.access.reviews(*name))
    throw HttpProblem(404, "no such document waits");
  return *one;
}

// The list; who reviews nothing sees that nothing waits for him.
ordered_json waiting_json(const Service::State& s, const Request& request) {
  ordered_json list = ordered_json::array();
  const auto name = s.who(request);
  if (!name || !s.settings.access.reviews(*name)) return list;
  for (const StoredDocument& one : s.store.held()) {
    ordered_json entry = {{"id", one.id},
                          {"created", one.created},
                          {"files", one.names},
                          {"pages", one.pages},
                          {"held", one.held}};
    if (const auto holder = s.claims.holder(one.id)) entry["open_with"] = *holder;
    list.push_back(entry);
  }
  return list;
}

void claim(Service::State& s, const Request& request, const Reader& reader, Response& response) {
  const StoredDocument one = held_one(s, request);
  const json said = object_in(body_of(request, reader));
  std::string name = s.who(request).value_or("");
  if (name.empty()) name = sound_utf8(text_in(said, "name").substr(0, kLongestName));
  if (name.empty()) name = "somebody";
  const auto secret = s.claims.claim(one.id, name, request.get_header_value(kClaimHeader));
  if (!secret)
    throw HttpProblem(409, s.claims.holder(one.id).value_or("somebody else") + " has it open");
  response.set_content(dumped({{"claim", *secret}, {"seconds", Claims::kLapse.count()}}),
                       "application/json");
}

// Decided, cut down, and on its way: it is delivered like the others from now on.
void deliver(Service::State& s, const Request& request, const Reader& reader, Response& response) {
  StoredDocument one = held_one(s, request);
  const json said = object_in(body_of(request, reader));
  const std::string secret = request.get_header_value(kClaimHeader);
  if (!s.claims.holds(one.id, secret))
    throw HttpProblem(409, "it is not open here any more; open it again");
  const std::string keep = text_in(said, "keep"), decisions = text_in(said, "decisions");
  check_kept(s, one.id, keep);
  ordered_json answer = {{"said", ""}};
  if (!decisions.empty()) answer["said"] = s.amended(one, decisions);
  // A second one that came at the same time has no claim any more.
  if (!s.claims.holds(one.id, secret))
    throw HttpProblem(409, "it is not open here any more; open it again");
  s.claims.drop(one.id);
  s.forget_made(one.id);
  one.keep = keep;
  one.state = DocumentState::kDone;
  s.store.put(one);
  s.tell(one.id + " done, sent on by a person");
  response.set_content(dumped(answer), "application/json");
}

}  // namespace

void Service::State::describe_waiting_routes() {
  const std::string waiting = "/v1/waiting/([0-9a-f]{32})";
  server.Get("/waiting", answering([](const auto&, auto& response) {
               response.set_content(kWaitingPage, "text/html; charset=utf-8");
             }));
  server.Get("/v1/waiting", answering([this](const auto& request, auto& response) {
               response.set_content(dumped({{"documents", waiting_json(*this, request)}}),
                                    "application/json");
             }));
  server.Post(waiting + "/claim",
              taking([this](const auto& request, const auto& reader, auto& response) {
                claim(*this, request, reader, response);
              }));
  server.Delete(waiting + "/claim", answering([this](const auto& request, auto& response) {
                  claims.release(held_one(*this, request).id,
                                 request.get_header_value(kClaimHeader));
                  response.status = 204;
                }));
  server.Get(
      std::string(kDocument) + "/pages", answering([this](const auto& request, auto& response) {
        response.set_content(dumped({{"pages", pages_json(*this, finished(request, false))}}),
                             "application/json");
      }));
  server.Post(waiting + "/deliver",
              taking([this](const auto& request, const auto& reader, auto& response) {
                deliver(*this, request, reader, response);
              }));
}

}  // namespace burnisher::service
