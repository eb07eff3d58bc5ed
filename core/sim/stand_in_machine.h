// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated bench as a tree of kernel-like files that keeps moving, for trying out what serves a real machine.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/result.h"
#include "sim/bench.h"

namespace ash::sim {

/// A number in a file: held open, always written in one piece and with the same width, so that a reader never sees
/// half.
class NumberFile {
 public:
  /// Makes the file and the folders above it.
  static Result<std::unique_ptr<NumberFile>> create(const std::string& path);
  ~NumberFile();
  NumberFile(const NumberFile&) = delete;
  NumberFile& operator=(const NumberFile&) = delete;
  Status write(long long value);

 private:
  NumberFile(std::string path, int descriptor) : m_path(std::move(path)), m_descriptor(descriptor) {}
  std::string m_path;
  int m_descriptor;
};

/// sys/ and proc/ below a folder: hwmon chips, cpufreq policies, /proc/stat and the few texts a run's header needs.
class StandInMachine {
 public:
  /// Refuses a folder that holds anything but an older stand-in machine.
  static Result<std::unique_ptr<StandInMachine>> create(const std::string& folder, BenchSpec spec, uint64_t seed);

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
  StandInMachine(std::string folder, BenchSpec spec, uint64_t seed);
  Status writeTexts();
  Status addSensor(size_t sensor);
  Status addChip(const std::string& place, const std::string& name, int number);
  Status writeText(const std::string& file, const std::string& text);
  Status addGauge(const std::string& file, size_t sensor, double scale);
  Status addClock(size_t sensor);
  Status writeStat();

  std::string m_folder;
  Bench m_bench;
  std::vector<Gauge> m_gauges;
  std::vector<std::string> m_chips;  // places that have been made
  int m_cpuCount = 1;
  double m_busyTicks = 0;
  double m_idleTicks = 0;
  double m_lastS = 0;
};

}  // namespace ash::sim
