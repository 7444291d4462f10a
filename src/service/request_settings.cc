#include "service/request_settings.h"

#include <algorithm>
#include "base/json.h"

#include "base/error.h"
#include "run/hold.h"
#include "service/problem.h"

namespace burnisher::service {
namespace {

using nlohmann::json;

struct Allowed {
  const char* name;
  enum Kind { kText, kNumber, kFlag, kList } kind;
  bool delivers = false;  // says what documents are to be like
};
constexpr Allowed kAllowed[] = {
    {"lang", Allowed::kText, true},     {"pages", Allowed::kText},
    {"turn", Allowed::kText},           {"binarise", Allowed::kText},
    {"crop", Allowed::kText},           {"specks", Allowed::kText},
    {"rules", Allowed::kText},          {"even", Allowed::kFlag},
    {"mend", Allowed::kFlag},           {"median", Allowed::kFlag},
    {"gamma", Allowed::kNumber},        {"no-split", Allowed::kFlag},
    {"no-dewarp", Allowed::kFlag},      {"dpi", Allowed::kNumber},
    {"face", Allowed::kText, true},     {"size", Allowed::kText, true},
    {"archive", Allowed::kFlag, true},  {"title", Allowed::kText, true},
    {"author", Allowed::kText, true},   {"subject", Allowed::kText, true},
    {"keywords", Allowed::kText, true}, {"field", Allowed::kList, true},
    {"labels", Allowed::kText, true},   {"drop-blank", Allowed::kFlag, true},
    {"barcodes", Allowed::kFlag},       {"repair", Allowed::kText},
    {"existing-text", Allowed::kText},  {"only", Allowed::kText, true},
    {"drop", Allowed::kText, true},     {"region", Allowed::kText},
    {"hold-if", Allowed::kText},        {"recipe", Allowed::kText}};
// Built in; a file of settings would be a path.
constexpr const char* kRecipes[] = {"archive", "draft", "faint", "fax", "photo", "typewriter"};
constexpr size_t kLongest = 2000;  // bytes of a value

std::string text_of(const std::string& name, const json& value) {
  const std::string text = value.is_string() ? value.get<std::string>() : json_text(value);
  if (text.size() > kLongest || text.find('\0') != std::string::npos)
    throw HttpProblem(422, "the setting " + name + " is too long");
  return text;
}

void check_rules(const std::string& rules) {
  try {
    run::hold_rules(rules);
  } catch (const SettingsError& cause) {
    throw HttpProblem(422, std::string("hold-if: ") + cause.what());
  }
}

}  // namespace

std::vector<std::string> delivery_arguments(const std::vector<std::string>& arguments) {
  std::vector<std::string> kept;
  for (const std::string& argument : arguments) {
    const std::string name = argument.substr(2, argument.find('=') - 2);  // behind the dashes
    if (std::any_of(std::begin(kAllowed), std::end(kAllowed),
                    [&](const Allowed& one) { return one.delivers && name == one.name; }))
      kept.push_back(argument);
  }
  return kept;
}

std::vector<std::string> allowed_settings() {
  std::vector<std::string> names;
  for (const Allowed& one : kAllowed) names.emplace_back(one.name);
  return names;
}

std::vector<std::string> arguments_of(const std::string& text) {
  std::vector<std::string> arguments;
  if (text.empty()) return arguments;
  const json all = json_or_discarded(text);
  if (!all.is_object()) throw HttpProblem(422, "the settings are no JSON object");
  for (const auto& [name, value] : all.items()) {
    const auto* found =
        std::find_if(std::begin(kAllowed), std::end(kAllowed),
                     [&, &key = name](const Allowed& one) { return key == one.name; });
    if (found == std::end(kAllowed)) {
      std::string known;
      for (const std::string& one : allowed_settings()) known += (known.empty() ? "" : ", ") + one;
      throw HttpProblem(422, "there is no setting \"" + name + "\" here; there are " + known);
    }
    const std::string option = "--" + name;
    if (found->kind == Allowed::kFlag) {
      if (!value.is_boolean()) throw HttpProblem(422, name + " is true or false");
      if (value.get<bool>()) arguments.push_back(option);
    } else if (found->kind == Allowed::kList) {
      if (!value.is_array()) throw HttpProblem(422, name + " is a list");
      for (const json& one : value) arguments.push_back(option + "=" + text_of(name, one));
    } else {
      if (!value.is_string() && !value.is_number())
        throw HttpProblem(422, name + " is a text or a number");
      const std::string said = text_of(name, value);
      if (name == "recipe" && std::none_of(std::begin(kRecipes), std::end(kRecipes),
                                           [&](const char* one) { return said == one; }))
        throw HttpProblem(422, "there is no recipe \"" + said + "\"");
      if (name == "hold-if") check_rules(said);
      arguments.push_back(option + "=" + said);
    }
  }
  return arguments;
}

}  // namespace burnisher::service
