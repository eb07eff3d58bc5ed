// SPDX-License-Identifier: GPL-3.0-or-later
// Kernel files of all kinds, good and bad, in a tree of the test's own.
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <thread>

#include "readings/gauges/gauge_source.h"
#include "readings/gauges/sysfs_file.h"
#include "readings/kernel/cpu_times.h"
#include "readings/linux_machine.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;
using FoundOne = FoundReading;

TEST_CASE("kernelNumbersAreReadStrictly") {
  CHECK(parseKernelInteger("42\n") == 42);
  CHECK(parseKernelInteger("  -5000 \n") == -5000);
  CHECK(parseKernelInteger("9223372036854775807") == INT64_MAX);
  for (const char* text : {"", "\n", "abc", "12abc", "1.5", "9223372036854775808", "<unknown>", "0x10", "1 2"}) {
    INFO(text);
    CHECK_FALSE(parseKernelInteger(text));
  }
  CHECK_FALSE(parseKernelInteger(std::string_view("12\0", 3)));
}

TEST_CASE("aProcessorChipIsReadWithLabelsAndLimits") {
  FakeRoot root;
  root.chip(2, "pci0000:00/0000:00:18.3", "k10temp");
  root.attribute("temp1_input", "61125\n");
  root.attribute("temp1_label", "Tctl\n");
  root.attribute("temp1_max", "95000\n");
  root.attribute("temp1_crit", "105000\n");
  root.attribute("temp3_input", "58000\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  const FoundOne cpu = find(machine, "cpu.temp");
  REQUIRE(cpu.reading);
  CHECK(cpu.value == Approx(61.125));
  CHECK(cpu.reading->limits.at("throttle") == 95);
  CHECK(cpu.reading->limits.at("critical") == 105);
  CHECK(cpu.reading->path == "sys/devices/pci0000:00/0000:00:18.3/hwmon/hwmon2/temp1_input");
  CHECK(cpu.reading->id == "sys/devices/pci0000:00/0000:00:18.3/hwmon/hwmon*/temp1_input");
  CHECK(find(machine, "temp3").value == Approx(58));
}

TEST_CASE("whatCannotBeTrustedIsSkippedWithItsReason") {
  FakeRoot root;
  root.chip(0, "platform/board.0", "board");
  const std::pair<const char*, const char*> files[] = {
      {"temp1_input", "34000\n"},  {"temp2_input", "45000\n"}, {"temp2_fault", "1\n"},
      {"temp3_input", "45000\n"},  {"temp3_enable", "0\n"},    {"temp4_input", "-62000\n"},
      {"temp5_input", "0\n"},      {"temp6_input", "\n"},      {"temp7_input", "warm\n"},
      {"temp8_input", "127000\n"}, {"temp9_max", "90000\n"},   {"fan1_input", "0\n"},
      {"pwm1", "128\n"},           {"pwm1_enable", "0\n"},     {"temp1_crit", "-273150\n"},
      {"temp1_max", "65261850\n"}};
  for (const auto& [name, text] : files) root.attribute(name, text);
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(whySkipped(machine, "temp2_input") == "fault flag set");
  CHECK(whySkipped(machine, "temp3_input") == "disabled");
  CHECK(whySkipped(machine, "temp4_input").find("no possible temperature") != std::string::npos);
  CHECK(whySkipped(machine, "temp5_input").find("nothing is connected") != std::string::npos);
  CHECK(whySkipped(machine, "temp6_input") == "holds no number");
  CHECK(whySkipped(machine, "temp7_input") == "holds no number");
  CHECK(whySkipped(machine, "temp8_input").find("end of the converter") != std::string::npos);
  CHECK(find(machine, "temp1").value == 34);
  CHECK(find(machine, "temp1").reading->limits.empty());
  // A limit without a measurement is no reading; a standing fan is one.
  CHECK_FALSE(find(machine, "temp9").reading);
  CHECK(find(machine, "fan.board1").value == 0);
  CHECK(find(machine, "pwm1").value == Approx(128 / 2.55));
}

TEST_CASE("manualFanControlOfAGraphicsCardIsNotOff") {
  FakeRoot root;
  root.chip(1, "pci0000:00/0000:01:00.0", "amdgpu");
  root.attribute("fan1_input", "1243\n");
  root.attribute("fan1_enable", "0\n");
  root.attribute("temp1_input", "58000\n");
  root.attribute("temp1_label", "edge\n");
  root.attribute("temp1_crit", "100000\n");
  root.attribute("temp1_emergency", "105000\n");
  root.attribute("power1_average", "187000000\n");
  root.attribute("freq1_input", "2478000000\n");
  root.attribute("freq1_label", "sclk\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "fan.gpu").value == 1243);
  CHECK(find(machine, "gpu.power").value == 187);
  CHECK(find(machine, "gpu.clock").value == 2478);
  // The card slows down at crit; what endangers it is emergency.
  CHECK(find(machine, "gpu.temp").reading->limits.at("throttle") == 100);
  CHECK(find(machine, "gpu.temp").reading->limits.at("emergency") == 105);
  CHECK(find(machine, "gpu.temp").reading->origins.at("throttle") == "temp1_crit");
}

TEST_CASE("twoDevicesOfAKindAreNumberedAndKeepTheirNumberTogether") {
  FakeRoot root;
  for (int i = 0; i < 2; ++i) {
    root.chip(i, "pci0000:00/0000:0" + std::to_string(i + 1) + ":00.0", "amdgpu");
    root.attribute("temp1_input", "5" + std::to_string(i) + "000\n");
    root.attribute("temp1_label", "edge\n");
    root.attribute("temp2_input", "6" + std::to_string(i) + "000\n");
    root.attribute("temp2_label", "junction\n");
  }
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "gpu.temp").value == 50);
  CHECK(find(machine, "gpu2.temp").value == 51);
  CHECK(find(machine, "gpu2.temp.hotspot").value == 61);
}

TEST_CASE("aValueThatGoesAndComesBackIsAGapInBetween") {
  FakeRoot root;
  root.chip(0, "platform/cpu.0", "k10temp");
  root.attribute("temp1_input", "50000\n");
  root.attribute("temp1_label", "Tctl\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.temp").value == 50);
  root.attribute("temp1_input", "\n");
  CHECK(std::isnan(find(machine, "cpu.temp").value));
  root.attribute("temp1_input", "51000\n");
  CHECK(find(machine, "cpu.temp").value == 51);
}

TEST_CASE("aChipThatComesBackUnderAnotherNumberIsTheSameChip") {
  const TempFolder root;
  const std::string place = "sys/devices/pci0000:00/0000:00:18.3/hwmon/";
  root.write(place + "other/temp1_input", "99000\n");
  const std::string gone = root.path(place + "hwmon2");  // as after its module was unloaded
  GaugeSource source("chip");
  source.add(Reading(), std::make_unique<FileGauge>(gone + "/temp1_input", Quantity::Temperature, 1e3));
  source.setHome(gone, "temp1_input");
  CHECK(std::isnan(source.sweep().values[0]));
  CHECK(source.isGone());
  root.write(place + "hwmon7/temp1_input", "61000\n");
  double value = kMissing;
  for (int i = 0; i < 100 && std::isnan(value); ++i) {
    std::this_thread::sleep_for(std::chrono::milliseconds(30));
    value = source.sweep().values[0];
  }
  CHECK(value == 61);
  CHECK_FALSE(source.isGone());
}

TEST_CASE("clocksAndLoadsOfTheProcessor") {
  FakeRoot root;
  for (int cpu = 0; cpu < 2; ++cpu) {
    const std::string policy = "sys/devices/system/cpu/cpufreq/policy" + std::to_string(cpu);
    root.write(policy + "/scaling_cur_freq", cpu == 0 ? "4500000\n" : "1200000\n");
    root.write(policy + "/cpuinfo_max_freq", "5100000\n");
    root.write(policy + "/affected_cpus", std::to_string(cpu) + "\n");
  }
  root.write("proc/stat",
             "cpu  100 0 100 800 0 0 0 0 0 0\ncpu0 50 0 50 400 0 0 0 0 0 0\ncpu1 50 0 50 400 0 0 0 0 0 0\nintr 1\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  REQUIRE(machine.sources.size() == 1);
  const auto& info = machine.sources[0]->info();
  REQUIRE(info.readings.size() == 6);
  CHECK(info.readings[0].role == "cpu.clock.core0");
  CHECK(info.readings[0].limits.at("max") == 5100);
  CHECK(info.readings[2].role == "cpu.clock");
  CHECK(info.readings[3].role == "cpu.load");
  // The first sweep has nothing to compare loads with; the clock is the plain mean.
  Sweep sweep = machine.sources[0]->sweep();
  CHECK(std::isnan(sweep.values[3]));
  CHECK(sweep.values[2] == Approx(2850));
  // CPU 0 was busy for 100 of 100 ticks, CPU 1 for none: the clock of the loaded core counts.
  root.write("proc/stat",
             "cpu  200 0 100 900 0 0 0 0 0 0\ncpu0 150 0 50 400 0 0 0 0 0 0\ncpu1 50 0 50 500 0 0 0 0 0 0\nintr 1\n");
  sweep = machine.sources[0]->sweep();
  CHECK(sweep.values[3] == Approx(50));
  CHECK(sweep.values[4] == Approx(100));
  CHECK(sweep.values[5] == Approx(0));
  CHECK(sweep.values[2] == Approx(4500));
}

TEST_CASE("guestTimeIsNotCountedTwiceAndIowaitIsIdle") {
  const auto ticks = parseCpuTicks("cpu  10 20 30 40 50 6 7 8 9 9\nnotcpu 1\n");
  REQUIRE(ticks.size() == 1);
  CHECK(ticks[0].total == 10 + 20 + 30 + 40 + 50 + 6 + 7 + 8);
  CHECK(ticks[0].busy == 10 + 20 + 30 + 6 + 7 + 8);
}

TEST_CASE("anEmptyMachineSaysWhatIsMissing") {
  const TempFolder empty;
  const LinuxMachine machine = openLinuxMachine(empty.path());
  CHECK(machine.sources.empty());
  REQUIRE_FALSE(machine.missing.empty());
  CHECK(machine.missing[0] == "No temperature: the kernel has no /sys/class/hwmon here, as in most virtual machines.");
}

TEST_CASE("strangeTreesAreSurvived") {
  FakeRoot root;
  root.chip(0, "platform/x.0", std::string("\x01\xFF bad \x02", 8));
  root.attribute("temp1_label", "\xC3\x28 broken\n");
  root.attribute("temp1_input", "40000\n");
  std::filesystem::create_directories(root.chipPath("temp2_input"));
  std::filesystem::create_symlink("/no/such/file", root.chipPath("temp3_input"));
  root.attribute("temp99999999999_input", "1\n");
  root.attribute("temp-1_input", "1\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "temp1").value == 40);  // a label that is no UTF-8 is none
  CHECK(whySkipped(machine, "temp2_input").find("cannot be read") == 0);
}
