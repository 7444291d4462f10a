// Work handed to Slurm, the batch system: an array of workers, and a last step that delivers when
// they have ended.
#pragma once

#include <string>

namespace burnisher::cli {

struct SlurmOptions {
  int nodes = 2;        // workers
  std::string options;  // more for sbatch, as on its command line
};

struct Submitted {
  std::string workers, delivery;  // Slurm's numbers of the two jobs
};

// `job`: a folder that all machines see, with a job prepared in it. What the workers say goes into
// its folder log/. Throws InputError where sbatch is missing or refuses.
Submitted submit(const std::string& job, const SlurmOptions& options);

}  // namespace burnisher::cli
