#include "cli/model_places.h"

#include <cstdlib>
#include <filesystem>

#include "base/error.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

const char* const kModelName = "latin.safetensors";
const char* const kPageModelName = "pages.safetensors";
const char* const kConfusionModelName = "latin.confusions.json";

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

std::string ModelPlaces::languages() const {
  const std::string model = shipped_model();
  return model.empty() ? "" : (fs::path(model).parent_path() / "languages").string();
}

std::string ModelPlaces::confusion_model() const {
  const fs::path file = fs::path(model_to_use("")).parent_path() / kConfusionModelName;
  std::error_code status;
  if (!fs::is_regular_file(file, status)) {
    throw SettingsError(file.string() +
                        " is missing beside the model; `burnisher train --suspects` makes it");
  }
  return file.string();
}

}  // namespace burnisher::cli
