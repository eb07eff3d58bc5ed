// SPDX-License-Identifier: GPL-3.0-or-later
// instruments_cost [COUNT [SECONDS]]: what COUNT meters (20), asked twice a second, add to a machine that is swept ten
// times a second: CPU time, and how evenly the kernel's sweeps come. Rounds without and with them alternate; the meters
// answer in a process of their own.
#include <fmt/format.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <memory>

#include "machine/machine_sources.h"
#include "sim/stand_in_meter.h"
#include "system/clock.h"

namespace {

using namespace ash;

constexpr double kSweepS = 0.1;
constexpr int kRounds = 3;

/// Meters in a process of their own, told by their ports.
struct Meters {
  explicit Meters(int count) {
    int pipes[2];
    if (pipe(pipes) != 0) std::exit(1);
    process = fork();
    if (process == 0) {
      std::vector<std::unique_ptr<sim::StandInMeter>> meters;
      for (int i = 0; i < count; ++i) {
        auto meter = sim::StandInMeter::start({}, [] { return sim::MeterValues{123.4567, 230.1, 0}; });
        if (!meter) _exit(1);
        const int port = (*meter)->port();
        if (write(pipes[1], &port, sizeof port) != sizeof port) _exit(1);
        meters.push_back(std::move(*meter));
      }
      pause();
      _exit(0);
    }
    ports.resize(static_cast<size_t>(count));
    for (int& port : ports) {
      if (read(pipes[0], &port, sizeof port) != sizeof port) std::exit(1);
    }
  }
  ~Meters() {
    kill(process, SIGKILL);
    waitpid(process, nullptr, 0);
  }
  pid_t process = 0;
  std::vector<int> ports;
};

double cpuSeconds() {
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  const auto seconds = [](const timeval& t) {
    return static_cast<double>(t.tv_sec) + 1e-6 * static_cast<double>(t.tv_usec);
  };
  return seconds(used.ru_utime) + seconds(used.ru_stime);
}

struct Round {
  double cpuShare = 0, jitterMs = 0;
  size_t sweeps = 0, answers = 0, failures = 0;
};

Round measure(std::vector<Instrument> instruments, double seconds) {
  MachineDescription description;
  description.instruments = std::move(instruments);
  MachineSources machine = MachineSources::open(description);
  machine.begin(kSweepS);
  const double endS = bootTimeS() + seconds, cpuBefore = cpuSeconds();
  std::vector<double> times;
  while (bootTimeS() < endS) {
    const auto tick = machine.next(1);
    if (!tick) continue;
    for (const auto& [source, sweep] : tick->sweeps) {
      if (source == 0) times.push_back(sweep.timeS);
    }
  }
  Round round;
  round.cpuShare = (cpuSeconds() - cpuBefore) / seconds;
  std::vector<double> off;
  for (size_t i = 1; i < times.size(); ++i) off.push_back(1000 * std::abs(times[i] - times[i - 1] - kSweepS));
  std::sort(off.begin(), off.end());
  if (!off.empty()) round.jitterMs = off[off.size() * 95 / 100];
  round.sweeps = times.size();
  for (const auto& source : machine.instruments()) {
    round.answers += static_cast<size_t>(source->state().answers);
    round.failures += static_cast<size_t>(source->state().failures);
  }
  return round;
}

void print(const char* what, const Round& round) {
  fmt::print("{:<10} {:5.2f} % of a core, sweeps {:4} apart by {:.2f} ms (95th percentile), {} answers, {} failures\n",
             what, 100 * round.cpuShare, round.sweeps, round.jitterMs, round.answers, round.failures);
}

}  // namespace

int main(int argc, char** argv) {
  const int count = argc > 1 ? std::atoi(argv[1]) : 20;
  const double seconds = argc > 2 ? std::atof(argv[2]) : 30;
  const Meters meters(count);
  std::vector<Instrument> instruments;
  for (int i = 0; i < count; ++i) {
    Instrument one;
    one.name = fmt::format("meter {}", i);
    one.address = fmt::format("127.0.0.1:{}", meters.ports[static_cast<size_t>(i)]);
    one.intervalS = 0.5;
    one.readings.resize(1);
    one.readings[0].role = "wall.power";
    one.readings[0].query = "MEAS:POW?";
    one.readings[0].unit = {Quantity::Power, 1, 0};
    instruments.push_back(one);
  }
  for (int round = 0; round < kRounds; ++round) {
    print("without", measure({}, seconds));
    print("with", measure(instruments, seconds));
  }
}
