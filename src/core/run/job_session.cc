#include "run/job_session.h"

#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/reading_version.h"
#include "base/unicode.h"
#include "pagefile/page_xml.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "run/left_behind.h"
#include "run/person_pages.h"
#include "run/sources.h"

namespace burnisher::run {
namespace {

namespace fs = std::filesystem;

const char* const kDecisionsName = "decisions.tsv";
constexpr int kPictureQuality = 88;  // JPEG: suspects are looked at in it, nothing is read from it
constexpr size_t kWrittenKept = 2;   // digests of a page's own PAGE XML
const char* const kRunClaim = "run";
constexpr double kPatience = 60;  // seconds, as Worker has it

std::string text_in(const std::string& path) {
  const auto bytes = read_file(path);
  return std::string(bytes.begin(), bytes.end());
}

void make_folder(const std::string& path) {
  std::error_code status;
  fs::create_directories(path, status);
  if (status) throw OutputError(path + ": the folder cannot be made: " + status.message());
}

// Whether somebody else changed a page's own PAGE XML since this program wrote it.
bool another_wrote(const job::PageRecord& page, const std::string& path) {
  const job::FileStamp stamp = job::stamp_of(path);
  return stamp.there() && !(stamp == page.stamp) &&
         std::find(page.written.begin(), page.written.end(), job::digest_of_file(path)) ==
             page.written.end();
}

}  // namespace

const char* words_for(Standing standing) {
  switch (standing) {
    case Standing::kUpToDate:
      return "up to date";
    case Standing::kPerson:
      return "changed by a person";
    case Standing::kNew:
      return "new";
    case Standing::kScan:
      return "replaced";
    case Standing::kSettings:
      return "set otherwise";
    case Standing::kModels:
      return "read with other models";
    case Standing::kProgram:
      return "read by an earlier version";
    case Standing::kFailed:
      return "failed before";
    case Standing::kMissing:
      return "result missing";
    case Standing::kAfresh:
      return "done afresh";
  }
  return "";
}

JobSession::JobSession(const RunSettings& settings, const RunTools& tools, const ScanList& scans,
                       Use use)
    : settings_(settings),
      scans_(scans),
      folder_(settings.job_folder),
      delivery_(delivery_settings_text(settings, tools)) {
  if (use != Use::kLook) {
    make_folder(folder_);
    make_folder((fs::path(folder_) / "read").string());
    worker_ = std::make_unique<job::Worker>(folder_, use == Use::kRun ? "run" : "work");
    begun_ = job::stamp_of(path_of("workers/" + worker_->name() + ".json"));
  }
  if (use == Use::kRun) {
    std::string holder;
    alone_ = worker_->claim(kRunClaim, &holder);
    if (!alone_)
      throw SettingsError(
          fmt::format("{}: another run is at work on this job ({})", folder_, holder));
    job::sweep_workers(folder_, kPatience);
    sweep_left_behind(folder_);
    sweep_left_behind((fs::path(folder_) / "read").string());
  }
  if (auto file = job::job_file_in(folder_)) file_ = std::move(*file);
  common_.settings = job::digest_of(reading_settings_text(settings));
  common_.models = models_digest(settings);
  common_.program = reading_version();
  const std::string decisions = path_of(kDecisionsName);
  std::error_code status;
  if (fs::exists(decisions, status)) {
    decisions_ = correct::read_decisions(decisions);
    decisions_digest_ = job::digest_of_file(decisions);
  }
  note_scans();
  if (use == Use::kRun) {
    set_gone_aside();
    write_job();
  }
}

JobSession::~JobSession() = default;

std::string JobSession::path_of(const std::string& name) const {
  return (fs::path(folder_) / name).string();
}

std::string JobSession::read_path(const std::string& name) const {
  return (fs::path(folder_) / "read" / name).string();
}

std::string JobSession::record_path(const ScanTask& task) const {
  return read_path(scan_name_of(task) + ".json");
}

// Files that are as they were when they were last looked at keep their digests.
void JobSession::note_scans() {
  std::map<std::string, job::ScanSource> known;
  for (job::ScanSource& scan : file_.scans) known[scan.file] = std::move(scan);
  file_.scans.clear();
  for (const ScanTask& task : scans_.tasks) {
    const std::string& path = task.file->path();
    if (scan_digests_.count(path) > 0) continue;
    const std::string file = relative_path(path, folder_);
    const job::FileStamp stamp = job::stamp_of(path);
    const auto before = known.find(file);
    const bool same = before != known.end() && before->second.stamp == stamp;
    const std::string digest = same ? before->second.digest : job::digest_of_file(path);
    scan_digests_[path] = digest;
    file_.scans.push_back({file, stamp, digest, task.file->page_count()});
    const auto own = settings_.fields_by_file.find(fs::path(path).filename().string());
    if (own != settings_.fields_by_file.end()) file_.scans.back().fields = own->second;
  }
  file_.order.clear();
  for (const ScanTask& task : scans_.tasks) file_.order.push_back(scan_name_of(task));
}

void JobSession::write_job() {
  file_.inputs.clear();
  for (const std::string& input : settings_.inputs)
    file_.inputs.push_back(relative_path(input, folder_));
  file_.settings = settings_.given;
  file_.fields = settings_.fields;
  write_file(path_of("job.json"), job::written_job(file_));
}

// Pages of scans that are no longer among the inputs go; a person's work on them is kept. Pages
// that a range leaves out stay, and so does everything where an input could not be opened: it may
// be back tomorrow.
void JobSession::set_gone_aside() {
  if (!scans_.problems.empty()) return;
  std::vector<std::string> wanted;
  const ScanFile* last = nullptr;
  for (const ScanTask& task : scans_.tasks) {
    if (task.file.get() == last) continue;
    last = task.file.get();
    for (int page = 1; page <= last->page_count(); ++page)
      wanted.push_back(scan_name_of({task.file, page, false}));
  }
  std::sort(wanted.begin(), wanted.end());
  std::error_code status;
  std::vector<std::string> gone;
  for (const auto& entry : fs::directory_iterator(fs::path(folder_) / "read", status)) {
    if (entry.path().extension() != ".json") continue;
    const std::string name = stem_of(entry.path().string());
    if (!std::binary_search(wanted.begin(), wanted.end(), name)) gone.push_back(name);
  }
  for (const std::string& name : gone) {
    bool person = false;
    try {
      const job::ScanRecord record = job::read_record(text_in(read_path(name + ".json")));
      for (const job::PageRecord& page : record.pages) {
        const std::string file = path_of(name + side_suffix(page.part) + ".xml");
        person = person || page.person || another_wrote(page, file);
      }
    } catch (const Error&) {
      // What cannot be read tells nothing.
    }
    for (const char* suffix : {"", "-left", "-right"}) {
      const std::string page = name + suffix;
      unlink(read_path(page + ".xml").c_str());
      for (const char* ending : {".xml", ".jpg", ".png"}) {
        const std::string file = path_of(page + ending);
        if (!fs::exists(file, status)) continue;
        if (person) {
          make_folder(path_of("removed"));
          fs::rename(file, fs::path(folder_) / "removed" / (page + ending), status);
        } else {
          unlink(file.c_str());
        }
      }
    }
    unlink(read_path(name + ".json").c_str());
  }
}

job::Sources JobSession::sources_of(const ScanTask& task) const {
  job::Sources sources = common_;
  sources.scan = fmt::format("{} {}", scan_digests_.at(task.file->path()), task.page);
  for (const ScanPlace& place : task.beside)
    sources.scan += fmt::format(" beside {} {}", scan_digests_.at(place.file->path()), place.page);
  const auto wish = file_.wishes.find(scan_name_of(task));
  if (wish != file_.wishes.end() && wish->second.turn)
    sources.settings += fmt::format(" turn {}", *wish->second.turn);
  return sources;
}

StageSettings JobSession::stages_of(const ScanTask& task) const {
  StageSettings stages = settings_.stages;
  const auto wish = file_.wishes.find(scan_name_of(task));
  if (wish != file_.wishes.end() && wish->second.turn) {
    stages.clean.turn = *wish->second.turn;
    stages.upright.try_turns = false;
  }
  return stages;
}

bool JobSession::left_out(const Page& page) const {
  const auto wish = file_.wishes.find(page_name_of(page));
  return wish != file_.wishes.end() && wish->second.leave_out;
}

ScanStanding JobSession::standing_of(const ScanTask& task) const {
  ScanStanding result;
  const std::string path = record_path(task);
  std::error_code status;
  if (!fs::exists(path, status)) return result;
  try {
    result.record = job::read_record(text_in(path));
  } catch (const Error&) {
    result.standing = Standing::kMissing;
    return result;
  }
  const job::ScanRecord& record = *result.record;
  const job::Sources now = sources_of(task);
  bool person = false, there = true;
  for (const job::PageRecord& page : record.pages) {
    const std::string name = name_with_part(task, page.part);
    there = there && fs::exists(read_path(name + ".xml"), status);
    person = person || page.person || another_wrote(page, path_of(name + ".xml"));
  }
  if (settings_.afresh)
    result.standing = Standing::kAfresh;
  else if (record.sources.scan != now.scan)
    result.standing = Standing::kScan;
  else if (!record.failure.empty())
    result.standing = Standing::kFailed;
  else if (!there)
    result.standing = Standing::kMissing;
  else if (person)  // whatever else changed: a person's page is not read again
    result.standing = Standing::kPerson;
  else if (record.sources.program != now.program && !settings_.as_read)
    result.standing = Standing::kProgram;
  else if (record.sources.models != now.models && !settings_.as_read)
    result.standing = Standing::kModels;
  else if (record.sources.settings != now.settings)
    result.standing = Standing::kSettings;
  else
    result.standing = Standing::kUpToDate;
  return result;
}

bool JobSession::settled(const ScanTask& task) const {
  const ScanStanding standing = standing_of(task);
  if (standing.up_to_date()) return true;
  return standing.standing == Standing::kFailed &&
         job::stamp_of(record_path(task)).modified > begun_.modified;
}

std::map<Standing, int> JobSession::plan() const {
  std::map<Standing, int> counts;
  for (const ScanTask& task : scans_.tasks) ++counts[standing_of(task).standing];
  return counts;
}

std::string JobSession::plan_text() const {
  int ready = 0, due = 0, person = 0;
  std::string why;
  for (const auto& [standing, count] : plan()) {
    if (standing == Standing::kUpToDate) {
      ready += count;
    } else if (standing == Standing::kPerson) {
      person = count;
    } else {
      due += count;
      why += fmt::format("{}{} {}", why.empty() ? "" : ", ", count, words_for(standing));
    }
  }
  std::string text = fmt::format("{} {}: {} up to date", scans_.tasks.size(),
                                 scans_.tasks.size() == 1 ? "scan" : "scans", ready);
  if (person > 0) text += fmt::format(", {} as a person left them", person);
  if (due > 0) text += fmt::format(", {} to read ({})", due, why);
  return text;
}

ReadScan JobSession::take_up(const ScanTask& task, const job::ScanRecord& record,
                             std::vector<bool>& changed) const {
  ReadScan read;
  read.turn = record.turn;
  read.turn_confidence = record.turn_confidence;
  read.misfits = record.misfits;
  read.seconds = record.seconds;
  read.kept = record.kept;
  for (const job::PageRecord& one : record.pages) {
    const std::string name = name_with_part(task, one.part);
    const std::string text = text_in(read_path(name + ".xml"));
    if (job::digest_of(text) != one.reading)
      throw FormatError(read_path(name + ".xml") + ": is not as it was put down");
    ReadPage page;
    page.page = read_page_xml(text, read_path(name + ".xml")).page;
    page.blank = one.blank;
    page.other_side = one.other_side;
    page.unread = one.unread;
    page.skew = one.skew;
    page.perspective = one.perspective;
    page.curl = one.curl;
    page.notes = one.notes;
    page.person = one.person;
    const std::string own = path_of(name + ".xml");
    const bool other = another_wrote(one, own);
    if (other) {
      Page persons = read_page_xml_file(own).page;
      take_persons_word(page.page, persons);
      // Where the page lies in its scan is nothing that a person changes.
      persons.geometry = page.page.geometry;
      persons.cleaning = page.page.cleaning;
      persons.file = page.page.file;
      persons.number = page.page.number;
      persons.part = page.page.part;
      persons.dpi = page.page.dpi;
      page.page = std::move(persons);
      page.person = true;
      page.blank = page.other_side = false;
      page.unread.clear();
    }
    page.page.file = task.file->path();  // the folder may have been moved
    changed.push_back(other);
    read.pages.push_back(std::move(page));
  }
  return read;
}

void JobSession::put_down(const ScanTask& task, ReadScan& read, const std::string& failure) const {
  job::ScanRecord record;
  ScanStanding before = standing_of(task);
  if (before.record && before.standing != Standing::kPerson) put_aside(*before.record, task);
  record.sources = sources_of(task);
  record.failure = failure;
  record.turn = read.turn;
  record.turn_confidence = read.turn_confidence;
  record.misfits = read.misfits;
  record.seconds = read.seconds;
  record.kept = read.kept;
  for (ReadPage& page : read.pages) {
    const std::string name = name_with_part(task, page.page.part);
    page.page.relative_file = relative_path(page.page.file, read_path(""));
    const std::string text = write_page_xml(page.page, name + ".jpg");
    write_file(read_path(name + ".xml"), text);
    // From here on the page is what the file says, whether this run goes on with it or a later one.
    page.page = read_page_xml(text, name).page;
    page.page.file = task.file->path();
    job::PageRecord one;
    one.part = page.page.part;
    one.reading = job::digest_of(text);
    one.person = page.person;
    one.blank = page.blank;
    one.other_side = page.other_side;
    one.unread = page.unread;
    one.skew = page.skew;
    one.perspective = page.perspective;
    one.curl = page.curl;
    one.notes = page.notes;
    const std::string own = path_of(name + ".xml");
    const job::FileStamp stamp = job::stamp_of(own);
    if (page.person && stamp.there()) {
      // It is what this reading was made of.
      one.stamp = stamp;
      one.written = {job::digest_of_file(own)};
    } else if (before.record) {
      for (const job::PageRecord& old : before.record->pages)
        if (old.part == one.part) one.written = old.written, one.stamp = old.stamp;
    }
    record.pages.push_back(std::move(one));
  }
  write_file(record_path(task), job::written_record(record));
}

// A person's pages of a scan that is another now.
void JobSession::put_aside(const job::ScanRecord& record, const ScanTask& task) const {
  std::error_code status;
  for (const job::PageRecord& page : record.pages) {
    const std::string name = name_with_part(task, page.part), own = path_of(name + ".xml");
    if (!fs::exists(own, status)) continue;
    if (!page.person && !another_wrote(page, own)) continue;
    make_folder(path_of("removed"));
    fs::rename(own, fs::path(folder_) / "removed" / (name + ".xml"), status);
  }
}

std::string JobSession::keep_picture(const Picture& picture, const Page& page) const {
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  const std::string name = page_name_of(page) + (bitonal ? ".png" : ".jpg");
  if (bitonal)
    write_file(path_of(name), write_png(picture, page.dpi));
  else if (const auto* gray = std::get_if<Gray>(&picture))
    write_file(path_of(name), write_jpeg(*gray, kPictureQuality, JpegEffort::kQuick));
  else
    write_file(path_of(name),
               write_jpeg(std::get<Colour>(picture), kPictureQuality, JpegEffort::kQuick));
  return name;
}

bool JobSession::has_picture(const Page& page, std::string& name) const {
  std::error_code status;
  for (const char* ending : {".jpg", ".png"}) {
    name = page_name_of(page) + ending;
    if (fs::exists(path_of(name), status)) return true;
  }
  return false;
}

std::vector<std::string> JobSession::keep(FinishedPage& page, const PageReport& report) {
  const correct::Outcome outcome = correct::apply_decisions(
      decisions_, [](size_t) { return Gray(); }, {&page.page}, decisions_taken_);
  std::vector<std::string> problems;
  for (const std::string& problem : outcome.problems)
    problems.push_back(path_of(kDecisionsName) + ", " + problem);
  page.page.relative_file = relative_path(page.page.file, folder_);
  const std::string name = page_name_of(page.page), path = path_of(name + ".xml");
  const std::string text = write_page_xml(page.page, page.job_picture),
                    digest = job::digest_of(text);
  page.page_file = path;
  if (!page.job_picture.empty()) page.picture_file = path_of(page.job_picture);
  const std::string record_file = read_path(
      fmt::format("{}-{:04}.json", sound_utf8(stem_of(page.page.file)), page.page.number));
  std::error_code status;
  job::ScanRecord record;
  if (fs::exists(record_file, status)) record = job::read_record(text_in(record_file));
  const auto own = std::find_if(record.pages.begin(), record.pages.end(),
                                [&](const auto& one) { return one.part == page.page.part; });
  if (own == record.pages.end()) {  // its record could not be put down
    write_file(path, text);
    return problems;
  }
  // First the record, then the file: a run that ends between the two finds either of them.
  const bool same = !own->written.empty() && own->written.front() == digest &&
                    own->stamp == job::stamp_of(path) && own->stamp.there();
  own->words = report.words;
  own->suspects = report.suspects;
  own->held = report.held;
  own->look = report.look;
  if (!same) {
    own->written.insert(own->written.begin(), digest);
    if (own->written.size() > kWrittenKept) own->written.resize(kWrittenKept);
    write_file(record_file, job::written_record(record));
    write_file(path, text);
    own->stamp = job::stamp_of(path);
  }
  write_file(record_file, job::written_record(record));
  return problems;
}

}  // namespace burnisher::run
