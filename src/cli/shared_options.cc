#include <fmt/core.h>

#include <algorithm>
#include <atomic>
#include <cstdlib>
#include <filesystem>
#include <sstream>

#include "base/error.h"
#include "base/parallel.h"
#include "base/pattern.h"
#include "cli/commands.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

const char* const kModelName = "latin.safetensors";
const char* const kHabitsName = "latin.habits.json";

const char* const kNoLanguage = "none";

// Languages written in scripts the shipped model has not learnt.
const char* const kOtherScripts[] = {"ar", "bg", "el", "fa", "grc", "he", "hi",
                                     "hy", "ja", "ka", "ko", "mk",  "mn", "ota",
                                     "ru", "sr", "th", "uk", "ur",  "yi", "zh"};

}  // namespace

void add_quiet(CLI::App& command, Context& context) {
  command.add_flag_callback(
      "--quiet", [&context] { context.console.set_quiet(true); },
      "no progress and no notes; errors still appear");
}

void add_limits(CLI::App& command, ScanLimits& limits) {
  command.add_option("--max-pixels", limits.pixels, "largest picture taken in, in pixels")
      ->capture_default_str();
  command.add_flag("--strict", limits.strict, "a file that was cut short is an error");
}

namespace {

// "3px", "0.3mm", or pixels without a unit.
void set_speck_size(const std::string& text, clean::DespeckleSettings& settings) {
  static const Pattern form("([0-9]*\\.?[0-9]+)(px|mm)?");
  const std::vector<std::string> parts = form.groups(text);
  if (parts.empty())
    throw CLI::ValidationError("--specks", text + ": wanted is a size, as in 3px or 0.3mm");
  const double size = std::stod(parts[1]);
  settings.size = settings.size_mm = -1;
  (parts[2] == "mm" ? settings.size_mm : settings.size) = size;
}

void add_geometry(CLI::App& command, clean::CleanSettings& settings) {
  static const std::map<std::string, clean::Crop> crops = {
      {"off", clean::Crop::kOff}, {"sheet", clean::Crop::kSheet}, {"text", clean::Crop::kText}};
  command.add_option("--dpi", settings.dpi, "resolution of the scans, whatever the files say")
      ->check(CLI::Range(50, 2400));
  command.add_flag_callback(
      "--no-split", [&settings] { settings.split = false; }, "two facing pages stay one picture");
  command
      .add_option("--crop", settings.crop,
                  "sheet (dark borders are cut off), text (to the print, see --margin), or off")
      ->transform(CLI::CheckedTransformer(crops, CLI::ignore_case).description(""))
      ->type_name("WHAT");
  command
      .add_option("--margin", settings.margin_mm, "with --crop text: millimetres round the print")
      ->check(CLI::Range(0.0, 100.0))
      ->capture_default_str();
  command.add_flag_callback(
      "--no-deskew", [&settings] { settings.deskew = false; }, "leave crooked pages crooked");
  command.add_flag_callback(
      "--no-dewarp", [&settings] { settings.dewarp = false; }, "leave bent lines bent");
}

void add_light(CLI::App& command, clean::CleanSettings& settings) {
  command.add_flag_callback(
      "--no-invert", [&settings] { settings.invert = false; }, "white on black stays so");
  command
      .add_option("--gamma", settings.tone.gamma, "above 1 lightens middle greys, below 1 darkens")
      ->check(CLI::Range(0.1, 10.0))
      ->capture_default_str();
  command
      .add_option("--brightness", settings.tone.brightness,
                  "added to every grey value, -100 to 100")
      ->check(CLI::Range(-100.0, 100.0))
      ->capture_default_str();
  command.add_flag("--median", settings.tone.median, "smooth grain: the median of 3 x 3 pixels");
  command.add_flag("--even", settings.even,
                   "even white paper in the page picture: shadows, stains and show-through go");
}

}  // namespace

void add_cleaning(CLI::App& command, clean::CleanSettings& settings) {
  static const std::map<std::string, clean::BinariseMethod> methods = {
      {"auto", clean::BinariseMethod::kAuto},
      {"global", clean::BinariseMethod::kGlobal},
      {"local", clean::BinariseMethod::kLocal}};
  static const std::map<std::string, clean::Rules> rules = {{"keep", clean::Rules::kKeep},
                                                            {"unread", clean::Rules::kUnread},
                                                            {"remove", clean::Rules::kRemove}};
  add_geometry(command, settings);
  add_light(command, settings);
  command
      .add_option("--binarise", settings.binarise.method,
                  "auto (half-way between paper and ink nearby), global (one threshold) or local "
                  "(mean and deviation in a window)")
      ->transform(CLI::CheckedTransformer(methods, CLI::ignore_case).description(""))
      ->type_name("WAY");
  command
      .add_option("--weight", settings.binarise.weight,
                  "with --binarise local: larger thins the strokes and drops faint ink")
      ->check(CLI::Range(0.01, 1.0))
      ->capture_default_str();
  command.add_flag_callback(
      "--no-holes", [&settings] { settings.holes = false; }, "leave punch holes black");
  command
      .add_option_function<std::string>(
          "--specks",
          [&settings](const std::string& text) { set_speck_size(text, settings.despeckle); },
          "widest speck removed, as in 3px or 0.3mm (0: none; default: from the text size)")
      ->type_name("SIZE");
  command
      .add_option(
          "--rules", settings.rules,
          "printed lines: unread (kept in the picture, not seen in reading), remove, or keep")
      ->transform(CLI::CheckedTransformer(rules, CLI::ignore_case).description(""))
      ->type_name("WHAT");
  command.add_flag("--mend", settings.mend,
                   "bridge small gaps in the strokes of the bitonal picture");
}

void add_model(CLI::App& command, std::string& path) {
  command
      .add_option(
          "--model", path,
          "model file of the recogniser (default: the Latin one that came with the program)")
      ->type_name("FILE");
}

std::string shipped_model() {
  std::error_code status;
  const fs::path program = fs::read_symlink("/proc/self/exe", status);
  const fs::path folder = program.parent_path();
  for (const fs::path& place :
       {folder / "../share/burnisher/models", folder / "models", folder / "../models"}) {
    const fs::path file = place / kModelName;
    if (fs::exists(file, status)) return file.lexically_normal();
  }
  return "";
}

std::string model_to_use(const std::string& given) {
  const std::string path = given.empty() ? shipped_model() : given;
  if (path.empty()) {
    throw SettingsError(std::string("the model ") + kModelName +
                        " was not found beside the program; name one with --model");
  }
  return path;
}

std::vector<std::string> dictionary_folders() {
  std::vector<std::string> folders;
  if (const char* own = std::getenv("DICPATH")) {
    std::istringstream list(own);
    for (std::string folder; std::getline(list, folder, ':');) folders.push_back(folder);
  }
  folders.push_back("/usr/local/share/hunspell");
  folders.push_back("/usr/share/hunspell");
  return folders;
}

std::string shipped_habits() {
  const fs::path model = shipped_model();
  const fs::path file = model.parent_path() / kHabitsName;
  if (model.empty() || !fs::exists(file)) {
    throw SettingsError(std::string(kHabitsName) +
                        " was not found beside the model; `burnisher train --suspects` makes it");
  }
  return file;
}

std::string user_word_list() {
  const char* settings = std::getenv("XDG_CONFIG_HOME");
  const char* home = std::getenv("HOME");
  const fs::path folder = settings != nullptr ? fs::path(settings)
                          : home != nullptr   ? fs::path(home) / ".config"
                                              : fs::path(".");
  return folder / "burnisher" / "words.txt";
}

std::string shipped_languages() {
  const std::string model = shipped_model();
  return model.empty() ? "" : (fs::path(model).parent_path() / "languages").string();
}

std::vector<std::string> split(const std::string& list) {
  std::vector<std::string> parts;
  for (size_t at = 0; at <= list.size() && !list.empty();) {
    const size_t comma = std::min(list.find(',', at), list.size());
    parts.push_back(list.substr(at, comma - at));
    at = comma + 1;
  }
  return parts;
}

recognise::Arithmetic ReadingOptions::arithmetic_wanted() const {
  if (arithmetic == "float") return recognise::Arithmetic::kFloat;
  if (arithmetic == "bytes") return recognise::Arithmetic::kEightBit;
  return recognise::arithmetic_of_processor();
}

void add_reading(CLI::App& command, ReadingOptions& options) {
  command
      .add_option("--long-s", options.long_s,
                  "the long s of old print: keep it, or write a modern s")
      ->check(CLI::IsMember({"keep", "modern"}))
      ->capture_default_str();
  command
      .add_option("--arithmetic", options.arithmetic,
                  "of the network. auto: bytes where the processor multiplies them fast, else "
                  "float; name one for the same result on every machine")
      ->check(CLI::IsMember({"auto", "float", "bytes"}))
      ->capture_default_str();
  command
      .add_option("--lang", options.languages,
                  "languages of the text, as in en,de; their spelling helps with doubtful letters "
                  "(default: guessed line by line; none: letters are read as they look)")
      ->type_name("TAGS");
}

namespace {

// "pt-BR" is Portuguese; Norwegian, as most write it, is Bokmal.
std::string primary_of(const std::string& tag) {
  const std::string primary = tag.substr(0, tag.find('-'));
  return primary == "no" ? "nb" : primary;
}

}  // namespace

void choose_languages(const std::vector<std::string>& tags, recognise::RecogniseSettings& settings,
                      Console& console) {
  settings.spelling = tags != std::vector<std::string>{kNoLanguage};
  settings.languages.clear();
  if (!settings.spelling) return;
  const recognise::Languages known(shipped_languages());
  for (const std::string& tag : tags) {
    settings.languages.push_back(primary_of(tag));
    if (!known.knows(settings.languages.back())) {
      console.point_out("--lang " + tag +
                        ": its spelling is not known; doubtful letters are read as they look");
    }
  }
}

void check_languages(const std::vector<std::string>& languages, Console& console) {
  static const Pattern tag("[a-zA-Z]{2,3}(-[a-zA-Z0-9]{2,8})*");
  if (languages == std::vector<std::string>{kNoLanguage}) return;
  for (const std::string& language : languages) {
    if (!tag.matches(language)) {
      throw SettingsError("--lang " + language + ": wanted are BCP 47 tags, as in en,de or pt-BR");
    }
    const std::string primary = primary_of(language);
    if (std::find(std::begin(kOtherScripts), std::end(kOtherScripts), primary) !=
        std::end(kOtherScripts)) {
      console.warn(
          "--lang " + language +
          ": the shipped model reads Latin script; text in another script will come out wrong");
    }
  }
}

std::string page_name(const ScanFile& file, int page) {
  const std::string stem = fs::path(file.path()).stem();
  return file.page_count() > 1 ? fmt::format("{}-{:04}", stem, page) : stem;
}

int for_each_page(const std::vector<std::string>& inputs, const std::string& pages,
                  const ScanLimits& limits, int threads, Context& context,
                  const std::function<void(const ScanFile&, int)>& work) {
  const PageRange range = pages.empty() ? PageRange() : PageRange(pages);
  std::vector<std::pair<std::shared_ptr<ScanFile>, int>> tasks;
  std::atomic<int> failed{0}, done{0};
  for (const std::string& input : inputs) {
    try {
      for (const std::string& path : collect_inputs(input)) {
        const auto file = std::make_shared<ScanFile>(path, limits);
        for (int p = 1; p <= file->page_count(); ++p) {
          if (range.contains(p)) tasks.emplace_back(file, p);
        }
      }
    } catch (const Error& cause) {
      context.console.warn(cause.what());
      ++failed;
    }
  }
  with_threads(threads, [&] {
    parallel_each(static_cast<int>(tasks.size()), [&](int i) {
      const auto& [file, page] = tasks[static_cast<size_t>(i)];
      try {
        work(*file, page);
        ++done;
      } catch (const std::exception& cause) {
        context.console.warn(cause.what());
        ++failed;
      }
      context.console.advance("pages", done + failed, static_cast<double>(tasks.size()));
    });
  });
  if (done == 0) return kNothing;
  return failed > 0 ? kSomeLeft : kAllDone;
}

}  // namespace burnisher::cli
