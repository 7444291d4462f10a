// A run's dealings with its job: what is up to date, what is to be done and why, and putting down
// what was done.
//
// The job's folder holds, for a page NAME-0007 of a scan:
//   NAME-0007.xml     the page as documents show it; persons and other programs may change it
//   NAME-0007.jpg     its picture, .png where it is bitonal
//   read/NAME-0007.xml    what the stages read, before anything was corrected
//   read/NAME-0007.json   what that was made from (job/record.h), for both pages of a spread
// and job.json (job/job_file.h), decisions.tsv, workers/ and claims/ (job/worker.h), and in
// removed/ what a person had changed on pages that are gone.
#pragma once

#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "correct/decisions.h"
#include "job/job_file.h"
#include "job/record.h"
#include "job/worker.h"
#include "run/document_set.h"
#include "run/documents.h"
#include "run/job_names.h"
#include "run/read_scan.h"
#include "run/run.h"
#include "run/scan_list.h"

namespace burnisher::run {

// Why a scan is read, or why not.
enum class Standing {
  kUpToDate,
  kPerson,    // read, and changed by a person since: only what that asks for is done
  kNew,       // never read
  kScan,      // its file is another
  kSettings,  // cleaning, layout or reading were set otherwise
  kModels,    // other models read
  kProgram,   // the program reads otherwise since
  kFailed,    // it could not be read
  kMissing,   // its result is gone or broken
  kAfresh,    // everything is done anew
};
const char* words_for(Standing standing);

// Where one scan of a job stands.
struct ScanStanding {
  Standing standing = Standing::kNew;
  std::optional<job::ScanRecord> record;
  bool up_to_date() const {
    return standing == Standing::kUpToDate || standing == Standing::kPerson;
  }
};

class JobSession {
 public:
  enum class Use {
    kRun,   // alone: delivers, and brings the job's file up to date
    kWork,  // reads scans beside others
    kLook,  // changes nothing
  };
  // Makes the folder where it is not there. Throws OutputError; FormatError for a job or decisions
  // that cannot be read; SettingsError where another run is at work (kRun). All must outlive it.
  JobSession(const RunSettings& settings, const RunTools& tools, const ScanList& scans, Use use);
  ~JobSession();

  // How often each standing occurs.
  std::map<Standing, int> plan() const;
  ScanStanding standing_of(const ScanTask& task) const;
  // Nothing is left to do for a worker: read, or tried since this session began.
  bool settled(const ScanTask& task) const;
  // One line for the person in front, as "120 scans: 118 up to date, 2 to read (1 new, 1
  // replaced)".
  std::string plan_text() const;

  // The settings with which a scan is read: the run's, and what a person said of it.
  StageSettings stages_of(const ScanTask& task) const;
  // Whether a person said that the page is to be in no document.
  bool left_out(const Page& page) const;

  // What was read before, as the files have it now; with a person's changes, `changed` tells for
  // which pages.
  ReadScan take_up(const ScanTask& task, const job::ScanRecord& record,
                   std::vector<bool>& changed) const;
  // Puts down what was read. Throws OutputError.
  void put_down(const ScanTask& task, ReadScan& read, const std::string& failure = "") const;

  // The page's picture; returns the file's name. Throws OutputError.
  std::string keep_picture(const Picture& picture, const Page& page) const;
  bool has_picture(const Page& page, std::string& name) const;
  // What a person decided about the page is done, and its PAGE XML written beside its picture.
  // Returns what did not fit. Throws OutputError.
  std::vector<std::string> keep(FinishedPage& page, const PageReport& report);

  // Whether these documents are there as they would be made now of all scans, or of those of one
  // file (`scan`; "": all). `remember` puts down that they are, or that pages are missing in them
  // (`whole` false); `announce`, that they are about to be written: a run that is killed then must
  // not take its own file for another's.
  bool up_to_date(const std::vector<std::string>& documents, const std::string& scan) const;
  // Takes away what a killed run left of a document that is going to be written.
  void sweep_beside(const std::string& document) const;
  void announce(const std::vector<std::string>& documents);
  void remember(const std::vector<DocumentSet::Written>& documents, const std::string& scan,
                bool whole);
  // Whether the job itself wrote that file as it is now, so that it may be replaced.
  bool wrote(const std::string& path) const;

  job::Worker& worker() const { return *worker_; }  // not with kLook

 private:
  std::string path_of(const std::string& name) const;
  std::string read_path(const std::string& name) const;
  std::string record_path(const ScanTask& task) const;
  job::Sources sources_of(const ScanTask& task) const;
  std::string made_of(const std::string& scan) const;
  void note_scans();
  void set_gone_aside();
  void put_aside(const job::ScanRecord& record, const ScanTask& task) const;
  void write_job();
  job::MadeDocument& note_document(const std::string& path, const job::FileStamp& stamp,
                                   const std::string& made);

  const RunSettings& settings_;
  const ScanList& scans_;
  std::string folder_, delivery_;
  job::JobFile file_;
  std::map<std::string, std::string> scan_digests_;  // by path
  job::Sources common_;
  std::vector<correct::Decision> decisions_;
  std::vector<bool> decisions_taken_;
  std::string decisions_digest_;
  job::FileStamp begun_;
  std::unique_ptr<job::Worker> worker_;
  std::optional<job::Worker::Claim> alone_;
};

}  // namespace burnisher::run
