// Another program run to its end, without a shell.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace burnisher {

struct ProcessResult {
  int exit_code = 0;            // 128 + n: ended by signal n
  std::vector<uint8_t> output;  // what it wrote to stdout
  std::string messages;         // and to stderr, its first 4,000 bytes
};

// How long another program may go on.
struct ProcessLimits {
  size_t most_output = 1 << 20;  // bytes of stdout after which it is ended
  double most_seconds = 0;       // after which it is ended; 0: any
  // Asked a few times a second: whether it is to end. It is told so (SIGTERM) and waited for; one
  // that does not obey within `grace` seconds is ended.
  std::function<bool()> cancelled = {};
  double grace = 600;
};
// As below; `exit_code` is that of a program that was ended, too.
ProcessResult run_process(const std::vector<std::string>& arguments, const ProcessLimits& limits);

// Runs `arguments[0]`, found on the PATH, with the others as its arguments and nothing on its
// stdin. `most_output`: bytes of stdout after which it is ended. Throws InputError when the program
// is not there or writes more.
ProcessResult run_process(const std::vector<std::string>& arguments, size_t most_output);

}  // namespace burnisher
