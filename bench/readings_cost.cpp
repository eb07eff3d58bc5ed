// SPDX-License-Identifier: GPL-3.0-or-later
// What 200 readings at 100 Hz cost: the sweep and parsing of our sources against a bare loop of pread over the same
// files. Both work in the same way (all files, then a sleep to the next beat) for the same time; CPU time of the
// process.
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/resource.h>
#include <unistd.h>

#include <array>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <thread>

#include "readings/linux_machine.h"

namespace fs = std::filesystem;

namespace {

constexpr int kChips = 20, kChannels = 10;

// A tree of 20 chips with 10 channels each on a file system in memory.
std::string makeTree() {
  std::string pattern = "/dev/shm/ash-readings-XXXXXX";
  const std::string root = mkdtemp(pattern.data());
  fs::create_directories(root + "/sys/class/hwmon");
  constexpr std::array kKinds = {"temp", "fan", "power", "in", "curr"};
  for (int chip = 0; chip < kChips; ++chip) {
    const std::string folder = fmt::format("{}/sys/devices/platform/chip.{}/hwmon/hwmon{}", root, chip, chip);
    fs::create_directories(folder);
    std::ofstream(folder + "/name") << "board\n";
    fs::create_directory_symlink(folder, fmt::format("{}/sys/class/hwmon/hwmon{}", root, chip));
    for (int channel = 1; channel <= kChannels; ++channel) {
      const char* kind = kKinds[static_cast<size_t>(channel) % kKinds.size()];
      std::ofstream(fmt::format("{}/{}{}_input", folder, kind, channel)) << 20000 + 10 * channel << '\n';
    }
  }
  return root;
}

double cpuS() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  const auto seconds = [](const timeval& t) {
    return static_cast<double>(t.tv_sec) + static_cast<double>(t.tv_usec) * 1e-6;
  };
  return seconds(usage.ru_utime) + seconds(usage.ru_stime);
}

// CPU seconds that `work` takes when it is done 100 times a second for so many beats.
template <typename F>
double costOf(int beats, F work) {
  const double before = cpuS();
  auto due = std::chrono::steady_clock::now();
  for (int i = 0; i < beats; ++i) {
    work();
    due += std::chrono::milliseconds(10);
    std::this_thread::sleep_until(due);
  }
  return cpuS() - before;
}

}  // namespace

int main(int argc, char** argv) {
  const int beats = argc > 1 ? std::atoi(argv[1]) : 500;
  const std::string root = makeTree();
  const ash::LinuxMachine machine = ash::openLinuxMachine(root);
  std::vector<int> files;
  for (const auto& source : machine.sources) {
    for (const ash::Reading& reading : source->info().readings)
      files.push_back(::open((root + "/" + reading.path).c_str(), O_RDONLY | O_CLOEXEC));
  }
  std::array<char, 64> buffer{};
  long long bytes = 0;
  double sum = 0;
  double bare = 0, ours = 0;
  // In turns, so that a machine that changes its pace meanwhile does so for both.
  for (int round = 0; round < 5; ++round) {
    bare += costOf(beats, [&] {
      for (const int file : files) bytes += ::pread(file, buffer.data(), buffer.size(), 0);
    });
    ours += costOf(beats, [&] {
      for (const auto& source : machine.sources) sum += source->sweep().values.front();
    });
  }
  const double beatsOfAll = 5.0 * beats;
  fmt::print("{} readings at 100 Hz, {:.0f} sweeps each\n", files.size(), beatsOfAll);
  fmt::print("bare pread: {:.1f} us a sweep, {:.2f} % of a core\n", 1e6 * bare / beatsOfAll,
             100 * bare / (beatsOfAll / 100));
  fmt::print("our sweep:  {:.1f} us a sweep, {:.2f} % of a core\n", 1e6 * ours / beatsOfAll,
             100 * ours / (beatsOfAll / 100));
  fmt::print("ratio: {:.2f}   (checksums {} and {:g})\n", ours / bare, bytes, sum);
  for (const int file : files) ::close(file);
  std::error_code error;
  fs::remove_all(root, error);
  return ours <= 2 * bare ? 0 : 1;
}
