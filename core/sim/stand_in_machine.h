// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated bench as a tree of kernel-like files that keeps moving, for trying out what serves a real machine.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "model/result.h"
#include "sim/bench.h"
#include "sim/stand_in_files.h"
#include "sim/stand_in_parts.h"

namespace ash::sim {

/// sys/ and proc/ below a folder: hwmon chips, cpufreq policies, /proc/stat, the texts a run's header needs, and the
/// parts of stand_in_parts.h (power zones, thermal zones, throttle counters, battery, graphics). What is written into
/// its knobs (power limit, fan duty and mode, highest clock) is carried out.
class StandInMachine {
 public:
  /// Refuses a folder that holds anything but an older stand-in machine. `speed` = bench seconds in a second: counters
  /// of energy and time grow by the second of whoever reads them, so that their rates are right.
  static Result<std::unique_ptr<StandInMachine>> create(const std::string& folder, BenchSpec spec, uint64_t seed,
                                                        double speed = 1);

  /// Moves the bench to `benchS` under `share` (0..1) of the load `kind` and writes every file anew. An unknown kind
  /// loads the processor as `vector` does.
  Status update(double benchS, const std::string& kind, double share);

  const Bench& bench() const { return m_bench; }

 private:
  struct Gauge {
    size_t sensor;
    double scale;  // stored unit -> kernel integer
    std::unique_ptr<NumberFile> file;
  };
  StandInMachine(const std::string& folder, BenchSpec spec, uint64_t seed);
  Status writeTexts();
  Status addSensor(size_t sensor);
  Status addChip(const std::string& place, const std::string& name, int number);
  /// The folder of the chip at that place, which is made when there is none yet.
  Result<std::string> chipAt(const std::string& place, const std::string& driver);
  Status addCardKnobs();
  Status addGauge(const std::string& file, size_t sensor, double scale);
  Status addClock(size_t sensor);
  Status writeStat();

  FileTree m_tree;
  Bench m_bench;
  std::vector<Gauge> m_gauges;
  std::vector<std::unique_ptr<StandInPart>> m_parts;
  std::unique_ptr<NumberFile> m_wall;  // what a meter at its wall would show, mW
  std::unique_ptr<NumberFile> m_room;  // what a sensor in its room would show, m°C
  std::vector<std::string> m_chips;    // places that have been made
  int m_cpuCount = 1;
  double m_busyTicks = 0;
  double m_idleTicks = 0;
  double m_lastS = 0;
};

/// The power at the wall (W) of a stand-in machine that is kept moving in that folder; nothing when it is none.
std::optional<double> wallPowerOfStandIn(const std::string& folder);
/// The temperature of its room (°C); likewise.
std::optional<double> roomOfStandIn(const std::string& folder);

}  // namespace ash::sim
