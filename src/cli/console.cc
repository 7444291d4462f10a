#include "cli/console.h"

#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <csignal>
#include <cstdio>

namespace burnisher::cli {
namespace {

constexpr int kBarWidth = 28;                // characters
constexpr double kSecondsBetweenLines = 10;  // where there is no terminal to redraw a bar on

std::string duration(double seconds) {
  const long s = std::lround(seconds);
  if (s < 90) return fmt::format("{} s", s);
  if (s < 5400) return fmt::format("{} min", (s + 30) / 60);
  return fmt::format("{:.1f} h", static_cast<double>(s) / 3600);
}

double since(std::chrono::steady_clock::time_point then) {
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - then).count();
}

volatile std::sig_atomic_t interrupted = 0;

void note_interruption(int signal) {
  if (interrupted != 0) _exit(128 + signal);
  interrupted = 1;
}

}  // namespace

void catch_interruptions() {
  struct sigaction action {};
  action.sa_handler = note_interruption;
  action.sa_flags = SA_RESTART;
  sigaction(SIGINT, &action, nullptr);
  sigaction(SIGTERM, &action, nullptr);
}

bool Console::cancelled() const {
  return interrupted != 0;
}

Console::Console()
    : terminal_(isatty(STDERR_FILENO) != 0),
      started_(std::chrono::steady_clock::now()),
      last_line_(started_) {}

void Console::clear_bar() {
  if (bar_shown_) std::fputs("\r\033[K", stderr);
  bar_shown_ = false;
}

void Console::advance(const std::string& what, double done, double total) {
  const std::lock_guard<std::mutex> lock(guard_);
  if (quiet_ || total <= 0) return;
  if (first_done_ < 0) {  // work that goes on from earlier does not count for the pace
    first_done_ = done <= 1 ? 0 : done;
    first_at_ = done <= 1 ? started_ : std::chrono::steady_clock::now();
  }
  const double pace = since(first_at_) / std::max(done - first_done_, 1e-9);
  const bool going = done > first_done_;
  const std::string left =
      done >= total ? "done in " + duration(since(started_))
      : going ? fmt::format("{:.0f} a minute, {} left", 60 / pace, duration(pace * (total - done)))
              : "just started";
  if (terminal_) {
    const int filled = static_cast<int>(kBarWidth * done / total);
    const std::string bar = std::string(static_cast<size_t>(filled), '#') +
                            std::string(static_cast<size_t>(kBarWidth - filled), '.');
    fmt::print(stderr, "\r\033[K{:.0f} of {:.0f} {}  {}  {}", done, total, what, bar, left);
    bar_shown_ = true;
    if (done >= total) {
      std::fputc('\n', stderr);
      bar_shown_ = false;
    }
    std::fflush(stderr);
  } else if (done >= total || since(last_line_) > kSecondsBetweenLines) {
    fmt::print(stderr, "{:.0f} of {:.0f} {}, {}\n", done, total, what, left);
    last_line_ = std::chrono::steady_clock::now();
  }
}

void Console::warn(const std::string& message) {
  const std::lock_guard<std::mutex> lock(guard_);
  clear_bar();
  fmt::print(stderr, "burnisher: {}\n", message);
}

void Console::point_out(const std::string& message) {
  const std::lock_guard<std::mutex> lock(guard_);
  clear_bar();
  fmt::print(stderr, "{}\n", message);
}

void Console::say(const std::string& message) {
  const std::lock_guard<std::mutex> lock(guard_);
  if (quiet_) return;
  clear_bar();
  fmt::print(stderr, "{}\n", message);
}

}  // namespace burnisher::cli
