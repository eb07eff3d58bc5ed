// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_process.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <cmath>
#include <thread>
#include <vector>

#include "load/guardian/guardian.h"
#include "load/load_progress.h"
#include "model/json.h"
#include "model/reading.h"
#include "system/clock.h"
#include "system/spawn.h"

namespace ash {
namespace {

constexpr double kPatienceS = 0.6;
constexpr double kLongestGoodbyeS = 0.9;
constexpr double kMostSilentS = 3;
constexpr int kMostSilentPolls = 20;  // as well: a machine that stood still is no silent load

std::vector<std::string> loadArguments(const std::string& program, const LoadOptions& options) {
  return {program, "load", std::string(options.kind.text()), "--stream", "--spec", jsonText(loadToJson(options))};
}

}  // namespace

LoadProcess::~LoadProcess() {
  stop();
  if (m_orphans) m_orphans->runFor(kGuardianPatienceS);
}

Status LoadProcess::start(const std::string& program, const LoadOptions& options) {
  stop();
  int told[2], beat[2];
  if (pipe2(told, O_CLOEXEC | O_NONBLOCK) != 0) return Error::io("make a pipe to", program, errno);
  // A socket and no pipe: a sign sent to a load that has just ended must raise no signal here.
  if (socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0, beat) != 0) {
    const int error = errno;
    close(told[0]);
    close(told[1]);
    return Error::io("make a pipe to", program, error);
  }
  m_runsCommand = options.kind == LoadKind::Command ||
                  std::any_of(options.also.begin(), options.also.end(),
                              [](const auto& other) { return other.kind == LoadKind::Command; });
  if (m_runsCommand) adoptOrphans();
  const int error =
      spawnInGroup(loadArguments(program, options), {{beat[0], STDIN_FILENO}, {told[1], STDOUT_FILENO}}, m_pid);
  close(told[1]);
  close(beat[0]);
  if (error != 0) {
    close(told[0]);
    close(beat[1]);
    m_pid = 0;
    return Error::io("start the load", program, error);
  }
  m_pipe = told[0];
  m_beat = beat[1];
  m_heardS = monotonicS();
  m_pollsSinceHeard = 0;
  m_buffer.clear();
  m_errorsBefore += m_last.errors;
  m_last = {};
  m_workRate = m_frameRate = m_taskS = m_beganS = kMissing;
  m_isTaskDone = false;
  m_hasFailed = false;
  m_failure.clear();
  m_endedBecause.clear();
  return {};
}

void LoadProcess::stop() {
  if (m_pid > 0) {
    kill(m_pid, SIGTERM);
    const double startS = monotonicS();
    int status = 0;
    while (waitpid(m_pid, &status, WNOHANG) == 0) {
      if (monotonicS() - startS > kPatienceS) {
        // Nothing works on after this. What still holds it up is the kernel, which frees its file or memory: that is
        // not waited for long, since somebody waits for the rules to be watched.
        kill(-m_pid, SIGKILL);
        kill(m_pid, SIGKILL);
        if (monotonicS() - startS > kLongestGoodbyeS) {
          m_lingering.push_back(m_pid);
          break;
        }
      }
      beat();
      std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    endGroup();
  }
  if (m_pipe >= 0) {
    readLines();
    if (m_pipe >= 0) close(m_pipe);
  }
  if (m_beat >= 0) close(m_beat);
  m_pipe = m_beat = -1;
  m_workRate = m_frameRate = 0;
}

// What the load has started belongs to its group and goes with it.
void LoadProcess::endGroup() {
  kill(-m_pid, SIGKILL);
  m_pid = 0;
  if (m_runsCommand) m_orphans.emplace(kGuardianGraceS);
}

void LoadProcess::beat() {
  // A full socket means that the load does not read; it has signs enough.
  if (m_beat >= 0) send(m_beat, "\n", 1, MSG_NOSIGNAL);
}

void LoadProcess::poll() {
  std::erase_if(m_lingering, [](pid_t pid) { return waitpid(pid, nullptr, WNOHANG) != 0; });
  if (m_orphans && m_orphans->step(m_pid)) m_orphans.reset();
  if (m_pid <= 0) return;
  beat();
  readLines();
  int status = 0;
  if (waitpid(m_pid, &status, WNOHANG) == m_pid)
    reap(status);
  else
    watchSilence(monotonicS());
}

void LoadProcess::watchSilence(double nowS) {
  if (++m_pollsSinceHeard < kMostSilentPolls || nowS - m_heardS < kMostSilentS) return;
  stop();
  m_hasFailed = true;
  m_failure = fmt::format("The load stopped working: it told nothing for {:.0f} s and was ended.", kMostSilentS);
}

void LoadProcess::reap(int status) {
  readLines();
  endGroup();
  m_workRate = m_frameRate = 0;
  // It went because its work was done.
  if (m_isTaskDone) return;
  m_hasFailed = true;
  if (!m_endedBecause.empty())
    m_failure = m_endedBecause;
  else
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
  const Json told = parseQuietly(line);
  if (!told.is_object()) return;
  m_heardS = monotonicS();
  m_pollsSinceHeard = 0;
  if (const auto ended = told.find("ended"); ended != told.end() && ended->is_string()) {
    m_endedBecause = ended->get<std::string>();
    return;
  }
  if (const auto done = told.find("done"); done != told.end() && done->is_number()) {
    m_isTaskDone = true;
    m_taskS = done->get<double>();
    return;
  }
  const LoadProgress now = progressFromJson(told);
  takeRates(now);
  m_beganS = now.beganS;
  m_passCount += static_cast<long long>(now.passes.size());
  m_newPasses.insert(m_newPasses.end(), now.passes.begin(), now.passes.end());
  m_wrong.insert(m_wrong.end(), now.wrong.begin(), now.wrong.end());
  m_last = now;
}

void LoadProcess::takeRates(const LoadProgress& now) {
  const double elapsedS = now.seconds - m_last.seconds;
  if (!(elapsedS > 0)) return;
  m_workRate = (now.work - m_last.work) / elapsedS;
  // The first report has no frames to compare with; nothing was drawn before the load began.
  m_frameRate = (now.frames - (m_last.seconds > 0 ? m_last.frames : 0)) / elapsedS;
}

}  // namespace ash
