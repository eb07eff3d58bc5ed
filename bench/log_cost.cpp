// SPDX-License-Identifier: GPL-3.0-or-later
// log_cost [FILE [ROUNDS]]: CPU time and peak memory of reading and analysing a log, beside a bare parse of the same
// file in the same round, each in a process of its own. Without FILE an unkind day is written first (unkind_log.h).
#include <fmt/format.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>

#include "analysis/analyze.h"
#include "bench/unkind_log.h"
#include "exchange/csv_read.h"

namespace {

using namespace ash;

struct Cost {
  double cpuS = 0, peakMiB = 0;
};

// What any reader must do: the file in pieces, every cell to a double, kept by column.
size_t bareParse(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  std::vector<std::vector<double>> columns;
  std::string line;
  std::getline(file, line);
  columns.resize(static_cast<size_t>(std::count(line.begin(), line.end(), ',')) + 1);
  while (std::getline(file, line)) {
    const char* at = line.data();
    const char* const end = at + line.size();
    for (std::vector<double>& column : columns) {
      double value = kMissing;
      at = std::from_chars(at, end, value).ptr;
      column.push_back(value);
      at += at < end;
    }
  }
  return columns.front().size();
}

// In a child, whose use of the machine is its own.
Cost costOf(const std::function<void()>& work) {
  std::fflush(stdout);
  const pid_t child = fork();
  if (child == 0) {
    work();
    _exit(0);
  }
  int status = 0;
  rusage used{};
  wait4(child, &status, 0, &used);
  if (!WIFEXITED(status) || WEXITSTATUS(status) != 0) std::exit(1);
  const auto seconds = [](const timeval& time) { return double(time.tv_sec) + double(time.tv_usec) / 1e6; };
  return {seconds(used.ru_utime) + seconds(used.ru_stime), static_cast<double>(used.ru_maxrss) / 1024};
}

double medianRatio(std::vector<double> ratios) {
  std::sort(ratios.begin(), ratios.end());
  return ratios[ratios.size() / 2];
}

}  // namespace

int main(int argc, char** argv) {
  const bool isGiven = argc > 1;
  const std::string path = isGiven ? argv[1] : (std::filesystem::temp_directory_path() / "unkind-day.csv").string();
  const int rounds = argc > 2 ? std::atoi(argv[2]) : 5;
  if (!isGiven) UnkindLog().write(path);
  const double fileMiB = static_cast<double>(std::filesystem::file_size(path)) / (1 << 20);
  fmt::print("{}: {:.1f} MiB\n", path, fileMiB);
  std::vector<double> readRatios, wholeRatios;
  for (int round = 0; round < rounds; ++round) {
    const Cost bare = costOf([&] { bareParse(path); });
    const Cost read = costOf([&] {
      if (!readRunFiles(path)) _exit(1);
    });
    const Cost whole = costOf([&] { analyzeRun(*readRunFiles(path)); });
    readRatios.push_back(read.cpuS / bare.cpuS);
    wholeRatios.push_back(whole.cpuS / bare.cpuS);
    fmt::print(
        "bare parse {:.3f} s {:.0f} MiB | read {:.3f} s {:.0f} MiB | with analysis {:.3f} s {:.0f} MiB, {:.2f} of the "
        "file\n",
        bare.cpuS, bare.peakMiB, read.cpuS, read.peakMiB, whole.cpuS, whole.peakMiB, whole.peakMiB / fileMiB);
  }
  fmt::print("median of {} rounds: reading {:.2f}, with analysis {:.2f} of the bare parse\n", rounds,
             medianRatio(readRatios), medianRatio(wholeRatios));
  if (!isGiven) std::filesystem::remove(path);
  return 0;
}
