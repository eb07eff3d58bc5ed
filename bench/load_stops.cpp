// SPDX-License-Identifier: GPL-3.0-or-later
// How fast loads stop: each kind started and stopped many times, the time from SIGTERM until the process and all it
// started are gone. Then how steady each is. Usage: load_stops ASHG [STOPS [STEADY_SECONDS]]
#include <fmt/format.h>
#include <signal.h>
#include <spawn.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <random>
#include <thread>
#include <vector>

#include "model/json.h"
#include "system/clock.h"

extern char** environ;

using namespace ash;

namespace {

struct Kind {
  const char* name;
  std::vector<std::string> options;
};

const std::vector<Kind> kKinds = {
    {"vector", {}},   {"integer", {}},
    {"cache", {}},    {"memory", {}},
    {"mixed", {}},    {"storage", {"--folder", "/tmp"}},
    {"graphics", {}}, {"command", {"--command", "sleep 100 & setsid sleep 100 & while :; do :; done"}}};

pid_t start(const std::string& program, const Kind& kind, std::vector<std::string> more, int output) {
  std::vector<std::string> words = {program, "load", kind.name};
  words.insert(words.end(), kind.options.begin(), kind.options.end());
  words.insert(words.end(), more.begin(), more.end());
  std::vector<char*> raw;
  for (std::string& word : words) raw.push_back(word.data());
  raw.push_back(nullptr);
  posix_spawn_file_actions_t files;
  posix_spawn_file_actions_init(&files);
  if (output >= 0) posix_spawn_file_actions_adddup2(&files, output, 1);
  if (output < 0) posix_spawn_file_actions_addopen(&files, 1, "/dev/null", 1, 0);
  pid_t pid = 0;
  if (posix_spawn(&pid, program.c_str(), &files, nullptr, raw.data(), environ) != 0) std::exit(1);
  posix_spawn_file_actions_destroy(&files);
  return pid;
}

void sleepS(double seconds) { std::this_thread::sleep_for(std::chrono::duration<double>(seconds)); }

// Until neither it nor anything it left behind (this process adopts orphans) is there.
double stopS(pid_t pid) {
  const double startS = monotonicS();
  kill(pid, SIGTERM);
  bool isGone = false;
  while (monotonicS() - startS < 5) {
    const pid_t ended = waitpid(-1, nullptr, WNOHANG);
    isGone |= ended == pid;
    if (ended < 0 && errno == ECHILD) return monotonicS() - startS;
    if (ended == 0) sleepS(0.001);
  }
  return isGone ? 99 : 999;
}

void steadiness(const std::string& program, const Kind& kind, int seconds) {
  int pipes[2];
  if (pipe(pipes) != 0) return;
  const pid_t pid = start(program, kind, {"--seconds", std::to_string(seconds), "--json"}, pipes[1]);
  close(pipes[1]);
  std::string text;
  std::array<char, 65536> chunk;
  for (ssize_t n = 0; (n = read(pipes[0], chunk.data(), chunk.size())) > 0;) text.append(chunk.data(), size_t(n));
  close(pipes[0]);
  waitpid(pid, nullptr, 0);
  const Json report = parseQuietly(text);
  std::vector<double> rates;
  if (report.is_object()) rates = report.value("per_second", rates);
  if (rates.size() < 3) return;
  double mean = 0, squares = 0;
  for (const double rate : rates) mean += rate / double(rates.size());
  for (const double rate : rates) squares += (rate - mean) * (rate - mean) / double(rates.size() - 1);
  fmt::print("  steady: {:.4g} {}, relative sd {:.2f} % over {} s\n", mean, valueIn(report, "unit", ""),
             100 * std::sqrt(squares) / mean, rates.size());
}

}  // namespace

int main(int count, char** arguments) {
  if (count < 2) return 2;
  const std::string program = arguments[1];
  const int stops = count > 2 ? std::atoi(arguments[2]) : 100, seconds = count > 3 ? std::atoi(arguments[3]) : 0;
  prctl(PR_SET_CHILD_SUBREAPER, 1);
  std::mt19937 random(7);
  for (const Kind& kind : kKinds) {
    std::vector<double> times;
    for (int i = 0; i < stops; ++i) {
      const pid_t pid = start(program, kind, {}, -1);
      sleepS(std::uniform_real_distribution<double>(0.1, 0.6)(random));
      times.push_back(stopS(pid));
    }
    std::sort(times.begin(), times.end());
    if (!times.empty())
      fmt::print("{:8} {} stops: median {:.3f} s, most {:.3f} s\n", kind.name, times.size(), times[times.size() / 2],
                 times.back());
    if (seconds > 0 && std::string(kind.name) != "command") steadiness(program, kind, seconds);
    std::fflush(stdout);
  }
}
