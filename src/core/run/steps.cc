#include "run/steps.h"

#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <optional>
#include <thread>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "export/overlay.h"
#include "intake/pdf_file.h"
#include "layout/maps_picture.h"
#include "page/as_stored.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "raster/turn.h"
#include "run/checks.h"

namespace burnisher::run {
namespace {

int words_on(const Page& page) {
  int count = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) count += static_cast<int>(line.words.size());
  }
  return count;
}

}  // namespace

PageReport report_of(const Page& page) {
  PageReport report;
  report.file = page.file;
  report.number = page.number;
  report.part = page.part;
  report.dpi = page.dpi;
  report.languages = page.languages();
  report.words = words_on(page);
  report.barcodes = page.barcodes;
  report.confidence = page.mean_confidence();
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) {
      report.set_aside += !block.lines.empty();
      continue;
    }
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) report.suspects += word.reasons != 0;
    }
  }
  return report;
}

std::shared_ptr<const Gray> thumbnail_of(const Picture& picture) {
  constexpr int kWidth = 120;  // pixels
  const Gray gray = to_gray(picture);
  return std::make_shared<Gray>(reduced(gray, std::max(1, gray.width() / kWidth)));
}

std::vector<std::shared_ptr<const Gray>> pictures_set_aside(const Picture& picture,
                                                            const Page& page) {
  constexpr size_t kMost = 6;                // of a page
  constexpr int kWidth = 160, kHeight = 48;  // pixels, at most
  std::vector<std::shared_ptr<const Gray>> pictures;
  Gray gray;
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kNoise || block.lines.empty() || pictures.size() == kMost)
      continue;
    if (gray.empty()) gray = to_gray(picture);
    const Box box = bounds(block.outline);
    const int x0 = std::clamp(static_cast<int>(box.x0) - 2, 0, gray.width()),
              y0 = std::clamp(static_cast<int>(box.y0) - 2, 0, gray.height()),
              x1 = std::clamp(static_cast<int>(box.x1) + 3, x0, gray.width()),
              y1 = std::clamp(static_cast<int>(box.y1) + 3, y0, gray.height());
    if (x1 <= x0 || y1 <= y0) continue;
    const Gray part = cut_out(gray, x0, y0, x1, y1);
    pictures.push_back(
        std::make_shared<Gray>(reduced(part, std::max({1, (part.width() + kWidth - 1) / kWidth,
                                                       (part.height() + kHeight - 1) / kHeight}))));
  }
  return pictures;
}

void keep_steps(const Scan& scan, const clean::CleanResult& cleaned, const Page& page,
                const layout::PageMaps& maps, const std::string& folder) {
  std::filesystem::create_directories(folder);
  const std::string base =
      fmt::format("{}/{}-{:04}{}", folder, stem_of(scan.file), scan.page, side_suffix(page.part));
  write_file(base + "-1-scan.png", write_png(scan.picture, page.dpi));
  write_file(base + "-2-page.png", write_png(cleaned.picture, page.dpi));
  for (const clean::Step& step : cleaned.steps) {
    const Picture ink = step.ink.clone();
    write_file(fmt::format("{}-3-{}.png", base, step.name), write_png(ink, page.dpi));
  }
  const Gray gray = to_gray(cleaned.picture);
  const double scale = layout::kCellPixels / maps.pixels_of_cell();
  const Picture grid = layout::picture_of(maps.grid(), scaled(gray, scale));
  write_file(base + "-4-maps.png", write_png(grid, 0));
  write_file(base + "-5-overlay.png", write_png(exporting::overlay_of(gray, page, {}), 0));
}

namespace {

constexpr size_t kEnoughToTell = 200;  // bytes of text from which on a language is sure

// What a page reads like when that is none of the languages asked for.
std::string other_language(const Page& page, const recognise::Languages& languages,
                           const std::vector<std::string>& wanted) {
  // Of a language that is not known nothing can be told.
  const bool all_known = std::all_of(wanted.begin(), wanted.end(),
                                     [&](const auto& tag) { return languages.knows(tag); });
  if (wanted.empty() || !all_known) return "";
  Page guessed;
  guessed.blocks.resize(1);
  std::vector<std::string> texts;
  size_t size = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      texts.push_back(line.text());
      size += texts.back().size();
      guessed.blocks[0].lines.push_back(line);
    }
  }
  if (size < kEnoughToTell) return "";
  // Of languages in another script only what they know of this page's letters would be compared.
  std::vector<std::string> possible;
  for (const std::string& tag : languages.tags())
    if (script_of_language(tag) == page.main_script()) possible.push_back(tag);
  if (possible.empty()) return "";
  const std::vector<std::string> tags = languages.guess(texts, possible);
  for (size_t i = 0; i < tags.size(); ++i) guessed.blocks[0].lines[i].language = tags[i];
  const std::vector<std::string> found = guessed.languages();
  const bool fits = found.empty() || std::any_of(found.begin(), found.end(), [&](const auto& tag) {
                      return std::find(wanted.begin(), wanted.end(), tag) != wanted.end();
                    });
  return fits ? "" : found.front();
}

PageReport report_of(const ReadScan& read, const ReadPage& page, const Page& corrected,
                     const Readers& readers, const RunSettings& settings) {
  PageReport report = run::report_of(corrected);
  report.notes = page.notes;
  report.turn = read.turn;
  report.turn_confidence = read.turn_confidence;
  report.look = reasons_to_look(corrected, settings.look_below);
  report.look.insert(report.look.end(), read.misfits.begin(), read.misfits.end());
  const std::vector<std::string>& languages = settings.stages.recognise.languages;
  const std::string other =
      languages.empty() ? ""
                        : other_language(corrected, readers.recogniser().languages(), languages);
  if (!other.empty()) {
    report.look.push_back(
        fmt::format("reads like '{}', which is none of the languages asked for", other));
  }
  report.held = reasons_to_hold(settings.hold, corrected, {page.blank, !other.empty()});
  report.skew = page.skew;
  report.perspective = page.perspective;
  report.curl = page.curl;
  report.blank = page.blank;
  if (page.blank) report.set_aside = 0;  // the paper's grain, or its other side
  report.unread = page.unread;
  if (!page.unread.empty()) report.look.push_back(page.unread);
  return report;
}

}  // namespace

namespace {

// The page's own text, in the pixels of the page as it looks; nothing where it has none.
std::optional<Page> own_text(const ScanFile& file, int page, const RunSettings& settings,
                             std::optional<Scan>* look) {
  std::optional<Page> text = file.pdf()->text(page, settings.limits.pdf_dpi);
  if (!text || look == nullptr) return text;
  look->emplace(file.read(page));
  const Scan& scan = **look;
  text = file.pdf()->text(page, scan.stated_dpi > 0 ? scan.stated_dpi : settings.limits.pdf_dpi);
  text->width = width_of(scan.picture);
  text->height = height_of(scan.picture);
  return text;
}

// A PDF page with text of its own: that is taken, and the page stays as it is.
std::optional<PageResult> kept_page(const ScanTask& task, const RunSettings& settings,
                                    const JobSession* job) {
  if (!task.file->is_pdf() || settings.existing_text != ExistingText::kKeep) return std::nullopt;
  PageResult result;
  FinishedPage& finished = result.finished;
  ScanStanding standing;
  if (job != nullptr) standing = job->standing_of(task);
  if (standing.up_to_date() && standing.record->kept) {
    std::vector<bool> changed;
    ReadScan read = job->take_up(task, *standing.record, changed);
    if (changed.front()) job->put_down(task, read);
    finished.person = read.pages.front().person;
    finished.page = std::move(read.pages.front().page);
    if (!job->has_picture(finished.page, finished.job_picture)) finished.job_picture.clear();
  } else {
    std::optional<Scan> look;
    std::optional<Page> text =
        own_text(*task.file, task.page, settings, job == nullptr ? nullptr : &look);
    if (!text) return std::nullopt;
    if (job != nullptr) {
      finished.job_picture = job->keep_picture(look->picture, *text);
      ReadScan read;
      read.kept = true;
      read.pages.emplace_back();
      read.pages.front().page = std::move(*text);
      job->put_down(task, read);
      text = std::move(read.pages.front().page);
    }
    finished.page = std::move(*text);
  }
  result.report = run::report_of(finished.page);
  result.report.confidence = 1;
  result.report.notes.push_back("has real text already; kept as it is");
  finished.kept = true;
  return result;
}

// A script without a model of its own has no habits to go by.
const correct::ConfusionModel& confusion_model_of(const std::string& script,
                                                  const RunTools& tools) {
  static const correct::ConfusionModel none;
  const auto found = tools.confusion_models.find(script);
  return found == tools.confusion_models.end() ? none : found->second;
}

// The pictures of a scan, made when something needs them.
class Pictures {
 public:
  Pictures(const ScanTask& task, const ReadScan& read, PixelBudget& pixels)
      : task_(task), read_(read), pixels_(pixels) {}
  void set(ScanInHand hand) { hand_ = std::move(hand); }
  ScanInHand& hand() {
    if (!hand_) {
      ScanInHand again = scan_in_hand(task_, pixels_);
      clean_again(read_, again);
      hand_ = std::move(again);
    }
    return *hand_;
  }
  bool in_hand() const { return hand_.has_value(); }
  ScanInHand release() { return std::move(*hand_); }
  bool read_now() const { return hand_ && !hand_->page_maps.empty(); }

 private:
  const ScanTask& task_;
  const ReadScan& read_;
  PixelBudget& pixels_;
  std::optional<ScanInHand> hand_;
};

// A page that was read: corrected, and with the pictures that documents want of it.
PageResult finished(const ScanTask& task, ReadScan& read, size_t place, Pictures& pictures,
                    bool read_anew, const Readers& readers, const Wanted& wanted,
                    const RunSettings& settings, const RunTools& tools, const JobSession* job) {
  Page page = std::move(read.pages[place].page);
  const ReadPage& about = read.pages[place];
  correct::CorrectReport corrected;
  if (tools.lexicon != nullptr) {
    corrected = correct::correct({&page}, *tools.lexicon,
                                 confusion_model_of(page.main_script(), tools), settings.correct);
    round_as_stored(page);
  }
  PageResult result;
  result.report = report_of(read, about, page, readers, settings);
  result.report.suspects = corrected.suspects;
  result.report.without_dictionary = std::move(corrected.without_dictionary);
  result.report.changes = std::move(corrected.changes);
  FinishedPage& finished = result.finished;
  finished.blank = about.blank;
  finished.person = about.person;
  const bool kept = job != nullptr && !read_anew && job->has_picture(page, finished.job_picture);
  if (wanted.illustrations || wanted.picture || settings.thumbnails || (job != nullptr && !kept) ||
      !settings.steps_folder.empty()) {
    ScanInHand& hand = pictures.hand();
    clean::CleanResult& cleaned = hand.cleaned[place];
    if (about.other_side && settings.stages.clean.even) clean::whiten(cleaned);
    if (!settings.steps_folder.empty() && pictures.read_now())
      keep_steps(hand.scan, cleaned, page, hand.page_maps[place], settings.steps_folder);
    const pdf::PictureSettings& wished = settings.delivery.pdf.picture;
    if (wanted.illustrations)
      finished.illustrations = illustrations_of(cleaned.picture, page, wished);
    if (wanted.picture) {
      cleaned.page = std::move(page);
      finished.picture = picture_of(*task.file, hand.scan, cleaned, wished);
      page = std::move(cleaned.page);
    }
    if (settings.thumbnails) result.report.thumbnail = thumbnail_of(cleaned.picture);
    if (settings.thumbnails && !about.blank)
      result.report.aside = pictures_set_aside(cleaned.picture, page);
    if (job != nullptr && !kept) try {
        finished.job_picture = job->keep_picture(cleaned.picture, page);
      } catch (const OutputError& cause) {
        result.report.look.push_back(std::string("is missing in the job: ") + cause.what());
      }
  }
  finished.page = std::move(page);
  return result;
}

// So that it is told where the job stands, and tried again by the next run.
void note_failure(const JobSession& job, const ScanTask& task, const std::exception& cause) {
  try {
    ReadScan nothing;
    job.put_down(task, nothing, cause.what());
  } catch (const Error&) {
    // The folder takes nothing any more; whoever delivers will meet that, too.
  }
}

PageResult failed(const ScanFile& file, int page, const std::exception& cause) {
  PageResult result;
  result.report.file = file.path();
  result.report.number = page;
  result.report.failed = true;
  result.report.failure = problem_of(cause).code;
  result.report.look.push_back(cause.what());
  return result;
}

// A scan as it is read now or was read before, with what a person changed since. `anew`: whether it
// was read just now.
ReadScan read_or_taken_up(const ScanTask& task, const Readers& readers, const RunSettings& settings,
                          const JobSession* job, Pictures& pictures, bool& anew) {
  const bool steps = !settings.steps_folder.empty();
  const StageSettings stages = job == nullptr ? settings.stages : job->stages_of(task);
  const auto read_now = [&] {
    anew = true;
    ScanInHand hand = scan_in_hand(task, readers.pixels());
    ReadScan read = read_scan(readers.network(), readers.recogniser(), stages, steps, hand);
    pictures.set(std::move(hand));
    return read;
  };
  anew = false;
  if (job == nullptr) return read_now();
  ScanStanding standing = job->standing_of(task);
  if (!standing.up_to_date() || steps) {
    ReadScan read = read_now();
    try {
      job->put_down(task, read);
    } catch (const OutputError& cause) {
      // What was read is delivered all the same.
      read.misfits.push_back(std::string("is missing in the job: ") + cause.what());
      return read;
    }
    standing = job->standing_of(task);
    if (standing.standing != Standing::kPerson) return read;
  }
  std::vector<bool> changed;
  ReadScan read = job->take_up(task, *standing.record, changed);
  if (std::find(changed.begin(), changed.end(), true) == changed.end()) return read;
  if (!pictures.in_hand()) {
    Pictures again(task, read, readers.pixels());
    again.hand();
    pictures.set(again.release());
  }
  for (size_t i = 0; i < changed.size(); ++i) {
    if (changed[i])
      read_missing(pictures.hand(), i, readers.network(), readers.recogniser(), stages,
                   read.pages[i].page);
  }
  job->put_down(task, read);
  return read;
}

// Two workers do not read the same scan: whoever comes second waits for the first, or goes on where
// that one was lost. A worker that gives signs and gets nowhere is waited for no longer than any
// page takes: reading one twice costs time only.
std::optional<job::Worker::Claim> claimed(const JobSession* job, const ScanTask& task,
                                          const Progress& progress) {
  if (job == nullptr) return std::nullopt;
  constexpr std::chrono::milliseconds kPause(200);
  constexpr std::chrono::minutes kLongest(10);
  const auto until = std::chrono::steady_clock::now() + kLongest;
  while (!progress.cancelled() && std::chrono::steady_clock::now() < until) {
    if (job->standing_of(task).up_to_date()) return std::nullopt;
    if (auto claim = job->worker().claim(scan_name_of(task))) return claim;
    std::this_thread::sleep_for(kPause);
  }
  return std::nullopt;
}

}  // namespace

const layout::PageNetwork& Readers::network() const {
  const std::lock_guard<std::mutex> lock(guard_);
  if (!network_)
    network_ = std::make_unique<layout::PageNetwork>(layout::read_page_model(settings_.page_model));
  return *network_;
}

const recognise::Recogniser& Readers::recogniser() const {
  const std::lock_guard<std::mutex> lock(guard_);
  if (!recogniser_)
    recogniser_ = std::make_unique<recognise::Recogniser>(settings_.bundles, settings_.precision);
  return *recogniser_;
}

std::vector<PageResult> work_on(const ScanTask& task, const Readers& readers, const Wanted& wanted,
                                const RunSettings& settings, const RunTools& tools,
                                const JobSession* job, const Progress& progress) {
  const auto start = std::chrono::steady_clock::now();
  std::vector<PageResult> results;
  try {
    if (std::optional<PageResult> kept = kept_page(task, settings, job)) {
      results.push_back(std::move(*kept));
    } else {
      const auto claim = claimed(job, task, progress);
      if (job != nullptr && !claim && progress.cancelled()) return {};
      ReadScan read;
      Pictures pictures(task, read, readers.pixels());
      bool anew = false;
      read = read_or_taken_up(task, readers, settings, job, pictures, anew);
      for (size_t i = 0; i < read.pages.size(); ++i)
        results.push_back(
            finished(task, read, i, pictures, anew, readers, wanted, settings, tools, job));
    }
  } catch (const std::exception& cause) {
    results.clear();
    results.push_back(failed(*task.file, task.page, cause));
    if (job != nullptr) note_failure(*job, task, cause);
  }
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  for (PageResult& result : results) {
    result.report.pages_in_file = task.file->page_count();
    result.report.seconds = passed.count() / static_cast<double>(results.size());
  }
  return results;
}

std::string read_into(const JobSession& job, const ScanTask& task, const Readers& readers,
                      const RunSettings& settings) {
  try {
    ReadScan read;
    Pictures pictures(task, read, readers.pixels());
    bool anew = false;
    if (kept_page(task, settings, &job)) return "";
    read = read_or_taken_up(task, readers, settings, &job, pictures, anew);
    return "";
  } catch (const std::exception& cause) {
    note_failure(job, task, cause);
    return cause.what();
  }
}

}  // namespace burnisher::run
