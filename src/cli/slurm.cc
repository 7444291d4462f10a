#include "cli/slurm.h"

#include <fmt/core.h>

#include <filesystem>
#include <sstream>
#include <vector>

#include "base/error.h"
#include "base/process.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

constexpr size_t kMostSaid = 1 << 16;  // bytes of sbatch's answer
constexpr int kSecondsToEnd = 60;      // before the time limit, for the pages in work

// For a POSIX shell.
std::string quoted(const std::string& text) {
  std::string result = "'";
  for (const char c : text) result += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return result + "'";
}

// Numbers of jobs may have a cluster's name behind a semicolon.
std::string submit_one(std::vector<std::string> arguments, const std::string& options,
                       const std::string& command) {
  std::istringstream more(options);
  for (std::string one; more >> one;) arguments.push_back(one);
  arguments.insert(arguments.begin(), {"sbatch", "--parsable"});
  arguments.insert(arguments.end(), {"--wrap", command});
  const ProcessResult result = run_process(arguments, kMostSaid);
  if (result.exit_code != 0)
    throw InputError(
        fmt::format("sbatch refused (exit code {}): {}", result.exit_code, result.messages));
  const std::string said(result.output.begin(), result.output.end());
  return said.substr(0, said.find_first_of(";\n"));
}

}  // namespace

Submitted submit(const std::string& job, const SlurmOptions& options) {
  const std::string folder = fs::absolute(job).lexically_normal().string();
  const std::string program = fs::read_symlink("/proc/self/exe").string();
  const fs::path log = fs::path(folder) / "log";
  fs::create_directories(log);
  Submitted submitted;
  // As many threads as Slurm gave processors; a worker that is to end is told in time.
  submitted.workers =
      submit_one({fmt::format("--array=1-{}", options.nodes), "--job-name=burnisher-work",
                  fmt::format("--signal=B:TERM@{}", kSecondsToEnd),
                  "--output=" + (log / "worker-%a.txt").string()},
                 options.options,
                 fmt::format("exec {} work {} --threads ${{SLURM_CPUS_ON_NODE:-1}}",
                             quoted(program), quoted(folder)));
  // After any end: what a worker that died left, the last step reads itself.
  submitted.delivery =
      submit_one({"--dependency=afterany:" + submitted.workers, "--job-name=burnisher-deliver",
                  "--output=" + (log / "delivery.txt").string()},
                 options.options,
                 fmt::format("exec {} run --job {} --threads ${{SLURM_CPUS_ON_NODE:-1}}",
                             quoted(program), quoted(folder)));
  return submitted;
}

}  // namespace burnisher::cli
