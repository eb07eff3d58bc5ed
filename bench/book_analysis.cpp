// SPDX-License-Identifier: GPL-3.0-or-later
// CPU time to read a long run from a book and work its figures out: book_analysis FOLDER [READINGS] [HZ] [SECONDS].
// A quarter of the readings are temperatures.
#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <ctime>
#include <filesystem>
#include <random>

#include "analysis/analyze.h"
#include "book/run_writer.h"
#include "model/role.h"

using namespace ash;

namespace {

double cpuS() { return static_cast<double>(std::clock()) / CLOCKS_PER_SEC; }

SourceInfo sourceWith(int readings) {
  SourceInfo source;
  source.id = "made";
  for (int i = 0; i < readings; ++i) {
    Reading reading;
    reading.id = fmt::format("r{}", i);
    reading.role = Role(i == 0 ? "cpu.temp" : i == 1 ? "cpu.power" : i == 2 ? "room.temp" : "");
    reading.quantity = i % 4 == 0 ? Quantity::Temperature : i % 4 == 1 ? Quantity::Power : Quantity::Clock;
    if (const Quantity own = reading.role.quantity(); own != Quantity::Other) reading.quantity = own;
    reading.unit = unitOf(reading.quantity);
    source.readings.push_back(reading);
  }
  return source;
}

}  // namespace

int main(int count, char** arguments) {
  if (count < 2) return 2;
  const std::string path = std::string(arguments[1]) + "/analysis.ashbook";
  const int readings = count > 2 ? std::atoi(arguments[2]) : 200;
  const double hz = count > 3 ? std::atof(arguments[3]) : 10;
  const double seconds = count > 4 ? std::atof(arguments[4]) : 3600;
  for (const char* ending : {"", "-wal", "-shm"}) std::filesystem::remove(path + ending);
  RunInfo info;
  info.study = info.setup = info.load = "x";
  info.intervalS = 1 / hz;
  if (!Book::create(path)->ensurePlace("x", {"x"}, {"x"})) return 1;
  auto writer = RunWriter::begin(path, info, {sourceWith(readings)});
  if (!writer) return 1;
  std::mt19937 random(1);
  std::normal_distribution<double> normal;
  std::vector<double> values(static_cast<size_t>(readings));
  for (double tick = 0; tick < hz * seconds; ++tick) {
    const double t = tick / hz;
    for (size_t i = 0; i < values.size(); ++i) {
      const double warm = t < 300 ? 8 : 8 + 45 * (1 - std::exp(-(t - 300) / 240));
      const double noise = normal(random);
      values[i] = i == 2       ? 22
                  : i % 4 == 0 ? std::round((22 + warm + 0.2 * noise) * 10) / 10
                  : i % 4 == 1 ? (t < 300 ? 11 : 80) + noise
                               : std::round(4000 + 20 * noise);
    }
    writer->addSweep(0, t, values);
    if (std::fmod(tick, 600) == 0 && !writer->commit()) return 1;
  }
  if (!writer->finish(Outcome::Completed, "")) return 1;
  const std::string id = Book::open(path, BookAccess::ReadOnly)->runs()->front().info.id;
  for (int round = 0; round < 3; ++round) {
    double startS = cpuS();
    const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(id);
    const double readS = cpuS() - startS;
    if (!run) return 1;
    startS = cpuS();
    const Figures figures = analyzeRun(*run);
    fmt::print("{} readings, {} samples: read {:.3f} s, analysed {:.3f} s of CPU; settled {}\n", readings,
               figures.samples, readS, cpuS() - startS, figures.channel("cpu.temp")->settled->isSettled);
  }
  for (const char* ending : {"", "-wal", "-shm"}) std::filesystem::remove(path + ending);
}
