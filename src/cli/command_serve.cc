#include <fmt/core.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/numbers.h"
#include "cli/commands.h"
#include "cli/given_options.h"
#include "run/hold.h"
#include "service/service.h"
#include "service/small_reads.h"

namespace burnisher::cli {
namespace {

struct ServeOptions {
  service::ServiceSettings service;
  std::string listen = "127.0.0.1:8080", tokens, model;
  int most_waiting = 100;
};

void set_address(const std::string& text, service::ServiceSettings& s) {
  const size_t colon = text.rfind(':');
  const auto port = colon == std::string::npos ? std::nullopt : integer_in(text.substr(colon + 1));
  if (!port || *port < 0 || *port > 65535 || colon == 0)
    throw SettingsError("listen", text + ": expected as in 127.0.0.1:8080");
  s.host = text.substr(0, colon);
  if (s.host.size() > 2 && s.host.front() == '[') s.host = s.host.substr(1, s.host.size() - 2);
  s.port = *port;
}

int serve(ServeOptions& o, const Command& command, Context& context) {
  service::ServiceSettings& s = o.service;
  set_address(o.listen, s);
  if (!o.tokens.empty()) s.access = service::Access::read(o.tokens);
  run::hold_rules(s.hold_if);
  s.store = std::filesystem::absolute(s.store).lexically_normal().string();
  s.most_waiting = static_cast<size_t>(o.most_waiting);
  s.program = std::filesystem::read_symlink("/proc/self/exe").string();
  Given given = given_in(command, {context.arguments.begin() + 1, context.arguments.end()});
  given.options.erase(
      std::remove_if(given.options.begin(), given.options.end(),
                     [](const auto& one) { return one.first != "model" && one.first != "models"; }),
      given.options.end());
  s.models = as_arguments(command, given);
  run::RunSettings settings;
  settings.bundles = context.models.bundles(split(o.model));
  settings.page_model = context.models.page_model();
  settings.limits.pixels = 1e6 * s.most_pixels;
  const service::SmallReads small(settings);
  service::Service server(
      s, [&](const std::string& bytes) { return small.read(bytes); },
      [&](const std::string& text) { context.console.say(text); });
  context.console.say(fmt::format("listening on http://{}:{}", s.host, server.port()));
  server.run([&] { return context.console.cancelled(); });
  return kAllDone;
}

}  // namespace

void add_serve(CommandLine& line, Context& context) {
  Command command =
      line.root().command("serve", "the same over HTTP: scans and settings in, documents out");
  auto o = std::make_shared<ServeOptions>();
  service::ServiceSettings& s = o->service;
  command.option("--listen", o->listen, "address and port (port 0: one that is free)")
      .type_name("HOST:PORT")
      .default_shown();
  command.option("--store", s.store, "folder that documents live in; they survive a restart")
      .required()
      .type_name("DIR");
  command
      .option("--tokens", o->tokens,
              "file with a name and a token a line; each sees its own documents, and who is marked "
              "reviewer those that wait for a person. Needed beyond this machine")
      .type_name("FILE");
  command
      .option("--hold-if", s.hold_if,
              "what makes a document wait for a person, at /waiting, where its settings do not say "
              "it, as in \"suspects>5%\"")
      .type_name("RULES");
  command.option("--at-once", s.at_once, "documents worked on at a time")
      .between(1, 256)
      .default_shown();
  command.option("--threads", s.threads, "cores for each of them (default: all)").between(1, 1024);
  command.option("--max-body", s.most_body, "largest request, megabytes")
      .positive()
      .default_shown();
  command.option("--max-pixels", s.most_pixels, "largest picture, megapixels")
      .positive()
      .default_shown();
  command.option("--max-pages", s.most_pages, "of a document").between(1, 1e6).default_shown();
  command.option("--time-limit", s.most_seconds, "seconds that a document may take")
      .positive()
      .default_shown();
  command.option("--max-waiting", o->most_waiting, "documents that may wait")
      .between(1, 1e6)
      .default_shown();
  command.option("--min-free", s.least_disk, "megabytes of disk that stay free")
      .between(0, 1e9)
      .default_shown();
  command.group("Limits", {"--max-body", "--max-pixels", "--max-pages", "--time-limit",
                           "--max-waiting", "--min-free"});
  add_model(command, context, o->model);
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher serve --store /srv/burnisher\n"
      "  curl -F file=@box3.tif -F 'settings={\"lang\":\"en\"}' "
      "http://127.0.0.1:8080/v1/documents\n"
      "A person opens http://127.0.0.1:8080/ ; what waits for somebody is at /waiting; programs "
      "read "
      "/v1/openapi.json.");
  command.action([o, command, &context] { return serve(*o, command, context); });
}

}  // namespace burnisher::cli
