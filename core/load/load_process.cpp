// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_process.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <chrono>
#include <cmath>
#include <thread>
#include <vector>

#include "model/json.h"
#include "model/reading.h"
#include "system/clock.h"

extern char** environ;

namespace ash {
namespace {

constexpr double kPatienceS = 0.8;

std::vector<std::string> loadArguments(const std::string& program, const LoadOptions& options) {
  std::vector<std::string> arguments = {program,    "load",   options.kind,
                                        "--stream", "--duty", fmt::format("{}", options.dutyPercent)};
  if (options.threads > 0) {
    arguments.emplace_back("--threads");
    arguments.push_back(std::to_string(options.threads));
  }
  return arguments;
}

// Starts the program with its output in `pipeEnd`, in a process group of its own, so that Ctrl-C in a terminal reaches
// the recorder only, which then ends the load in order.
int spawn(const std::vector<std::string>& arguments, int pipeEnd, pid_t& pid) {
  std::vector<char*> raw;
  for (const std::string& argument : arguments) raw.push_back(const_cast<char*>(argument.c_str()));
  raw.push_back(nullptr);
  posix_spawn_file_actions_t files;
  posix_spawn_file_actions_init(&files);
  posix_spawn_file_actions_addopen(&files, 0, "/dev/null", O_RDONLY, 0);
  posix_spawn_file_actions_adddup2(&files, pipeEnd, 1);
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t none;
  sigemptyset(&none);
  posix_spawnattr_setsigmask(&attributes, &none);
  posix_spawnattr_setpgroup(&attributes, 0);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP | POSIX_SPAWN_SETSIGMASK);
  const int error = posix_spawn(&pid, arguments[0].c_str(), &files, &attributes, raw.data(), environ);
  posix_spawn_file_actions_destroy(&files);
  posix_spawnattr_destroy(&attributes);
  return error;
}

}  // namespace

LoadProcess::~LoadProcess() { stop(); }

Status LoadProcess::start(const std::string& program, const LoadOptions& options) {
  stop();
  int ends[2];
  if (pipe2(ends, O_CLOEXEC | O_NONBLOCK) != 0) return Error::io("make a pipe to", program, errno);
  const int error = spawn(loadArguments(program, options), ends[1], m_pid);
  close(ends[1]);
  if (error != 0) {
    close(ends[0]);
    m_pid = 0;
    return Error::io("start the load", program, error);
  }
  m_pipe = ends[0];
  m_buffer.clear();
  m_last = {};
  m_workRate = kMissing;
  m_hasFailed = false;
  m_failure.clear();
  return {};
}

void LoadProcess::stop() {
  if (m_pid > 0) {
    kill(m_pid, SIGTERM);
    const double startS = monotonicS();
    int status = 0;
    while (waitpid(m_pid, &status, WNOHANG) == 0) {
      if (monotonicS() - startS > kPatienceS) {
        kill(-m_pid, SIGKILL);
        waitpid(m_pid, &status, 0);
        break;
      }
      std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    m_pid = 0;
  }
  if (m_pipe >= 0) {
    readLines();
    if (m_pipe >= 0) close(m_pipe);
  }
  m_pipe = -1;
  m_workRate = 0;
}

void LoadProcess::poll() {
  if (m_pid <= 0) return;
  readLines();
  int status = 0;
  if (waitpid(m_pid, &status, WNOHANG) == m_pid) reap(status);
}

void LoadProcess::reap(int status) {
  readLines();
  m_pid = 0;
  m_workRate = 0;
  m_hasFailed = true;
  m_failure = WIFSIGNALED(status) ? fmt::format("The load was ended by signal {}.", WTERMSIG(status))
                                  : fmt::format("The load ended by itself with status {}.", WEXITSTATUS(status));
}

void LoadProcess::readLines() {
  std::array<char, 4096> chunk;
  while (m_pipe >= 0) {
    const ssize_t length = read(m_pipe, chunk.data(), chunk.size());
    if (length <= 0) break;
    m_buffer.append(chunk.data(), static_cast<size_t>(length));
  }
  for (size_t end = m_buffer.find('\n'); end != std::string::npos; end = m_buffer.find('\n')) {
    takeLine(m_buffer.substr(0, end));
    m_buffer.erase(0, end + 1);
  }
}

void LoadProcess::takeLine(const std::string& line) {
  const Json told = Json::parse(line, nullptr, false);
  if (!told.is_object()) return;
  const LoadProgress now{told.value("seconds", 0.0), told.value("work", 0.0), told.value("errors", 0LL)};
  if (now.seconds > m_last.seconds) m_workRate = (now.work - m_last.work) / (now.seconds - m_last.seconds);
  m_last = now;
}

}  // namespace ash
