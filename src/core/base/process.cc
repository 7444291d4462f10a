#include "base/process.h"

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>

#include "base/error.h"

extern char** environ;

namespace burnisher {
namespace {

constexpr int kLookEvery = 200;         // ms
constexpr size_t kMostMessages = 4000;  // bytes; more says nothing new

// Both ends are closed on exec, so that no other child that is started meanwhile keeps them open.
struct Pipe {
  int read_end = -1, write_end = -1;
  Pipe() {
    int ends[2];
    if (pipe2(ends, O_CLOEXEC) != 0) throw InputError(std::string("no pipe: ") + strerror(errno));
    read_end = ends[0];
    write_end = ends[1];
  }
  ~Pipe() {
    close_write();
    if (read_end >= 0) close(read_end);
  }
  void close_write() {
    if (write_end >= 0) close(write_end);
    write_end = -1;
  }
};

pid_t start(const std::vector<std::string>& arguments, const Pipe& output, const Pipe& messages) {
  std::vector<char*> words;
  for (const std::string& argument : arguments)
    words.push_back(const_cast<char*>(argument.c_str()));
  words.push_back(nullptr);
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_addopen(&actions, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
  posix_spawn_file_actions_adddup2(&actions, output.write_end, STDOUT_FILENO);
  posix_spawn_file_actions_adddup2(&actions, messages.write_end, STDERR_FILENO);
  pid_t child = 0;
  const int failed = posix_spawnp(&child, words[0], &actions, nullptr, words.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  if (failed != 0) throw InputError(arguments[0] + ": cannot be started: " + std::strerror(failed));
  return child;
}

int exit_code_of(pid_t child) {
  int status = 0;
  while (waitpid(child, &status, 0) < 0 && errno == EINTR) {
  }
  return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
}

}  // namespace

ProcessResult run_process(const std::vector<std::string>& arguments, size_t most_output) {
  ProcessLimits limits;
  limits.most_output = most_output;
  return run_process(arguments, limits);
}

ProcessResult run_process(const std::vector<std::string>& arguments, const ProcessLimits& limits) {
  using Clock = std::chrono::steady_clock;
  Pipe output, messages;
  const pid_t child = start(arguments, output, messages);
  output.close_write();
  messages.close_write();
  ProcessResult result;
  bool too_much = false, told = false;
  const auto begun = Clock::now();
  auto told_at = begun;
  const auto since = [](Clock::time_point then) {
    return std::chrono::duration<double>(Clock::now() - then).count();
  };
  const bool watched = limits.cancelled || limits.most_seconds > 0;
  pollfd waiting[2] = {{output.read_end, POLLIN, 0}, {messages.read_end, POLLIN, 0}};
  while (waiting[0].fd >= 0 || waiting[1].fd >= 0) {
    if (poll(waiting, 2, watched ? kLookEvery : -1) < 0 && errno != EINTR) break;
    if ((limits.most_seconds > 0 && since(begun) > limits.most_seconds) ||
        (told && since(told_at) > limits.grace)) {
      // What it started itself may hold its output open for long.
      kill(child, SIGKILL);
      break;
    }
    if (!told && limits.cancelled && limits.cancelled()) {
      kill(child, SIGTERM);
      told = true;
      told_at = Clock::now();
    }
    char block[65536];
    for (int i = 0; i < 2; ++i) {
      if (waiting[i].fd < 0 || waiting[i].revents == 0) continue;
      const ssize_t got = read(waiting[i].fd, block, sizeof block);
      if (got < 0 && errno == EINTR) continue;
      if (got <= 0) {
        waiting[i].fd = -1;  // poll passes over it from now on
        continue;
      }
      const auto size = static_cast<size_t>(got);
      if (i == 0) {
        too_much = result.output.size() + size > limits.most_output;
        if (too_much) kill(child, SIGKILL);
        if (!too_much) result.output.insert(result.output.end(), block, block + size);
      } else if (result.messages.size() < kMostMessages) {
        result.messages.append(block, size);
      }
    }
    if (too_much) break;
  }
  result.exit_code = exit_code_of(child);
  if (too_much) throw InputError(arguments[0] + ": wrote more than it may and was ended");
  return result;
}

}  // namespace burnisher
