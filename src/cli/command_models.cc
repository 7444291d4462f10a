// Lists what can be read: the bundles that came with the program, and those that were taught.
#include <fmt/core.h>

#include <filesystem>
#include "base/json.h"

#include "cli/commands.h"
#include "neural/tensor_file.h"
#include "recognise/model.h"
#include "recognise/scripts.h"

namespace burnisher::cli {
namespace {

struct ModelsOptions {
  std::string named;
  bool json = false;
};

std::string joined(const std::vector<std::string>& parts) {
  std::string all;
  for (const std::string& part : parts) all += (all.empty() ? "" : ", ") + part;
  return all;
}

uintmax_t size_of(const std::string& file) {
  std::error_code none;
  const uintmax_t size = std::filesystem::file_size(file, none);
  return none ? 0 : size;
}

// Scripts that were taught need not be among those that are known.
std::string script_with_name(const std::string& code) {
  for (const recognise::Script& script : recognise::scripts())
    if (script.code == code) return fmt::format("{} ({})", script.name, code);
  return code;
}

nlohmann::json described(const recognise::Bundle& bundle) {
  const recognise::Model model = recognise::read_model(bundle.network);
  uintmax_t bytes = 0;
  for (const std::string& part : neural::parts_of(bundle.network)) bytes += size_of(part);
  nlohmann::json languages = nlohmann::json::array();
  for (const auto& [tag, file] : bundle.spelling) {
    languages.push_back(tag);
    bytes += size_of(file);
  }
  return {{"name", bundle.name},
          {"scripts", bundle.scripts},
          {"languages", languages},
          {"characters", model.alphabet.class_count() - 1},
          {"taught_from", bundle.taught_from},
          {"knows_what_it_mixes_up", !bundle.confusions.empty()},
          {"bytes", bytes},
          {"network", bundle.network},
          {"training", model.record}};
}

int list_models(const ModelsOptions& options, Context& context) {
  nlohmann::json all = nlohmann::json::array();
  std::vector<recognise::Bundle> bundles = context.models.bundles(split(options.named));
  if (options.named.empty())
    for (const recognise::Bundle& own : context.models.own_bundles())
      bundles.push_back(context.models.bundles({own.name}).front());
  for (const recognise::Bundle& bundle : bundles) all.push_back(described(bundle));
  if (options.json) {
    fmt::print("{}\n", json_text(all, 2));
    return kAllDone;
  }
  for (const nlohmann::json& bundle : all) {
    std::vector<std::string> scripts;
    for (const std::string code : bundle["scripts"]) scripts.push_back(script_with_name(code));
    const auto languages = bundle["languages"].get<std::vector<std::string>>();
    fmt::print("{}\n", bundle["name"].get<std::string>());
    fmt::print("  script      {}, {} characters\n", joined(scripts),
               bundle["characters"].get<int>());
    fmt::print("  spelling    {}\n", languages.empty() ? "of no language" : joined(languages));
    const nlohmann::json& training = bundle["training"];
    if (training.contains("taught"))
      fmt::print("  taught      {}, from {}\n", training["taught"].get<std::string>(),
                 bundle["taught_from"].get<std::string>());
    else
      fmt::print("  training    {} lines, the last time\n", training.value("lines", "unknown"));
    fmt::print("  size        {:.1f} MB\n", static_cast<double>(bundle["bytes"]) / 1e6);
    fmt::print("  from        {}\n", bundle["network"].get<std::string>());
  }
  return kAllDone;
}

}  // namespace

void add_models(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "models", "lists what can be read: bundles with their scripts and languages");
  auto options = std::make_shared<ModelsOptions>();
  command.option("name", options->named, "bundles by name or file (default: all that are found)");
  command.flag("--json", options->json, "as JSON, with the record of each training");
  add_models_folder(command, context);
  command.examples("Examples:\n  burnisher models\n  burnisher models cyrillic --json");
  command.action([options, &context] { return list_models(*options, context); });
}

}  // namespace burnisher::cli
