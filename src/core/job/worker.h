// Who is at work on a job, and who takes which scans: files in the job's folder, made with one
// atomic step each (a hard link), so that machines that share nothing but the folder can share the
// work. No daemon holds locks. Whatever goes wrong here costs time only: two workers that read the
// same page write the same bytes.
//
// A worker is a file `workers/HOST-PID-START.json` that is written anew every few seconds. A claim
// is a file `claims/NAME.N`: the highest N that is there counts; a claim whose worker is gone is
// outbid by N + 1, which only one can make.
#pragma once

#include <atomic>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

namespace burnisher::job {

struct WorkerState {
  std::string name;  // of its file, without ending
  std::string host;
  long pid = 0;
  std::string started;       // that process, as the kernel counts: tells it from a later one
  std::string doing;         // "run" or "work"
  long since = 0;            // seconds since 1970
  long done = 0, total = 0;  // scans, those that were there already left out
  double age = 0;            // seconds since it last gave a sign; of others, by the folder's clock
  bool alive = true;
};

// All that have a file. Without a sign for `patience` seconds a worker counts as gone; on this
// machine at once when its process is.
std::vector<WorkerState> workers_of(const std::string& folder, double patience);

// Takes away the files of workers that are gone, and their claims.
void sweep_workers(const std::string& folder, double patience);

class Worker {
 public:
  // Makes the folders and the worker's file. Throws OutputError. `beat`: seconds between signs;
  // `patience`: see workers_of.
  Worker(std::string folder, std::string doing, double beat = 5, double patience = 60);
  ~Worker();  // takes its file away
  Worker(const Worker&) = delete;
  Worker& operator=(const Worker&) = delete;

  const std::string& name() const { return state_.name; }
  void progress(long done, long total);

  // A claim this worker holds; given back at the end of its life.
  class Claim {
   public:
    explicit Claim(std::string path) : path_(std::move(path)) {}
    ~Claim();
    Claim(Claim&& other) noexcept : path_(std::move(other.path_)) { other.path_.clear(); }
    Claim& operator=(Claim&& other) noexcept {
      std::swap(path_, other.path_);
      return *this;
    }

   private:
    std::string path_;
  };
  // Nothing while another living worker holds it; `holder` is then that worker's name.
  std::optional<Claim> claim(const std::string& name, std::string* holder = nullptr);

 private:
  void write();
  bool gone(const std::string& worker);

  std::string folder_;
  double beat_, patience_;
  WorkerState state_;
  std::mutex guard_;
  std::atomic<bool> ending_{false};
  std::thread heart_;
};

}  // namespace burnisher::job
