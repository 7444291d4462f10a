#include <fmt/core.h>

#include <algorithm>
#include <atomic>
#include <cstdlib>
#include <filesystem>
#include <sstream>

#include "base/error.h"
#include "base/numbers.h"
#include "base/parallel.h"
#include "base/pattern.h"
#include "base/unicode.h"
#include "cli/commands.h"
#include "cli/remedies.h"
#include "intake/inputs.h"
#include "page/page_order.h"
#include "recognise/scripts.h"
#include "run/stages.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

const char* const kNoLanguage = "none";

}  // namespace

void add_quiet(Command& command, Context& context) {
  command.flag(
      "--quiet", [&context] { context.console.set_quiet(true); },
      "no progress and no notes; errors still appear");
}

void add_limits(Command& command, ScanLimits& limits) {
  command.option("--max-pixels", limits.pixels, "largest picture taken in, in pixels")
      .default_shown();
  command.flag("--strict", limits.strict, "a file that was cut short is an error");
}

namespace {

// "3px", "0.3mm", or pixels without a unit.
void set_speck_size(const std::string& text, clean::DespeckleSettings& settings) {
  static const Pattern form("([0-9]*\\.?[0-9]+)(px|mm)?");
  const std::vector<std::string> parts = form.groups(text);
  if (parts.empty())
    throw SettingsError(std::string("--specks") + ": " + text +
                        ": expected a size, as in 3px or 0.3mm");
  const double size = number_in(parts[1]).value_or(0);
  settings.size = settings.size_mm = -1;
  (parts[2] == "mm" ? settings.size_mm : settings.size) = size;
}

void add_geometry(Command& command, clean::CleanSettings& settings) {
  command.option("--dpi", settings.dpi, "resolution of the scans, whatever the files say")
      .between(50, 2400);
  command.flag(
      "--no-split", [&settings] { settings.split = false; }, "two facing pages stay one picture");
  command
      .choice<clean::Crop>(
          "--crop", settings.crop,
          {{"off", clean::Crop::kOff},
           {"sheet", clean::Crop::kSheet},
           {"text", clean::Crop::kText}},
          "sheet (dark borders are cut off), text (to the print, see --margin), or off")
      .type_name("WHAT");
  command.option("--margin", settings.margin_mm, "with --crop text: millimetres round the print")
      .between(0.0, 100.0)
      .default_shown();
  command.flag(
      "--no-deskew", [&settings] { settings.deskew = false; }, "leave crooked pages crooked");
  command.flag(
      "--no-dewarp", [&settings] { settings.dewarp = false; },
      "leave bent lines and the perspective of photographs");
}

void add_light(Command& command, clean::CleanSettings& settings) {
  command.flag(
      "--no-invert", [&settings] { settings.invert = false; }, "white on black stays so");
  command.option("--gamma", settings.tone.gamma, "above 1 lightens middle greys, below 1 darkens")
      .between(0.1, 10.0)
      .default_shown();
  command.option("--brightness", settings.tone.brightness, "added to every grey value, -100 to 100")
      .between(-100.0, 100.0)
      .default_shown();
  command.flag("--median", settings.tone.median, "smooth grain: the median of 3 x 3 pixels");
  command.flag("--even", settings.even,
               "even white paper in the page picture: shadows, stains and show-through go");
}

}  // namespace

void add_leaves(Command& command, bool& leaves) {
  command.flag("--leaves", leaves,
               "the scans are fronts and backs of leaves, one after the other: print that shines "
               "through is taken out with the scan of the other side");
}

void add_cleaning(Command& command, clean::CleanSettings& settings) {
  add_geometry(command, settings);
  add_light(command, settings);
  command
      .choice<clean::BinariseMethod>(
          "--binarise", settings.binarise.method,
          {{"auto", clean::BinariseMethod::kAuto},
           {"global", clean::BinariseMethod::kGlobal},
           {"local", clean::BinariseMethod::kLocal}},
          "auto (half-way between paper and ink nearby), global (one threshold) or local "
          "(mean and deviation in a window)")
      .type_name("WAY");
  command
      .option("--weight", settings.binarise.weight,
              "with --binarise local: larger thins the strokes and drops faint ink")
      .between(0.01, 1.0)
      .default_shown();
  command.flag(
      "--no-holes", [&settings] { settings.holes = false; }, "leave punch holes black");
  command
      .option(
          "--specks",
          [&settings](const std::string& text) { set_speck_size(text, settings.despeckle); },
          "widest speck removed, as in 3px or 0.3mm (0: none; default: from the text size)")
      .type_name("SIZE");
  command
      .choice<clean::Rules>(
          "--rules", settings.rules,
          {{"keep", clean::Rules::kKeep},
           {"unread", clean::Rules::kUnread},
           {"remove", clean::Rules::kRemove}},
          "printed lines: unread (kept in the picture, not seen in reading), remove, or keep")
      .type_name("WHAT");
  command.flag("--mend", settings.mend, "bridge small gaps in the strokes of the bitonal picture");
}

void add_models_folder(Command& command, Context& context) {
  command
      .option(
          "--models", [&context](const std::string& folder) { context.models.set_folder(folder); },
          "folder of the models that come with the program (default: BURNISHER_MODELS, else where "
          "it is installed)")
      .type_name("DIR");
}

namespace {

// Takes a list that must not be empty when it is given.
std::function<void(const std::string&)> some_names(std::string& names, const char* missing) {
  return [&names, missing](const std::string& text) {
    if (text.empty()) throw SettingsError(missing);
    names = text;
  };
}

}  // namespace

void add_model(Command& command, Context& context, std::string& names) {
  command
      .option("--model", some_names(names, "no bundle is named"),
              "what reads: bundles by name or file, as in latin,cyrillic, or a model file "
              "(default: all bundles that came with the program; see `burnisher models`)")
      .type_name("NAMES");
  add_models_folder(command, context);
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

std::string user_word_list() {
  const char* settings = std::getenv("XDG_CONFIG_HOME");
  const char* home = std::getenv("HOME");
  const fs::path folder = settings != nullptr ? fs::path(settings)
                          : home != nullptr   ? fs::path(home) / ".config"
                                              : fs::path(".");
  return folder / "burnisher" / "words.txt";
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

recognise::Precision ReadingOptions::precision_wanted() const {
  if (precision == "float") return recognise::Precision::kFloat32;
  if (precision == "int8") return recognise::Precision::kInt8;
  return recognise::precision_of_processor();
}

void add_reading(Command& command, ReadingOptions& options) {
  command
      .option("--long-s", options.long_s, "the long s of old print: keep it, or write a modern s")
      .one_of({"keep", "modern"})
      .default_shown();
  command
      .option("--points", options.points,
              "Hebrew points and Arabic vowel signs: keep them where they are printed, or leave "
              "them out")
      .one_of({"keep", "drop"})
      .default_shown();
  command
      .option("--precision", options.precision,
              "of the network. auto: int8 where the processor multiplies bytes fast, else "
              "float; name one for the same result on every machine")
      .one_of({"auto", "float", "int8"})
      .default_shown();
  command
      .option("--lang", options.languages,
              "languages of the text, as in en,de; their spelling helps with doubtful letters "
              "(default: guessed line by line; none: letters are read as they look)")
      .type_name("TAGS");
  command
      .option("--script", some_names(options.scripts, "no script is named"),
              "scripts of the text, as in Latn,Cyrl (ISO 15924; default: those of --lang, else "
              "told line by line)")
      .type_name("CODES");
}

namespace {

// "pt-BR" is Portuguese; Norwegian, as most write it, is Bokmal.
std::string primary_of(const std::string& tag) {
  const std::string primary = tag.substr(0, tag.find('-'));
  return primary == "no" ? "nb" : primary;
}

}  // namespace

void prefer_speakers(const ReadingOptions& options, std::vector<recognise::Bundle>& bundles) {
  const std::vector<std::string> tags = split(options.languages);
  const auto spoken = [&](const recognise::Bundle& bundle) {
    return std::count_if(tags.begin(), tags.end(), [&](const std::string& tag) {
      return bundle.spelling.count(primary_of(tag)) > 0;
    });
  };
  for (size_t i = 1; i < bundles.size(); ++i) {
    for (size_t k = i; k > 0 && bundles[k].scripts == bundles[k - 1].scripts &&
                       spoken(bundles[k]) > spoken(bundles[k - 1]);
         --k)
      std::swap(bundles[k], bundles[k - 1]);
  }
}

void choose_languages(const ReadingOptions& options, const std::vector<recognise::Bundle>& bundles,
                      recognise::RecogniseSettings& settings, Context& context) {
  settings.modern_s = options.long_s == "modern";
  settings.points = options.points == "keep";
  const std::vector<std::string> tags = split(options.languages);
  check_languages(tags);
  settings.spelling = tags != std::vector<std::string>{kNoLanguage};
  settings.languages.clear();
  settings.scripts = split(options.scripts);
  for (const std::string& code : settings.scripts) recognise::script_named(code);
  if (!settings.spelling) return;
  const bool by_language = settings.scripts.empty();
  for (const std::string& tag : tags) {
    const std::string language = primary_of(tag);
    settings.languages.push_back(language);
    const auto speaks = [&](const auto& bundle) { return bundle.spelling.count(language) > 0; };
    const std::string script = script_of_language(tag);
    const auto reads = [&](const auto& bundle) { return bundle.reads(script); };
    if (std::none_of(bundles.begin(), bundles.end(), reads)) {
      context.console.warn(
          fmt::format("--lang {}: no bundle reads its script{}; its text will come out wrong", tag,
                      script.empty() ? "" : " (" + script + ")"));
    } else if (std::none_of(bundles.begin(), bundles.end(), speaks)) {
      context.console.point_out(
          "--lang " + tag + ": its spelling is not known; doubtful letters are read as they look");
    }
    if (by_language) settings.scripts.push_back(script);
  }
}

void check_languages(const std::vector<std::string>& languages) {
  static const Pattern tag("[a-zA-Z]{2,3}(-[a-zA-Z0-9]{2,8})*");
  if (languages == std::vector<std::string>{kNoLanguage}) return;
  for (const std::string& language : languages) {
    if (!tag.matches(language))
      throw SettingsError("--lang " + language + ": expected BCP 47 tags, as in en,de or pt-BR");
  }
}

std::string page_name(const ScanFile& file, int page) {
  const std::string stem = fs::path(file.path()).stem();
  return file.page_count() > 1 ? fmt::format("{}-{:04}", stem, page) : stem;
}

clean::CleanResult cleaned_picture(const ScanFile& file, int page, const Scan& picture) {
  const std::string beside =
      (fs::path(file.path()).parent_path() / (page_name(file, page) + ".xml")).string();
  std::optional<Page> known;
  std::error_code status;
  if (fs::exists(beside, status)) known = read_page_xml_file(beside).page;
  if (known && known->cleaning.empty()) known.reset();
  clean::CleanResult cleaned =
      run::taken_up(picture, known, known ? scan_path(*known, beside, "") : "", file.limits());
  cleaned.page.blocks.clear();
  return cleaned;
}

void make_folder(const std::string& path) {
  std::error_code status;
  fs::create_directories(path, status);
  if (status) throw OutputError(path + ": the folder cannot be made: " + status.message());
}

std::vector<LoopTask> loop_tasks(const PageLoop& loop, Context& context, int& failed) {
  const PageRange range = loop.pages.empty() ? PageRange() : PageRange(loop.pages);
  std::vector<LoopTask> tasks;
  const auto attempt = [&](const std::function<void()>& open) {
    try {
      open();
    } catch (const std::exception& cause) {
      context.console.warn(told(cause));
      ++failed;
    }
  };
  for (const std::string& input : loop.inputs) {
    std::vector<std::string> files;
    attempt([&] { files = collect_inputs(input); });
    for (const std::string& path : files) {
      attempt([&] {
        const auto file = std::make_shared<const ScanFile>(path, loop.limits);
        for (int p = 1; p <= file->page_count(); ++p) {
          if (range.contains(p)) tasks.push_back({file, p});
        }
      });
    }
  }
  return tasks;
}

int for_each_page(const PageLoop& loop, Context& context, const PageWork& check,
                  const PageWork& work) {
  int opening_failed = 0;
  const std::vector<LoopTask> tasks = loop_tasks(loop, context, opening_failed);
  std::atomic<int> failed{opening_failed}, done{0}, taken{0};
  with_threads(loop.threads, [&] {
    parallel_each(static_cast<int>(tasks.size()), [&](int i) {
      const LoopTask& task = tasks[static_cast<size_t>(i)];
      try {
        check(*task.file, task.page);
        work(*task.file, task.page);
        ++done;
      } catch (const std::exception& cause) {
        context.console.warn(told(cause));
        ++failed;
      }
      context.console.advance("pages", ++taken, static_cast<double>(tasks.size()));
    });
  });
  if (done == 0) return kNothing;
  return failed > 0 ? kSomeLeft : kAllDone;
}

}  // namespace burnisher::cli
