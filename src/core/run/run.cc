#include "run/run.h"

#include <fmt/core.h>
#include <tbb/parallel_pipeline.h>

#include <algorithm>
#include <chrono>
#include <deque>
#include <filesystem>
#include <map>
#include <thread>

#include "base/error.h"
#include "base/files.h"
#include "base/parallel.h"
#include "correct/decisions.h"
#include "layout/document.h"
#include "page/page_xml.h"
#include "page/pdf_text.h"
#include "run/documents.h"
#include "run/steps.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

const char* const kDecisionsName = "decisions.tsv";
constexpr size_t kPagesAhead = 2;  // left and right pages have heads of their own

struct Task {
  std::shared_ptr<const ScanFile> file;
  int page = 1;
  bool last_of_file = false;
};

struct Done {
  std::shared_ptr<const ScanFile> file;
  std::vector<PageResult> results;
  bool last_of_file = false;
};

class Runner {
 public:
  Runner(const RunSettings& settings, Progress& progress)
      : settings_(settings), progress_(progress) {}

  RunReport go() {
    const auto start = std::chrono::steady_clock::now();
    check();
    open_inputs();
    keep_names_apart();
    if (settings_.existing_text == ExistingText::kStop) look_for_text();
    const recognise::Recogniser recogniser(settings_.model, settings_.languages_folder,
                                           settings_.arithmetic);
    recogniser_ = &recogniser;
    if (!joined()) fs::create_directories(settings_.output_folder);
    if (!settings_.job_folder.empty()) {
      fs::create_directories(settings_.job_folder);
      if (fs::exists(decisions_path())) decisions_ = correct::read_decisions(decisions_path());
    }
    if (joined() && !tasks_.empty()) open_documents(stem_of(settings_.outputs.front()));
    const size_t cores = std::max(1u, std::thread::hardware_concurrency());
    const size_t side_by_side =
        settings_.threads > 0 ? static_cast<size_t>(settings_.threads) : cores;
    with_threads(settings_.threads, [&] { stream_pages(side_by_side); });
    write_waiting(0);
    if (joined()) close_documents(pages_in_documents_ > 0);
    const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - start;
    report_.seconds = passed.count();
    return std::move(report_);
  }

 private:
  bool joined() const { return !settings_.outputs.empty(); }

  void check() const {
    if (settings_.inputs.empty()) throw SettingsError("no input: name at least one file or folder");
    if (joined() == !settings_.output_folder.empty()) {
      throw SettingsError(
          "say where the result goes: either --out FILE, or --out-dir DIR with --to");
    }
    if (!joined() && settings_.kinds.empty()) {
      throw SettingsError("--out-dir needs --to with one or more of " + output_kind_names());
    }
    check_name(settings_.delivery.name);
    if (!joined() &&
        (!settings_.delivery.order.empty() || !settings_.delivery.replacements.empty()))
      throw SettingsError("--order and --replace-page need one document, named with --out");
    for (const std::string& path : settings_.outputs) {
      output_kind_of(path);
      if (!settings_.delivery.overwrite && fs::exists(path)) {
        throw OutputError(path + ": is there already and was left alone (--overwrite replaces it)");
      }
    }
  }

  void open_inputs() {
    const PageRange range = settings_.pages.empty() ? PageRange() : PageRange(settings_.pages);
    for (const std::string& input : settings_.inputs) {
      std::vector<std::string> files;
      try {
        files = collect_inputs(input);
      } catch (const Error& cause) {
        fail(cause.what());
      }
      for (const std::string& path : files) open_input(path, range);
    }
    arrange();
  }

  void open_input(const std::string& path, const PageRange& range) {
    try {
      const auto file = std::make_shared<const ScanFile>(path, settings_.limits);
      const size_t before = tasks_.size();
      for (int p = 1; p <= file->page_count(); ++p) {
        if (range.contains(p)) tasks_.push_back({file, p, false});
      }
      if (tasks_.size() == before) {
        fail(fmt::format("{}: none of its {} pages is in --pages {}", path, file->page_count(),
                         settings_.pages));
        return;
      }
      tasks_.back().last_of_file = true;
      files_.push_back(path);
    } catch (const Error& cause) {
      fail(cause.what());
    }
  }

  void look_for_text() const {
    for (const Task& task : tasks_) {
      if (task.file->is_pdf() &&
          read_pdf_text(task.file->path(), task.page, settings_.limits).has_value()) {
        throw InputError(fmt::format(
            "page {} of {} has real text already; nothing was done (--existing-text keep takes it "
            "as it is, replace reads the page anew)",
            task.page, task.file->path()));
      }
    }
  }

  // The scans as they are wanted: some replaced, all in the order asked for.
  void arrange() {
    for (const Replacement& wanted : settings_.delivery.replacements) {
      const size_t at = static_cast<size_t>(wanted.page - 1);
      if (at >= tasks_.size()) {
        throw SettingsError(fmt::format("--replace-page {}={}: there is no such page, there are {}",
                                        wanted.page, wanted.file, tasks_.size()));
      }
      tasks_[at].file = std::make_shared<const ScanFile>(wanted.file, settings_.limits);
      tasks_[at].page = 1;
    }
    if (settings_.delivery.order.empty()) return;
    std::vector<Task> ordered;
    for (const int page : page_order(settings_.delivery.order, static_cast<int>(tasks_.size())))
      ordered.push_back(tasks_[static_cast<size_t>(page - 1)]);
    tasks_ = std::move(ordered);
  }

  // Two inputs that would be written under one name are a mistake that costs one of them.
  void keep_names_apart() const {
    if (joined() && settings_.job_folder.empty()) return;
    std::map<std::string, std::string> taken;
    for (const std::string& path : files_) {
      const auto [place, fresh] = taken.emplace(stem_of(path), path);
      if (!fresh) {
        throw SettingsError(fmt::format(
            "{} and {} would both be written as {}; give them different names or folders",
            place->second, path, place->first));
      }
    }
  }

  Wanted wanted() const {
    Wanted all;
    if (!joined()) {
      for (const OutputKind kind : settings_.kinds) all.add(kind);
    } else {
      for (const std::string& path : settings_.outputs) all.add(output_kind_of(path));
    }
    return all;
  }

  void stream_pages(size_t side_by_side) {
    size_t task = 0;
    const Wanted needed = wanted();
    const auto next = [&](tbb::flow_control& flow) -> Task {
      if (task < tasks_.size()) return tasks_[task++];
      flow.stop();
      return {};
    };
    const auto work = [&](const Task& next_page) {
      auto done = std::make_shared<Done>();
      done->results = work_on(*next_page.file, next_page.page, *recogniser_, needed, settings_);
      done->file = next_page.file;
      done->last_of_file = next_page.last_of_file;
      return done;
    };
    tbb::parallel_pipeline(
        side_by_side + 1,
        tbb::make_filter<void, Task>(tbb::filter_mode::serial_in_order, next) &
            tbb::make_filter<Task, std::shared_ptr<Done>>(tbb::filter_mode::parallel, work) &
            tbb::make_filter<std::shared_ptr<Done>, void>(
                tbb::filter_mode::serial_in_order,
                [&](const std::shared_ptr<Done>& done) { take(*done); }));
  }

  void take(const Done& done) {
    if (!joined() && !opened_) {
      opened_file_ = done.file;
      open_documents(stem_of(done.results.front().report.file));
      opened_ = true;
      pages_in_documents_ = 0;
    }
    for (const PageResult& result : done.results) take(result);
    if (!joined() && done.last_of_file) write_waiting(0);
    progress_.advance("scans", ++scans_done_, static_cast<int>(tasks_.size()));
    if (!joined() && done.last_of_file) {
      close_documents(pages_in_documents_ > 0);
      opened_ = false;
    }
  }

  // Pages wait until their neighbours have shown what repeats from page to page.
  void take(const PageResult& result) {
    const PageReport& report = result.report;
    report_.pages.push_back(report);
    if (!report.failed) {
      waiting_.push_back({result.finished, report_.pages.size() - 1});
      Page& newest = waiting_.back().finished.page;
      layout::settle_kinds(newest);
      for (size_t i = 0; i + 1 < waiting_.size(); ++i)
        layout::mark_repeated(newest, waiting_[i].finished.page);
      write_waiting(kPagesAhead);
    }
    for (const std::string& note : report.notes) progress_.say(where(report) + ": " + note);
  }

  // Writes the pages that waited longest, until `left` are left.
  void write_waiting(size_t left) {
    while (waiting_.size() > left) {
      FinishedPage& page = waiting_.front().finished;
      PageReport& report = report_.pages[waiting_.front().report];
      const auto number = layout::printed_number(page.page);
      if (number) {
        report.printed_number = fmt::format("{}{}", number->value, number->roman ? " (roman)" : "");
      }
      numbered_.push_back({where(report), number});
      numbered_reports_.push_back(waiting_.front().report);
      put_into_job(page);
      if (settings_.delivery.drop_blank && page.blank) {
        progress_.say(where(report) + ": blank; left out");
        waiting_.pop_front();
        continue;
      }
      settings_.kinds_wanted.apply(page.page);
      held_ = held_ || !report.held.empty();
      for (auto& [path, document] : documents_) {
        try {
          if (document) document->add(page);
        } catch (const std::exception& cause) {
          fail(cause.what());
          document.reset();
        }
      }
      ++pages_in_documents_;
      waiting_.pop_front();
    }
    if (left > 0) return;
    for (const layout::SequenceBreak& found : layout::sequence_breaks(numbered_))
      report_.pages[numbered_reports_[found.page]].look.push_back(found.what);
    numbered_.clear();
    numbered_reports_.clear();
  }

  // PAGE XML beside the picture, with what a person decided about the page before.
  void put_into_job(FinishedPage& page) {
    if (settings_.job_folder.empty()) return;
    const correct::Outcome outcome = correct::apply_decisions(
        decisions_, [](size_t) { return Gray(); }, {&page.page}, decisions_taken_);
    for (const std::string& problem : outcome.problems) fail(decisions_path() + ", " + problem);
    const std::string path =
        (fs::path(settings_.job_folder) / (page_name_of(page.page) + ".xml")).string();
    write_file(path, write_page_xml(page.page, page.job_picture));
    page.page_file = path;
    page.picture_file = (fs::path(settings_.job_folder) / page.job_picture).string();
  }

  std::string decisions_path() const {
    return (fs::path(settings_.job_folder) / kDecisionsName).string();
  }

  static std::string where(const PageReport& report) {
    return report.number > 1 ? fmt::format("page {} of {}", report.number, report.file)
                             : report.file;
  }

  // The one PDF a document is made of, all of it and in its order: then text is added to that.
  std::string original() const {
    const Delivery& delivery = settings_.delivery;
    const bool rebuilt = delivery.face_chosen || delivery.pdf.archive || delivery.drop_blank ||
                         !delivery.order.empty() || !delivery.replacements.empty() ||
                         !settings_.pages.empty() ||
                         settings_.existing_text == ExistingText::kReplace;
    if (rebuilt || tasks_.empty() || (joined() && files_.size() != 1)) return "";
    const ScanFile& file = joined() ? *tasks_.front().file : *opened_file_;
    return file.is_pdf() ? file.path() : "";
  }

  void open_documents(const std::string& title) {
    documents_.clear();
    held_ = false;
    WantedDocuments wanted;
    for (const std::string& path : settings_.outputs)
      wanted.emplace_back(output_kind_of(path), path);
    if (!joined()) {
      for (OutputKind kind : settings_.kinds) {
        wanted.emplace_back(kind, (fs::path(settings_.output_folder) /
                                   (name_for(settings_.delivery.name, title) + ending_of(kind)))
                                      .string());
      }
    }
    const Origin origin{title, original(), settings_.limits.pdf_password, paths_of(wanted)};
    for (const auto& [kind, path] : in_finishing_order(wanted)) {
      try {
        documents_.emplace_back(path, new_document(kind, path, origin, settings_.delivery));
      } catch (const Error& cause) {
        fail(cause.what());
      }
    }
  }

  // What waits for a person goes into a folder of its own, so that nobody takes it for finished.
  void set_waiting(const std::string& path) {
    if (!joined()) {
      const fs::path folder = fs::path(settings_.output_folder) / "waiting";
      fs::create_directories(folder);
      report_.written.back() = (folder / fs::path(path).filename()).string();
      fs::rename(path, report_.written.back());
    }
    report_.waiting.push_back(report_.written.back());
  }

  // A document without a single good page is not written.
  void close_documents(bool keep) {
    for (auto& [path, document] : documents_) {
      if (!document || !keep) continue;
      try {
        document->finish();
        report_.written.push_back(path);
        if (held_) set_waiting(path);
        const std::string remark = document->remark();
        if (remark.empty()) continue;
        report_.remarks.emplace_back(report_.written.back(), remark);
        progress_.say(path + ": " + remark);
      } catch (const std::exception& cause) {
        fail(cause.what());
      }
    }
    documents_.clear();
  }

  void fail(const std::string& message) { report_.problems.push_back(message); }

  const RunSettings& settings_;
  Progress& progress_;
  std::vector<std::string> files_;
  std::vector<Task> tasks_;
  int scans_done_ = 0;
  const recognise::Recogniser* recogniser_ = nullptr;
  std::vector<std::pair<std::string, std::unique_ptr<Document>>> documents_;
  bool opened_ = false;
  std::shared_ptr<const ScanFile> opened_file_;  // of the document being written, in a folder
  bool held_ = false;  // a page of the document being written waits for a person
  std::vector<correct::Decision> decisions_;
  std::vector<bool> decisions_taken_;
  int pages_in_documents_ = 0;
  struct Waiting {
    FinishedPage finished;
    size_t report;  // place in the report's pages
  };
  std::deque<Waiting> waiting_;
  std::vector<layout::NumberedPage> numbered_;  // of the document being written
  std::vector<size_t> numbered_reports_;
  RunReport report_;
};

}  // namespace

bool RunReport::nothing_done() const {
  return written.empty();
}

bool RunReport::all_well() const {
  return problems.empty() && waiting.empty() &&
         std::all_of(pages.begin(), pages.end(),
                     [](const PageReport& p) { return p.look.empty(); });
}

RunReport run(const RunSettings& settings, Progress& progress) {
  return Runner(settings, progress).go();
}

}  // namespace burnisher::run
