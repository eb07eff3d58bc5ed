// SPDX-License-Identifier: GPL-3.0-or-later
// Cores, clusters, sockets, zones: what a processor tells, and what is computed from it.
#include <catch2/catch.hpp>
#include <cmath>

#include "model/cpu_list.h"
#include "readings/kernel/cpu_times.h"
#include "readings/kernel/found.h"
#include "readings/kernel/other_load.h"
#include "readings/kernel/processor.h"
#include "readings/kernel/topology.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("listsOfCpusAreReadAndWrittenAsTheKernelDoes") {
  CHECK(parseCpuList("0-3,8\n") == std::vector<int>{0, 1, 2, 3, 8});
  CHECK(parseCpuList("0 2 4") == std::vector<int>{0, 2, 4});
  CHECK(parseCpuList("x,5-,3-1,-2").empty());
  CHECK(cpuListText({5, 0, 1, 2}) == "0-2,5");
  CHECK(cpuListText({}).empty());
}

TEST_CASE("theHottestCoreAndTheMeanAreComputed") {
  FakeRoot root;
  root.chip(0, "platform/coretemp.0", "coretemp");
  const std::pair<const char*, const char*> files[] = {{"temp1_label", "Package id 0\n"}, {"temp1_input", "71000\n"},
                                                       {"temp1_crit", "100000\n"},        {"temp2_label", "Core 0\n"},
                                                       {"temp2_input", "60000\n"},        {"temp6_label", "Core 4\n"},
                                                       {"temp6_input", "72000\n"},        {"temp6_crit", "100000\n"}};
  for (const auto& [name, text] : files) root.attribute(name, text);
  LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.temp").value == 72);
  CHECK(find(machine, "cpu.temp").reading->meaning == "hottest of 2 cores and their package, computed");
  CHECK(find(machine, "cpu.temp").reading->limits.at("throttle") == 100);  // crit is TjMax, where it slows down
  CHECK(find(machine, "cpu.temp").reading->refreshS == 1);                 // the driver keeps a value for a second
  CHECK(find(machine, "cpu.temp.mean").value == 66);
  CHECK(find(machine, "cpu.temp.package").value == 71);
  CHECK(find(machine, "cpu.temp.core4").value == 72);
  // One core off line: the rest goes on.
  root.attribute("temp6_input", "\n");
  CHECK(find(machine, "cpu.temp").value == 71);
  CHECK(find(machine, "cpu.temp.mean").value == 60);
}

TEST_CASE("aDieCountsBeforeAControlValue") {
  FakeRoot root;
  root.chip(0, "pci0000:00/0000:00:18.3", "k10temp");
  root.attribute("temp1_label", "Tctl\n");
  root.attribute("temp1_input", "85000\n");
  SECTION("Tdie") {
    root.attribute("temp2_label", "Tdie\n");
    root.attribute("temp2_input", "65000\n");
    const LinuxMachine machine = openLinuxMachine(root.path());
    CHECK(find(machine, "cpu.temp").value == 65);
    CHECK(find(machine, "cpu.temp.package").value == 85);
  }
  SECTION("several dies: the hottest") {
    for (int die = 3; die < 6; ++die) {
      root.attribute("temp" + std::to_string(die) + "_label", "Tccd" + std::to_string(die - 2) + "\n");
      root.attribute("temp" + std::to_string(die) + "_input", std::to_string(60 + die) + "000\n");
    }
    const LinuxMachine machine = openLinuxMachine(root.path());
    CHECK(find(machine, "cpu.temp").value == 65);
    CHECK(find(machine, "cpu.temp.mean").value == 64);
  }
  SECTION("nothing but the control value") { CHECK(find(openLinuxMachine(root.path()), "cpu.temp").value == 85); }
}

TEST_CASE("coresOfTwoKindsAreTwoClusters") {
  FakeRoot root;
  for (int cpu = 0; cpu < 4; ++cpu) root.cpu(cpu, 0, cpu, "4700000", {{"base_frequency", "2100000"}});
  for (int cpu = 4; cpu < 6; ++cpu) root.cpu(cpu, 0, 8 + cpu, "3500000", {{"base_frequency", "1500000"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.clock.cluster0").value == 4700);
  CHECK(find(machine, "cpu.clock.cluster1").value == 3500);
  CHECK(find(machine, "cpu.clock.core5").value == 3500);
  CHECK(find(machine, "cpu.clock.core5").reading->limits.at("base") == 1500);
  CHECK(find(machine, "cpu.clock").value == Approx((4 * 4700 + 2 * 3500) / 6.0));
}

TEST_CASE("favouredCoresAreNoKindOfTheirOwn") {
  FakeRoot root;
  const char* clocks[] = {"5800000", "5800000", "5500000", "5500000"};
  for (int cpu = 0; cpu < 4; ++cpu) root.cpu(cpu, 0, cpu, clocks[cpu]);
  CHECK(readClusters(root.path()).size() == 1);
  CHECK_FALSE(find(openLinuxMachine(root.path()), "cpu.clock.cluster0").reading);
}

TEST_CASE("aPolicyThatSpansAClusterIsItsClock") {
  FakeRoot root;
  const std::string cpus = "sys/devices/system/cpu/";
  for (int cpu = 0; cpu < 6; ++cpu)
    root.files(cpus + "cpu" + std::to_string(cpu),
               {{"cpu_capacity", cpu < 4 ? "430" : "1024"}, {"topology/physical_package_id", "-1"}});
  root.files(cpus + "cpufreq/policy0", {{"scaling_cur_freq", "1416000"}, {"affected_cpus", "0 1 2 3"}});
  root.files(cpus + "cpufreq/policy4", {{"scaling_cur_freq", "1800000"}, {"affected_cpus", "4 5"}});
  root.files(cpus + "cpufreq/policy9", {{"scaling_cur_freq", "<unknown>"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.clock.cluster0").value == 1416);
  CHECK(find(machine, "cpu.clock.cluster0").reading->name == "CPU 0-3");
  CHECK(find(machine, "cpu.clock.cluster1").value == 1800);
  CHECK(whySkipped(machine, "policy9/scaling_cur_freq") == "holds no number");
}

TEST_CASE("twoSocketsWithManyCpusAreReadWhole") {
  FakeRoot root;
  std::string stat = "cpu  9600 0 0 9600 0 0 0 0\n";
  for (int cpu = 0; cpu < 96; ++cpu) {
    root.cpu(cpu, cpu / 48, cpu % 48, cpu < 48 ? "3000000" : "2800000");
    stat += "cpu" + std::to_string(cpu) + " 100 0 0 100 0 0 0 0\n";
    root.files("sys/devices/system/cpu/cpu" + std::to_string(cpu) + "/thermal_throttle",
               {{"core_throttle_count", "3"},
                {"package_throttle_count", cpu < 48 ? "7" : "9"},
                {"core_throttle_total_time_ms", "1500"}});
  }
  root.write("proc/stat", stat);
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.clock.core95").value == 2800);
  CHECK(find(machine, "cpu.clock.cluster1").value == 2800);
  CHECK(find(machine, "proc/stat#cpu95").reading);
  CHECK(find(machine, "throttle:package0:count").value == 7);
  CHECK(find(machine, "throttle:package1:count").value == 9);
  int counts = 0;
  for (const auto& source : machine.sources) {
    for (const Reading& reading : source->info().readings) counts += reading.kind == "count" ? 1 : 0;
  }
  CHECK(counts == 96 + 2);
  CHECK(find(machine, "throttle:package1.0.core47:duration").value == Approx(1.5));
}

TEST_CASE("siblingsShareTheCountersOfTheirCore") {
  FakeRoot root;
  for (int cpu = 0; cpu < 4; ++cpu) {
    root.cpu(cpu, 0, cpu / 2, "4000000");
    root.files("sys/devices/system/cpu/cpu" + std::to_string(cpu) + "/thermal_throttle",
               {{"core_throttle_count", cpu < 2 ? "5" : "6"}, {"package_throttle_count", "8"}});
  }
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "sys/devices/system/cpu/cpu0/thermal_throttle/core_throttle_count").value == 5);
  CHECK(find(machine, "sys/devices/system/cpu/cpu2/thermal_throttle/core_throttle_count").value == 6);
  CHECK_FALSE(find(machine, "sys/devices/system/cpu/cpu1/thermal_throttle/core_throttle_count").reading);
  CHECK_FALSE(find(machine, "sys/devices/system/cpu/cpu2/thermal_throttle/package_throttle_count").reading);
}

TEST_CASE("aBoardWithZonesOnlyHasAProcessorTemperature") {
  FakeRoot root;
  root.zone(0, "cpu-thermal", "61000",
            {{"trip_point_0_type", "passive"},
             {"trip_point_0_temp", "80000"},
             {"trip_point_1_type", "critical"},
             {"trip_point_1_temp", "95000"},
             {"trip_point_2_type", "passive"},
             {"trip_point_2_temp", "-274000"},
             {"trip_point_3_type", "hot"},
             {"trip_point_3_temp", "0"}});
  root.zone(1, "gpu-thermal", "58000", {{"trip_point_0_type", "passive"}, {"trip_point_0_temp", "85000"}});
  root.zone(2, "weird zone", "-274000");
  root.zone(3, "radio", "");
  root.files("sys/class/thermal/cooling_device0", {{"type", "cpufreq-cpu0"}, {"cur_state", "2"}, {"max_state", "8"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  const FoundReading cpu = find(machine, "cpu.temp");
  CHECK(cpu.value == 61);
  CHECK(cpu.reading->id == "thermal:cpu-thermal#0");
  CHECK(cpu.reading->limits.at("throttle") == 80);
  CHECK(cpu.reading->limits.at("critical") == 95);
  CHECK_FALSE(cpu.reading->limits.contains("hot"));
  CHECK(cpu.reading->origins.at("throttle") == "trip_point_0_temp");
  CHECK(find(machine, "gpu.temp").value == 58);
  CHECK(find(machine, "gpu.temp").reading->limits.at("throttle") == 85);
  CHECK(whySkipped(machine, "thermal_zone2/temp").find("no possible temperature") != std::string::npos);
  CHECK(whySkipped(machine, "thermal_zone3/temp") == "holds no number");
  CHECK(find(machine, "cpufreq-cpu0").value == 2);
  CHECK(find(machine, "cpufreq-cpu0").reading->limits.at("max") == 8);
}

TEST_CASE("theHottestOfSeveralProcessorZonesCounts") {
  FakeRoot root;
  root.zone(0, "cpu0-thermal", "61000");
  root.zone(1, "cpu1-thermal", "64000");
  root.zone(2, "cpu1-thermal", "63000");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.temp").value == 64);
  // Zones of one type are told apart by their place among their equals, not by their number.
  CHECK(find(machine, "thermal:cpu1-thermal#0").value == 64);
  CHECK(find(machine, "thermal:cpu1-thermal#1").value == 63);
}

TEST_CASE("aMirrorOfAZoneIsShownOnce") {
  FakeRoot root;
  root.zone(0, "acpitz", "47000");
  root.files("sys/devices/virtual/thermal/thermal_zone0/hwmon4", {{"name", "acpitz"}, {"temp1_input", "47000"}});
  root.link("sys/class/hwmon/hwmon4", "sys/devices/virtual/thermal/thermal_zone0/hwmon4");
  const LinuxMachine machine = openLinuxMachine(root.path());
  int temperatures = 0;
  for (const auto& source : machine.sources) {
    for (const Reading& reading : source->info().readings) temperatures += reading.kind == "temp" ? 1 : 0;
  }
  CHECK(temperatures == 1);
  CHECK(find(machine, "acpitz").reading->driver == "thermal");
}

TEST_CASE("theClockOfTheLoadedCoresCounts") {
  CHECK(meanLoadedClockMhz({{5000, 100}, {1000, 0}}) == 5000);
  CHECK(meanLoadedClockMhz({{5000, 90}, {4000, 30}, {1000, 19}}) == Approx((5000 * 90 + 4000 * 30) / 120.0));
  CHECK(meanLoadedClockMhz({{5000, kMissing}, {1000, kMissing}}) == 3000);
  CHECK(meanLoadedClockMhz({{kMissing, 100}, {2000, 100}}) == 2000);
  CHECK(std::isnan(meanLoadedClockMhz({})));
}

TEST_CASE("timeOfAProcessIsReadBehindItsName") {
  const auto ticks = parseProcessTicks("17 (a) (b c) S 1 17 17 0 -1 4194560 1 0 0 0 310 42 7 3 20 0 1 0 99 0 0\n");
  REQUIRE(ticks);
  CHECK(ticks->own == 352);
  CHECK(ticks->ofEndedChildren == 10);
  CHECK_FALSE(parseProcessTicks("17 (a"));
  CHECK_FALSE(parseProcessTicks("17 (a) S 1 2 3"));
}

TEST_CASE("ourOwnWorkIsNoOtherLoad") {
  const auto source = makeOtherLoadSource(std::make_shared<std::atomic<int>>(0));
  source->sweep();
  // A core kept busy by this very process for a while.
  const auto startS = std::clock();
  volatile double sum = 0;
  while (std::clock() - startS < CLOCKS_PER_SEC / 2) sum = sum + 1;
  const double percent = source->sweep().values[0];
  // On a machine that does nothing else it is 0; others may be at work here, but never more than all of it.
  CHECK(percent >= 0);
  CHECK(percent <= 100);
  CHECK(source->info().readings[0].role == "cpu.load.other");
}
