#include "browser.h"

#include <arpa/inet.h>
#include <signal.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>
#include <stdexcept>
#include <thread>
#include "base/json.h"

#include "program.h"
#include "testing/printed_page.h"

namespace burnisher::tests {

using nlohmann::json;

namespace {

// A port nobody listens on now.
int free_port() {
  const int s = socket(AF_INET, SOCK_STREAM, 0);
  sockaddr_in address{};
  address.sin_family = AF_INET;
  address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  socklen_t size = sizeof address;
  auto* const any = reinterpret_cast<sockaddr*>(&address);
  if (s < 0 || bind(s, any, size) != 0 || getsockname(s, any, &size) != 0)
    throw std::runtime_error("no port is free for Chromium's driver");
  close(s);
  return ntohs(address.sin_port);
}

}  // namespace

Browser::Browser() : port_(free_port()) {
  driver_ = fork();
  if (driver_ == 0) {
    setpgid(0, 0);
    const std::string port = "--port=" + std::to_string(port_);
    execlp("chromedriver", "chromedriver", port.c_str(), "--silent", nullptr);
    _exit(127);
  }
  // curl asks again until the driver listens.
  const json wanted = {{"capabilities",
                        {{"alwaysMatch",
                          {{"browserName", "chrome"},
                           {"pageLoadStrategy", "none"},
                           {"goog:chromeOptions",
                            {{"args",
                              {"--headless", "--no-sandbox", "--disable-gpu",
                               "--allow-file-access-from-files", "--window-size=1280,800"}}}}}}}}};
  const json answer = json_or_discarded(ask("POST", "session", json_text(wanted)));
  if (!answer.is_object() || !answer.contains("value") || !answer["value"].contains("sessionId"))
    throw std::runtime_error("Chromium did not start: " + json_text(answer));
  session_ = "session/" + answer["value"]["sessionId"].get<std::string>() + "/";
}

Browser::~Browser() {
  if (!session_.empty()) ask("DELETE", session_.substr(0, session_.size() - 1), "");
  kill(-driver_, SIGTERM);
  kill(driver_, SIGTERM);
  waitpid(driver_, nullptr, 0);
}

std::string Browser::ask(const std::string& method, const std::string& what,
                         const std::string& body) {
  const testing::TemporaryFolder folder;
  put(folder.file("body"), body.empty() ? "{}" : body);
  const bool with_body = method == "POST";
  return shell("curl --silent --max-time 60 --retry 40 --retry-delay 1 --retry-connrefused -X " +
               method +
               (with_body
                    ? " -H 'Content-Type: application/json' --data-binary @" + folder.file("body")
                    : std::string()) +
               " http://127.0.0.1:" + std::to_string(port_) + "/" + what)
      .out;
}

void Browser::open(const std::string& path) {
  open_address("file://" + path);
}

void Browser::open_address(const std::string& address) {
  // The driver's own waiting can hang on pages that load things later: a mark tells the page that
  // is left from the one that comes.
  value_of("window.left = true");
  ask("POST", session_ + "url", json_text(json{{"url", address}}));
  for (int i = 0; i < 300; ++i) {
    if (value_of("!window.left && document.readyState") == "complete") return;
    std::this_thread::sleep_for(std::chrono::milliseconds(100));
  }
  throw std::runtime_error(address + " was not loaded");
}

std::string Browser::element(const std::string& css) {
  const json answer = parse_json(ask("POST", session_ + "element",
                                     json_text(json{{"using", "css selector"}, {"value", css}})));
  if (!answer["value"].is_object() || answer["value"].contains("error"))
    throw std::runtime_error("no element " + css + ": " + json_text(answer));
  return session_ + "element/" + answer["value"].begin().value().get<std::string>() + "/";
}

void Browser::click(const std::string& css) {
  ask("POST", element(css) + "click", "{}");
}

void Browser::type(const std::string& keys, const std::string& css) {
  ask("POST", element(css) + "value", json_text(json{{"text", keys}}));
}

std::string Browser::text_of(const std::string& css) {
  return parse_json(ask("GET", element(css) + "text", ""))["value"].get<std::string>();
}

void Browser::drag(double x0, double y0, double x1, double y1, bool shift) {
  const auto move = [](double x, double y, int milliseconds) {
    return json{{"type", "pointerMove"},
                {"duration", milliseconds},
                {"origin", "viewport"},
                {"x", static_cast<int>(x + 0.5)},
                {"y", static_cast<int>(y + 0.5)}};
  };
  const json pause = {{"type", "pause"}, {"duration", 0}};
  const json mouse = {{"type", "pointer"},
                      {"id", "mouse"},
                      {"parameters", {{"pointerType", "mouse"}}},
                      {"actions",
                       {move(x0, y0, 0),
                        {{"type", "pointerDown"}, {"button", 0}},
                        move((x0 + x1) / 2, (y0 + y1) / 2, 20),
                        move(x1, y1, 20),
                        {{"type", "pointerUp"}, {"button", 0}}}}};
  const json held = {{"type", shift ? "keyDown" : "pause"}, {"value", "\uE008"}, {"duration", 0}},
             let_go = {{"type", shift ? "keyUp" : "pause"}, {"value", "\uE008"}, {"duration", 0}};
  const json keys = {
      {"type", "key"}, {"id", "keys"}, {"actions", {held, pause, pause, pause, pause, let_go}}};
  json all = mouse;
  all["actions"].insert(all["actions"].begin(), pause);
  ask("POST", session_ + "actions", json_text(json{{"actions", {all, keys}}}));
}

std::string Browser::value_of(const std::string& expression) {
  const json answer = parse_json(ask(
      "POST", session_ + "execute/sync",
      json_text(json{{"script", "return String(" + expression + ")"}, {"args", json::array()}})));
  return answer["value"].is_string() ? answer["value"].get<std::string>() : json_text(answer);
}

}  // namespace burnisher::tests
