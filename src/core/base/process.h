// Another program run to its end, without a shell.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace burnisher {

struct ProcessResult {
  int exit_code = 0;            // 128 + n: ended by signal n
  std::vector<uint8_t> output;  // what it wrote to stdout
  std::string messages;         // and to stderr, its first 4,000 bytes
};

// Runs `arguments[0]`, found on the PATH, with the others as its arguments and nothing on its
// stdin. `most_output`: bytes of stdout after which it is ended. Throws InputError when the program
// is not there or writes more.
ProcessResult run_process(const std::vector<std::string>& arguments, size_t most_output);

}  // namespace burnisher
