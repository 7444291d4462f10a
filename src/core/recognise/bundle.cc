#include "recognise/bundle.h"

#include <algorithm>
#include <filesystem>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

const char* const kFormat = "burnisher-bundle-1";
const std::string kEnding = ".bundle.json";

bool is_table(const fs::path& path) {
  const std::string name = path.filename();
  return name.size() > kEnding.size() &&
         name.compare(name.size() - kEnding.size(), kEnding.size(), kEnding) == 0;
}

fs::path spelling_file(const fs::path& folder, const std::string& tag) {
  return folder / "languages" / (tag + ".glyphs");
}

Bundle read_table(const fs::path& path) {
  Bundle bundle;
  const fs::path folder = path.parent_path();
  try {
    const json table = parse_json(read_file(path.string()));
    if (table.at("format") != kFormat)
      throw FormatError("its format is " + json_text(table.at("format")) + ", expected \"" +
                        kFormat + "\"");
    bundle.name = table.at("name").get<std::string>();
    bundle.scripts = table.at("scripts").get<std::vector<std::string>>();
    if (bundle.scripts.empty()) throw FormatError("it names no script");
    for (const std::string& code : bundle.scripts)
      if (code.size() != 4) throw FormatError("'" + code + "' is no code of a script");
    bundle.taught_from = table.value("taught_from", std::string());
    bundle.network = (folder / table.at("network").get<std::string>()).string();
    for (const std::string& tag : table.value("languages", std::vector<std::string>())) {
      const fs::path file = spelling_file(folder, tag);
      std::error_code none;
      if (fs::exists(file, none)) bundle.spelling[tag] = file.string();
    }
    const std::string confusions = table.value("confusions", std::string());
    if (!confusions.empty()) bundle.confusions = (folder / confusions).string();
  } catch (const InputError&) {
    throw;
  } catch (const std::exception& cause) {
    throw FormatError(path.string() + ": no usable bundle: " + cause.what());
  }
  return bundle;
}

// The script most letters of the alphabet beyond ASCII are of.
std::string script_of_alphabet(const Alphabet& alphabet) {
  std::map<std::string, int> letters;
  for (int k = 1; k < alphabet.class_count(); ++k) {
    const char32_t c = alphabet.character(k);
    if (c > 127 && is_letter(c)) ++letters[script_of(c)];
  }
  std::string most = "Latn";
  int count = 0;
  for (const auto& [script, n] : letters) {
    if (n > count) most = script;
    count = std::max(count, n);
  }
  return most;
}

Bundle of_model(const fs::path& path) {
  Bundle bundle;
  bundle.name = path.stem();
  bundle.network = path.string();
  bundle.scripts = {script_of_alphabet(read_model(path.string()).alphabet)};
  std::error_code none;
  for (const auto& entry : fs::directory_iterator(path.parent_path() / "languages", none)) {
    const std::string tag = entry.path().stem();
    if (entry.path().extension() == ".glyphs" && script_of_language(tag) == bundle.scripts[0])
      bundle.spelling[tag] = entry.path().string();
  }
  return bundle;
}

}  // namespace

bool Bundle::reads(const std::string& script) const {
  return std::find(scripts.begin(), scripts.end(), script) != scripts.end();
}

Bundle read_bundle(const std::string& path) {
  return is_table(path) ? read_table(path) : of_model(path);
}

void write_taught_bundle(const std::string& folder, const Bundle& bundle) {
  const json table = {{"format", kFormat},
                      {"name", bundle.name},
                      {"scripts", bundle.scripts},
                      {"network", bundle.name + ".safetensors"},
                      {"taught_from", bundle.taught_from}};
  write_file((fs::path(folder) / (bundle.name + kEnding)).string(), json_text(table, 1) + "\n");
}

std::vector<Bundle> bundles_in(const std::string& folder) {
  std::vector<Bundle> bundles;
  std::error_code none;
  for (const auto& entry : fs::directory_iterator(folder, none))
    if (is_table(entry.path())) bundles.push_back(read_table(entry.path()));
  std::sort(bundles.begin(), bundles.end(), [](const Bundle& a, const Bundle& b) {
    return std::make_pair(!a.reads("Latn"), a.name) < std::make_pair(!b.reads("Latn"), b.name);
  });
  return bundles;
}

}  // namespace burnisher::recognise
