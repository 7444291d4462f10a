#include "run/run.h"

#include <fmt/core.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <filesystem>
#include <map>
#include <mutex>
#include <optional>
#include <thread>

#include "base/error.h"
#include "base/files.h"
#include "base/hash.h"
#include "base/parallel.h"
#include "find/gather.h"
#include "intake/pdf_file.h"
#include "layout/document.h"
#include "page/as_stored.h"
#include "run/document_names.h"
#include "run/document_set.h"
#include "run/job_session.h"
#include "run/leaves.h"
#include "run/page_queue.h"
#include "run/scan_list.h"
#include "run/steps.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

void check(const RunSettings& settings) {
  if (settings.inputs.empty()) throw SettingsError("no input: name at least one file or folder");
  if (joined(settings) == !settings.output_folder.empty())
    throw SettingsError("say where the result goes: one document, or a folder and kinds");
  if (!joined(settings) && settings.kinds.empty())
    throw SettingsError("to", "expected: one or more of " + output_kind_names());
  check_name(settings.delivery.name, settings.split.at != SplitRule::At::kNowhere);
  if (joined(settings) && settings.split.at != SplitRule::At::kNowhere)
    throw SettingsError("split-at",
                        "makes many documents: say --out-dir and --to instead of --out");
  if (!joined(settings) &&
      (!settings.delivery.order.empty() || !settings.delivery.replacements.empty()))
    throw SettingsError("pages are put in order and replaced in one document only, not in many");
  for (const std::string& path : settings.outputs) output_kind_of(path);
}

// A file that is there already may be replaced where the settings say so, or where this job wrote
// it and nobody touched it since. Throws OutputError for others.
void check_place(const std::string& path, const RunSettings& settings, const JobSession* job) {
  if (job == nullptr || !job->wrote(path)) check_target(path, settings.delivery.overwrite);
}

// Files whose results are there already are left out before any work is done for them.
void leave_out_finished(const RunSettings& settings, const JobSession* job, RunReport& report,
                        ScanList& scans) {
  if (joined(settings)) return;
  for (const ListedDocument& document : scans.documents) {
    bool free = true;
    std::vector<std::string> targets;
    for (const auto& [kind, target] : wanted_documents(settings, document))
      targets.push_back(target);
    if (job != nullptr && job->up_to_date(targets, document.key)) {
      report.up_to_date.insert(report.up_to_date.end(), targets.begin(), targets.end());
      free = false;
    }
    for (const std::string& target : targets) {
      if (!free) break;
      try {
        check_place(target, settings, job);
      } catch (const OutputError& cause) {
        scans.problems.push_back(problem_of(cause));
        free = false;
      }
    }
    if (free) continue;
    scans.tasks.erase(std::remove_if(scans.tasks.begin(), scans.tasks.end(),
                                     [&](const ScanTask& t) { return t.document == document.key; }),
                      scans.tasks.end());
  }
}

void stop_at_text(const RunSettings& settings, const ScanList& scans) {
  if (settings.existing_text != ExistingText::kStop) return;
  for (const ScanTask& task : scans.tasks) {
    if (task.file->is_pdf() && task.file->pdf()->text(task.page, settings.limits.pdf_dpi)) {
      throw InputError(fmt::format("page {} of {} has real text already; nothing was done",
                                   task.page, task.file->path()),
                       ErrorCode::kHasText);
    }
  }
}

Wanted pictures_wanted(const RunSettings& settings) {
  Wanted all;
  for (const auto& [kind, path] : wanted_documents(settings, {"x", "x", {}})) all.add(kind);
  return all;
}

// Pages that are read go in, in order, and into their documents.
class Delivering {
 public:
  Delivering(const RunSettings& settings, const RunTools& tools, const ScanList& scans,
             JobSession* job, Progress& progress, RunReport& report)
      : settings_(settings),
        tools_(tools),
        scans_(scans),
        job_(job),
        progress_(progress),
        report_(report),
        queue_([](Waiting& w) -> Page& { return w.finished.page; },
               [this](Waiting& w) { deliver(w); },
               [](const Waiting& w) { return w.finished.person; }) {}

  void begin(const ScanTask& task) {
    if (documents_) return;
    held_ = false;
    first_report_ = report_.pages.size();
    const ListedDocument document = document_of(task);
    const WantedDocuments wanted = wanted_documents(settings_, document);
    document_ = document.key;
    wanted_.clear();
    for (const auto& [kind, path] : wanted) {
      wanted_.push_back(path);
      if (job_ != nullptr) job_->sweep_beside(path);
    }
    Delivery delivery = settings_.delivery;
    const auto own = settings_.fields_by_file.find(fs::path(task.file->path()).filename().string());
    if (own != settings_.fields_by_file.end() && !joined(settings_))
      describe(own->second, delivery.pdf.about);
    describe(document.fields, delivery.pdf.about);
    describe(settings_.fields, delivery.pdf.about);
    documents_.emplace(wanted,
                       Origin{document.stem, original(*task.file), settings_.limits.pdf_password,
                              paths_of(wanted), tools_.is_word},
                       delivery, report_.problems);
  }

  void add(PageResult& result) {
    const PageReport& report = result.report;
    report_.pages.push_back(report);
    if (!report.failed) queue_.push({std::move(result.finished), report_.pages.size() - 1});
    for (const std::string& note : report.notes) progress_.say(place_of(report) + ": " + note);
  }

  void end() {
    queue_.flush();
    for (const layout::SequenceBreak& found : layout::sequence_breaks(numbered_))
      report_.pages[numbered_reports_[found.page]].look.push_back(found.what);
    numbered_.clear();
    numbered_reports_.clear();
    // A document without a single good page is not written.
    if (documents_ && documents_->pages() > 0) finish();
    documents_.reset();
  }

  // What was read goes into the job, but no document is written that lacks pages.
  void give_up() {
    queue_.flush();
    documents_.reset();
  }

 private:
  struct Waiting {
    FinishedPage finished;
    size_t report;  // place in the report's pages
  };

  void deliver(Waiting& waiting) {
    FinishedPage& page = waiting.finished;
    PageReport& report = report_.pages[waiting.report];
    const auto number = printed_number(page.page);
    if (number)
      report.printed_number = fmt::format("{}{}", number->value, number->roman ? " (roman)" : "");
    numbered_.push_back({place_of(report), number});
    numbered_reports_.push_back(waiting.report);
    round_as_stored(page.page);
    if (job_ != nullptr) keep_in_job(page, report);
    if (job_ != nullptr && job_->left_out(page.page)) {
      progress_.say(place_of(report) + ": left out, as a person said");
      return;
    }
    if (settings_.delivery.drop_blank && page.blank) {
      progress_.say(place_of(report) + ": blank; left out");
      return;
    }
    settings_.kinds_wanted.apply(page.page);
    held_ = held_ || !report.held.empty();
    documents_->add(page, place_of(report));
  }

  void keep_in_job(FinishedPage& page, const PageReport& report) {
    try {
      for (const std::string& problem : job_->keep(page, report))
        report_.problems.push_back({problem});
    } catch (const std::exception& cause) {
      report_.problems.push_back({place_of(report) + ": is missing in the job: " + cause.what()});
    }
  }

  // What a scan's document is: all of them, or its own.
  ListedDocument document_of(const ScanTask& task) const {
    if (joined(settings_)) return {"", stem_of(settings_.outputs.front()), {}};
    for (const ListedDocument& one : scans_.documents)
      if (one.key == task.document) return one;
    return {task.document, stem_of(task.file->path()), {}};
  }

  // The one PDF a document is made of, all of it and in its order: then text is added to that.
  std::string original(const ScanFile& file) const {
    const Delivery& delivery = settings_.delivery;
    const bool rebuilt = delivery.face_chosen || delivery.pdf.archive || delivery.drop_blank ||
                         !delivery.order.empty() || !delivery.replacements.empty() ||
                         !settings_.pages.empty() || scans_.split ||
                         settings_.existing_text == ExistingText::kReplace;
    if (rebuilt || (joined(settings_) && scans_.files.size() != 1)) return "";
    return file.is_pdf() ? file.path() : "";
  }

  void finish() {
    const std::vector<PageReport> own(report_.pages.begin() + static_cast<long>(first_report_),
                                      report_.pages.end());
    if (job_ != nullptr) announce();
    std::vector<DocumentSet::Written> documents = documents_->finish(source_bytes_of(own));
    for (DocumentSet::Written& written : documents) {
      if (held_) set_waiting(written.path);
      report_.written.push_back(written.path);
      if (written.remark.empty()) continue;
      report_.remarks.emplace_back(written.path, written.remark);
      progress_.say(written.path + ": " + written.remark);
    }
    // With pages missing, the documents are not what they are to be: the next run tries again.
    const bool failed = std::any_of(own.begin(), own.end(), [](const auto& p) { return p.failed; });
    if (job_ != nullptr) remember(documents, joined(settings_) ? "" : document_, !failed);
  }

  void announce() {
    try {
      job_->announce(wanted_);
    } catch (const std::exception& cause) {
      report_.problems.push_back(problem_of(cause));
    }
  }

  void remember(const std::vector<DocumentSet::Written>& documents, const std::string& scan,
                bool whole) {
    try {
      job_->remember(documents, scan, whole);
    } catch (const std::exception& cause) {
      report_.problems.push_back(problem_of(cause));
    }
  }

  // What waits for a person goes into a folder of its own, so that nobody takes it for finished.
  void set_waiting(std::string& path) {
    if (!joined(settings_)) try {
        const fs::path folder = fs::path(settings_.output_folder) / "waiting";
        fs::create_directories(folder);
        const std::string target = (folder / fs::path(path).filename()).string();
        fs::rename(path, target);
        path = target;
      } catch (const fs::filesystem_error& cause) {
        report_.problems.push_back(
            {path + ": waits for a person, but could not be put aside: " + cause.code().message()});
      }
    report_.waiting.push_back(path);
  }

  const RunSettings& settings_;
  const RunTools& tools_;
  const ScanList& scans_;
  JobSession* job_;
  Progress& progress_;
  RunReport& report_;
  PageQueue<Waiting> queue_;
  std::optional<DocumentSet> documents_;
  std::string document_;                        // key of the document being written
  std::vector<std::string> wanted_;             // paths of the documents
  bool held_ = false;                           // a page of the documents waits for a person
  size_t first_report_ = 0;                     // of the pages of the documents
  std::vector<layout::NumberedPage> numbered_;  // of the document being written
  std::vector<size_t> numbered_reports_;
};

// Scans are worked on side by side, a few at a time, and delivered in order.
void stream(const RunSettings& settings, const RunTools& tools, const ScanList& scans,
            const Readers& readers, JobSession* job, Progress& progress, Delivering& delivering,
            RunReport& report) {
  struct Done {
    const ScanTask* task;
    std::vector<PageResult> results;
  };
  const Wanted wanted = pictures_wanted(settings);
  const size_t cores = std::max(1u, std::thread::hardware_concurrency());
  const size_t side_by_side = settings.threads > 0 ? static_cast<size_t>(settings.threads) : cores;
  size_t next = 0, done = 0;
  const auto give = [&] {
    report.cancelled = report.cancelled || (next < scans.tasks.size() && progress.cancelled());
    return !report.cancelled && next++ < scans.tasks.size();
  };
  const auto work = [&](size_t number) {
    const ScanTask& task = scans.tasks[number];
    return std::make_shared<Done>(
        Done{&task, work_on(task, readers, wanted, settings, tools, job, progress)});
  };
  const auto take = [&](const std::shared_ptr<void>& done_with) {
    const auto finished = std::static_pointer_cast<Done>(done_with);
    report.cancelled = report.cancelled || finished->results.empty();
    delivering.begin(*finished->task);
    for (PageResult& result : finished->results) delivering.add(result);
    progress.advance("scans", static_cast<double>(++done), static_cast<double>(scans.tasks.size()));
    if (job != nullptr)
      job->worker().progress(static_cast<long>(done), static_cast<long>(scans.tasks.size()));
    if (finished->task->last_of_file) finished->task->file->close();
    if (!joined(settings) && finished->task->last_of_document) delivering.end();
  };
  pipeline(side_by_side + 1, give, work, take);
  if (report.cancelled)
    delivering.give_up();
  else
    delivering.end();
}

ScanList scans_of(const RunSettings& settings) {
  ScanList scans = scans_in(settings.inputs, settings.pages, settings.limits);
  rearrange(settings.delivery.replacements, settings.delivery.order, settings.limits, scans);
  split(settings.split, settings.inputs, scans);
  keep_names_apart(settings, scans);
  if (settings.stages.leaves) set_beside(scans);
  return scans;
}

void check_job(const RunSettings& settings) {
  if (settings.inputs.empty()) throw SettingsError("no input: name at least one file or folder");
  if (settings.job_folder.empty()) throw SettingsError("job", "expected: the job's folder");
}

// A document of all inputs that is as it would be made now.
bool nothing_to_do(const RunSettings& settings, const JobSession* job, RunReport& report) {
  if (job == nullptr || !joined(settings) || !settings.steps_folder.empty() ||
      settings.thumbnails || !report.problems.empty() || !job->up_to_date(settings.outputs, ""))
    return false;
  report.up_to_date = settings.outputs;
  return true;
}

}  // namespace

std::vector<std::string> explain(const RunSettings& settings, const RunTools& tools) {
  check_job(settings);
  const ScanList scans = scans_of(settings);
  const JobSession job(settings, tools, scans, JobSession::Use::kLook);
  std::vector<std::string> lines = {job.plan_text()};
  for (const ScanTask& task : scans.tasks) {
    const Standing standing = job.standing_of(task).standing;
    if (standing == Standing::kUpToDate) continue;
    PageReport page;
    page.file = task.file->path();
    page.number = task.page;
    lines.push_back(fmt::format("{}: {}", place_of(page), words_for(standing)));
  }
  for (const Problem& problem : scans.problems) lines.push_back(problem.what);
  return lines;
}

void prepare(const RunSettings& settings, const RunTools& tools) {
  check(settings);
  check_job(settings);
  const ScanList scans = scans_of(settings);
  if (scans.tasks.empty() && !scans.problems.empty()) throw InputError(scans.problems.front().what);
  const JobSession job(settings, tools, scans, JobSession::Use::kRun);
  for (const std::string& path : settings.outputs) check_place(path, settings, &job);
}

RunReport work(const RunSettings& settings, const RunTools& tools, Progress& progress) {
  const auto start = std::chrono::steady_clock::now();
  check_job(settings);
  RunReport report;
  const ScanList scans = scans_of(settings);
  report.problems = scans.problems;
  JobSession job(settings, tools, scans, JobSession::Use::kWork);
  const Readers readers(settings);
  const size_t count = scans.tasks.size();
  // Each worker begins elsewhere, so that they seldom meet.
  const size_t first = count > 0 ? hash_of(job.worker().name()) % count : 0;
  std::vector<char> over(count, 0);
  std::atomic<long> done{0};
  std::mutex guard;
  const auto take = [&](int i) {
    const size_t at = (first + static_cast<size_t>(i)) % count;
    if (over[at] || progress.cancelled()) return;
    const ScanTask& task = scans.tasks[at];
    if (job.settled(task)) {
      over[at] = 1;
      return;
    }
    const auto claim = job.worker().claim(scan_name_of(task));
    if (!claim) return;
    // It may have been read between looking and claiming.
    const std::string failure = job.settled(task) ? "" : read_into(job, task, readers, settings);
    over[at] = 1;
    job.worker().progress(++done, static_cast<long>(count));
    const std::lock_guard<std::mutex> lock(guard);
    if (!failure.empty()) report.problems.push_back({failure});
    progress.advance("scans", static_cast<double>(std::count(over.begin(), over.end(), 1)),
                     static_cast<double>(count));
  };
  constexpr std::chrono::milliseconds kPause(500);
  with_threads(settings.threads, [&] {
    while (std::find(over.begin(), over.end(), 0) != over.end() && !progress.cancelled()) {
      const auto before = std::count(over.begin(), over.end(), 1);
      parallel_each(static_cast<int>(count), take);
      // All that is left is in other hands: they may be lost yet.
      if (std::count(over.begin(), over.end(), 1) == before) std::this_thread::sleep_for(kPause);
    }
  });
  report.cancelled = std::find(over.begin(), over.end(), 0) != over.end();
  report.read = static_cast<int>(done);
  const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
  report.seconds = passed.count();
  return report;
}

RunReport run(const RunSettings& settings, const RunTools& tools, Progress& progress) {
  const auto start = std::chrono::steady_clock::now();
  check(settings);
  RunReport report;
  ScanList scans = scans_of(settings);
  const ScanList all = scans;
  report.fields = settings.fields;
  report.problems = scans.problems;
  std::optional<JobSession> kept;
  if (!settings.job_folder.empty()) kept.emplace(settings, tools, all, JobSession::Use::kRun);
  JobSession* const job = kept ? &*kept : nullptr;
  const auto passed = [&] {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
  };
  if (job != nullptr) progress.say(settings.job_folder + ": " + job->plan_text());
  if (nothing_to_do(settings, job, report)) {
    report.seconds = passed();
    return report;
  }
  for (const std::string& path : settings.outputs) check_place(path, settings, job);
  scans.problems.clear();
  leave_out_finished(settings, job, report, scans);
  report.problems.insert(report.problems.end(), scans.problems.begin(), scans.problems.end());
  stop_at_text(settings, scans);
  RunSettings own = settings;
  own.delivery.overwrite = own.delivery.overwrite || job != nullptr;  // as check_place allowed
  const Readers readers(own);
  if (job == nullptr) {  // what is wrong with the models shows before the work
    readers.network();
    readers.recogniser();
  }
  if (tools.lexicon != nullptr && !scans.tasks.empty()) tools.lexicon->prepare(settings.languages);
  if (!joined(own)) {
    std::error_code status;
    fs::create_directories(own.output_folder, status);
    if (status) throw OutputError(own.output_folder + ": cannot be made: " + status.message());
  }
  Delivering delivering(own, tools, scans, job, progress, report);
  // Whether they can be written at all shows before the work, not after.
  if (joined(own) && !scans.tasks.empty()) delivering.begin(scans.tasks.front());
  with_threads(own.threads,
               [&] { stream(own, tools, scans, readers, job, progress, delivering, report); });
  if (job != nullptr && !progress.cancelled())
    find::refresh_index_of_job(settings.job_folder, progress);
  report.seconds = passed();
  return report;
}

}  // namespace burnisher::run
