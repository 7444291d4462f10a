#include "background_program.h"

#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <filesystem>
#include <stdexcept>
#include <thread>

#include "program.h"

namespace burnisher::tests {

BackgroundProgram::~BackgroundProgram() {
  stop(SIGKILL);
}

void BackgroundProgram::start(const std::string& arguments) {
  std::filesystem::remove(folder_.file("log.txt"));
  child_ = fork();
  if (child_ < 0) throw std::runtime_error("no process could be started");
  if (child_ > 0) return;
  const int log = open(folder_.file("log.txt").c_str(), O_WRONLY | O_CREAT | O_APPEND, 0644);
  dup2(log, STDOUT_FILENO);
  dup2(log, STDERR_FILENO);
  if (chdir(folder_.path().c_str()) != 0) _exit(1);
  execl("/bin/sh", "sh", "-c",
        ("BURNISHER_MODELS=" BURNISHER_MODELS_FOLDER " exec " BURNISHER_PROGRAM " " + arguments)
            .c_str(),
        nullptr);
  _exit(1);
}

int BackgroundProgram::stop(int signal) {
  if (child_ <= 0) return -1;
  kill(child_, signal);
  int status = 0;
  waitpid(child_, &status, 0);
  child_ = 0;
  return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
}

std::string BackgroundProgram::log() const {
  const std::string path = folder_.file("log.txt");
  return std::filesystem::exists(path) ? content_of(path) : "";
}

bool until(const std::function<bool()>& so) {
  for (int i = 0; i < 600 && !so(); ++i) std::this_thread::sleep_for(std::chrono::milliseconds(50));
  return so();
}

}  // namespace burnisher::tests
