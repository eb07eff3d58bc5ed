// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/command_load.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <thread>

#include "model/text.h"
#include "system/clock.h"

extern char** environ;

namespace ash {
namespace {

constexpr double kPatienceS = 0.3;
constexpr size_t kLongestLine = 10'000;          // a line that never ends is cut
constexpr size_t kReadAtMost = size_t{1} << 20;  // at once
constexpr size_t kShownOfLine = 160;

pid_t parentOf(pid_t pid) {
  std::ifstream file(fmt::format("/proc/{}/stat", pid));
  std::string stat;
  std::getline(file, stat);
  // The name in brackets may hold anything (proc(5)).
  const size_t bracket = stat.rfind(')');
  if (bracket == std::string::npos || bracket + 4 >= stat.size()) return 0;
  const size_t space = stat.find(' ', bracket + 4);
  return static_cast<pid_t>(parseNumber(stat.substr(bracket + 4, space - bracket - 4)).value_or(0));
}

std::vector<pid_t> descendants() {
  std::map<pid_t, pid_t> parents;
  std::error_code error;
  for (std::filesystem::directory_iterator it("/proc", error), end; !error && it != end; it.increment(error)) {
    const auto pid = parseNumber(it->path().filename().string());
    if (pid && *pid > 1) parents[static_cast<pid_t>(*pid)] = parentOf(static_cast<pid_t>(*pid));
  }
  std::vector<pid_t> found;
  for (const auto& [pid, parent] : parents) {
    pid_t above = parent;
    for (int steps = 0; steps < 100 && above > 1 && above != getpid(); ++steps) {
      const auto next = parents.find(above);
      above = next == parents.end() ? 0 : next->second;
    }
    if (above == getpid()) found.push_back(pid);
  }
  return found;
}

std::vector<std::string> environmentWith(const std::map<std::string, std::string>& more) {
  std::vector<std::string> all;
  for (char** entry = environ; *entry != nullptr; ++entry) {
    const std::string text = *entry;
    if (!more.contains(text.substr(0, text.find('=')))) all.push_back(text);
  }
  for (const auto& [name, value] : more) all.push_back(name + "=" + value);
  return all;
}

std::vector<char*> pointersTo(std::vector<std::string>& texts) {
  std::vector<char*> pointers;
  for (std::string& text : texts) pointers.push_back(text.data());
  pointers.push_back(nullptr);
  return pointers;
}

std::map<std::string, std::regex> compiled(const std::map<std::string, std::string>& patterns) {
  std::map<std::string, std::regex> all;
  for (const auto& [name, pattern] : patterns) all.emplace(name, std::regex(pattern, std::regex::optimize));
  return all;
}

void match(const std::map<std::string, std::regex>& patterns, const std::string& line,
           std::map<std::string, double>& values) {
  for (const auto& [name, pattern] : patterns) {
    std::smatch found;
    if (!std::regex_search(line, found, pattern)) continue;
    std::string number = found[1].str();
    std::replace(number.begin(), number.end(), ',', '.');
    if (const auto value = parseNumber(number)) values[name] = *value;
  }
}

}  // namespace

CommandLoad::CommandLoad(LoadOptions options)
    : m_options(std::move(options)),
      m_scorePatterns(compiled(m_options.scores)),
      m_livePatterns(compiled(m_options.live)) {}

CommandLoad::~CommandLoad() { stop(); }

Status CommandLoad::start(double startS) {
  m_startS = startS;
  prctl(PR_SET_CHILD_SUBREAPER, 1);
  return spawn();
}

Status CommandLoad::spawn() {
  int output[2];
  if (pipe2(output, O_CLOEXEC) != 0) return Error::io("make a pipe for", m_options.command, errno);
  std::vector<std::string> arguments = {"/bin/sh", "-c", m_options.command};
  std::vector<std::string> environment = environmentWith(m_options.environment);
  const auto argv = pointersTo(arguments), envp = pointersTo(environment);
  // A load that leads a group already shares it with its command: its recorder ends the group as a whole.
  const bool leads = getpgrp() == getpid();
  const pid_t parent = getpid();
  const pid_t pid = fork();
  if (pid < 0) {
    const int error = errno;
    close(output[0]);
    close(output[1]);
    return Error::io("start", m_options.command, error);
  }
  if (pid == 0) {
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    if (getppid() != parent) _exit(127);
    if (!leads) setpgid(0, 0);
    sigset_t none;
    sigemptyset(&none);
    sigprocmask(SIG_SETMASK, &none, nullptr);
    const int nothing = open("/dev/null", O_RDONLY);
    dup2(nothing, 0);
    dup2(output[1], 1);
    dup2(output[1], 2);
    if (!m_options.folder.empty() && chdir(m_options.folder.c_str()) != 0) _exit(126);
    execve(argv[0], argv.data(), envp.data());
    _exit(127);
  }
  close(output[1]);
  fcntl(output[0], F_SETFL, O_NONBLOCK);
  m_pipe = output[0];
  m_pid = pid;
  m_runBeganS = monotonicS() - m_startS;
  m_scores.clear();
  m_buffer.clear();
  return {};
}

void CommandLoad::readOutput() {
  std::array<char, 65536> chunk;
  size_t taken = 0;
  while (m_pipe >= 0 && taken < kReadAtMost) {
    const ssize_t length = read(m_pipe, chunk.data(), chunk.size());
    if (length <= 0) break;
    taken += static_cast<size_t>(length);
    m_buffer.append(chunk.data(), static_cast<size_t>(length));
    // Progress that rewrites its line counts as lines, too.
    for (size_t end = m_buffer.find_first_of("\n\r"); end != std::string::npos; end = m_buffer.find_first_of("\n\r")) {
      takeLine(m_buffer.substr(0, std::min(end, kLongestLine)));
      m_buffer.erase(0, end + 1);
    }
    if (m_buffer.size() > kLongestLine) m_buffer.resize(kLongestLine);
  }
}

void CommandLoad::takeLine(const std::string& line) {
  if (trimmed(line).empty()) return;
  m_lastLine = line;
  match(m_scorePatterns, line, m_scores);
  match(m_livePatterns, line, m_live);
}

void CommandLoad::poll() {
  if (m_pid <= 0) return;
  readOutput();
  int status = 0;
  if (waitpid(m_pid, &status, WNOHANG) == m_pid) endRun(status);
  // Orphans that were handed to this process and have ended.
  while (m_pid <= 0 && waitpid(-1, nullptr, WNOHANG) > 0) {
  }
}

void CommandLoad::endRun(int status) {
  readOutput();
  if (!m_buffer.empty()) takeLine(std::exchange(m_buffer, {}));
  const double nowS = monotonicS() - m_startS;
  m_pid = 0;
  endDescendants();
  close(std::exchange(m_pipe, -1));
  const bool isExpected = WIFEXITED(status) && WEXITSTATUS(status) == m_options.exitCode;
  if (!isExpected) {
    const std::string how = WIFSIGNALED(status) ? fmt::format("by signal {}", WTERMSIG(status))
                                                : fmt::format("with {}", WEXITSTATUS(status));
    const std::string said = m_lastLine.empty()
                                 ? "it said nothing"
                                 : "its last words: " + asUtf8(withoutControls(m_lastLine.substr(0, kShownOfLine)));
    m_failure = fmt::format("The command ended {} instead of with {}; {}.", how, m_options.exitCode, said);
    return;
  }
  for (const auto& [name, pattern] : m_options.scores) {
    if (m_scores.contains(name)) continue;
    m_failure = fmt::format("The command's output has no \"{}\" (pattern {}).", name, pattern);
    return;
  }
  Pass pass;
  pass.startS = m_runBeganS;
  pass.endS = nowS;
  pass.scores = m_scores;
  // One score is the score; of several the one that is called so, else the first; without any it is the time.
  if (m_scores.contains("score"))
    pass.score = m_scores.at("score");
  else
    pass.score = m_scores.empty() ? nowS - m_runBeganS : m_scores.begin()->second;
  m_passes.push_back(pass);
  ++m_runsDone;
  m_isDone = m_options.repeats > 0 && m_runsDone >= m_options.repeats;
  if (m_isDone) m_doneS = nowS;
  if (m_isDone) return;
  if (Status started = spawn(); !started) m_failure = started.error().message;
}

void CommandLoad::endDescendants() {
  const double startS = monotonicS();
  int signal = SIGTERM;
  for (std::vector<pid_t> left = descendants(); !left.empty(); left = descendants()) {
    for (const pid_t pid : left) kill(pid, signal);
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
    while (waitpid(-1, nullptr, WNOHANG) > 0) {
    }
    if (monotonicS() - startS > kPatienceS) signal = SIGKILL;
    if (monotonicS() - startS > 3 * kPatienceS) return;  // what not even that ends waits in the kernel
  }
}

void CommandLoad::stop() {
  if (m_pid > 0) endDescendants();
  m_pid = 0;
  if (m_pipe >= 0) close(std::exchange(m_pipe, -1));
}

}  // namespace ash
