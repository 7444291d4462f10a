#include "cli/model_places.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>

#include "base/error.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

const char* const kModelName = "latin.safetensors";
const char* const kPageModelName = "pages.safetensors";

}  // namespace

// In this order: what was said, what the environment says, beside the program as it is built or
// unpacked, where it is installed.
std::vector<std::string> ModelPlaces::places() const {
  if (!folder_.empty()) return {folder_};
  std::vector<std::string> places;
  const char* environment = std::getenv("BURNISHER_MODELS");
  if (environment != nullptr && *environment != '\0') places.push_back(environment);
  std::error_code status;
  const fs::path program = fs::read_symlink("/proc/self/exe", status).parent_path();
  for (const char* beside : {"models", "../models", "../share/burnisher/models"})
    places.push_back((program / beside).lexically_normal().string());
  places.push_back(BURNISHER_INSTALL_PREFIX "/share/burnisher/models");
  return places;
}

std::string ModelPlaces::found(const char* name) const {
  std::error_code status;
  for (const std::string& place : places()) {
    const fs::path file = fs::path(place) / name;
    if (fs::is_regular_file(file, status)) return file.string();
  }
  return "";
}

std::string ModelPlaces::shipped_model() const {
  return found(kModelName);
}

std::string ModelPlaces::page_model() const {
  const std::string path = found(kPageModelName);
  if (!path.empty()) return path;
  throw SettingsError(std::string("the model ") + kPageModelName + " was not found in " +
                      looked_at() + "; name its folder with --models or in BURNISHER_MODELS");
}

std::string ModelPlaces::model_to_use(const std::string& given) const {
  const std::string path = given.empty() ? shipped_model() : given;
  if (!path.empty()) return path;
  throw SettingsError(std::string("the model ") + kModelName + " was not found in " + looked_at() +
                      "; name its folder with --models or in BURNISHER_MODELS, or a model with "
                      "--model");
}

std::string ModelPlaces::looked_at() const {
  std::string looked;
  for (const std::string& place : places()) looked += (looked.empty() ? "" : ", ") + place;
  return looked;
}

std::string ModelPlaces::own_folder() {
  const char* data = std::getenv("XDG_DATA_HOME");
  if (data != nullptr && *data != '\0') return std::string(data) + "/burnisher/models";
  const char* home = std::getenv("HOME");
  return std::string(home != nullptr ? home : ".") + "/.local/share/burnisher/models";
}

std::vector<recognise::Bundle> ModelPlaces::shipped() const {
  for (const std::string& place : places()) {
    std::vector<recognise::Bundle> bundles = recognise::bundles_in(place);
    if (!bundles.empty()) return bundles;
  }
  return {};
}

std::vector<recognise::Bundle> ModelPlaces::own_bundles() const {
  return recognise::bundles_in(own_folder());
}

std::vector<recognise::Bundle> ModelPlaces::bundles(const std::vector<std::string>& named) const {
  const std::vector<recognise::Bundle> all = shipped();
  std::vector<recognise::Bundle> known = own_bundles();  // the user's own come first
  known.insert(known.end(), all.begin(), all.end());
  std::vector<recognise::Bundle> wanted;
  for (const std::string& name : named) {
    const auto by_name = std::find_if(known.begin(), known.end(),
                                      [&](const auto& bundle) { return bundle.name == name; });
    std::error_code status;
    if (by_name != known.end()) {
      wanted.push_back(*by_name);
    } else if (fs::is_regular_file(name, status)) {
      wanted.push_back(recognise::read_bundle(name));
    } else {
      std::string names;
      for (const auto& bundle : known) names += (names.empty() ? "" : ", ") + bundle.name;
      throw SettingsError(name + ": is neither a file nor the name of a bundle; known are " +
                          names);
    }
  }
  if (named.empty()) wanted = all;
  if (wanted.empty())
    throw SettingsError("no bundle (NAME.bundle.json) was found in " + looked_at() +
                        "; name its folder with --models or in BURNISHER_MODELS, or a model with "
                        "--model");
  for (recognise::Bundle& bundle : wanted)
    for (const recognise::Bundle& from : all)
      if (bundle.taught_from == from.name) bundle.spelling = from.spelling;
  return wanted;
}

std::map<std::string, correct::ConfusionModel> ModelPlaces::confusion_models() const {
  std::map<std::string, correct::ConfusionModel> models;
  const std::vector<recognise::Bundle> all = bundles();
  // What makes a word a suspect (unknown, unsure, odd) counts in any script; what is mixed up does
  // not.
  std::optional<correct::ConfusionModel> plain;
  for (const recognise::Bundle& bundle : all) {
    if (bundle.confusions.empty()) continue;
    const correct::ConfusionModel model = correct::read_confusion_model(bundle.confusions);
    for (const std::string& script : bundle.scripts) models[script] = model;
    if (plain) continue;
    plain = model;
    plain->confusions.clear();
  }
  for (const recognise::Bundle& bundle : all)
    for (const std::string& script : bundle.scripts)
      models.emplace(script, plain.value_or(correct::ConfusionModel()));
  return models;
}

correct::ConfusionModel ModelPlaces::confusion_model_for(
    const std::vector<const Page*>& pages) const {
  std::map<std::string, int> scripts;
  for (const Page* page : pages) ++scripts[page->main_script()];
  const auto main =
      std::max_element(scripts.begin(), scripts.end(),
                       [](const auto& a, const auto& b) { return a.second < b.second; });
  auto models = confusion_models();
  return main == scripts.end() ? correct::ConfusionModel() : models[main->first];
}

}  // namespace burnisher::cli
